import { type Cell, cellText, columnLetters, coveredPlaces, type Fragment, parseFragment, printFragment } from 'drawer';
import type { Excerpt, SheetLines } from 'drawer/formats';
import { make } from './element.ts';
import type { Say } from './words/index.ts';

interface Corner {
  readonly row: number;
  readonly column: number;
}

type CellsFragment = Extract<Fragment, { kind: 'cells' }>;

/** Cells that were kept, and the number of the snippet. */
export interface KeptCells {
  readonly fragment: CellsFragment;
  readonly position: number;
}

/** How many rows are read and laid out at once. */
const portion = 100;
const rowHeight = 30;
/** How many portions with nothing to go to are passed over at once. */
const mostPassed = 20;

/**
 * One sheet as a grid under the letters of its columns: drag, or go with the arrows and hold Shift, to mark a range of cells.
 * Only the rows in sight are read and laid out, however long the sheet is.
 */
export class SheetView {
  readonly element: HTMLElement;
  readonly #fragment: CellsFragment;
  /** The sheet's numbers of the first row and column in use. */
  readonly #top: number;
  readonly #left: number;
  readonly #rows: number;
  readonly #columns: number;
  readonly #heads = make('thead', { role: 'rowgroup' });
  #shownColumns: readonly number[] = [];
  readonly #read: (place: string) => Promise<Excerpt>;
  readonly #onMark: (view: SheetView) => void;
  readonly #portions: HTMLElement[] = [];
  readonly #watcher: IntersectionObserver;
  #isMarked = false;
  #kept: readonly KeptCells[] = [];
  #say: Say | undefined;
  #start: Corner = { row: 0, column: 0 };
  #end: Corner = { row: 0, column: 0 };

  /** A used range by its place (`Lines!A1:D90000`), and how to read a part of it. */
  constructor(
    place: string,
    label: string,
    read: (place: string) => Promise<Excerpt>,
    onMark: (view: SheetView) => void,
  ) {
    this.#fragment = parseFragment(place) as CellsFragment;
    const { rows, columns } = this.#fragment;
    this.#top = rows?.from ?? 1;
    this.#left = columns?.from ?? 1;
    this.#rows = rows ? rows.to - rows.from + 1 : 0;
    this.#columns = columns ? columns.to - columns.from + 1 : 0;
    this.#read = read;
    this.#onMark = onMark;
    this.element = make('table', {
      role: 'grid',
      'aria-multiselectable': 'true',
      'aria-label': label,
      'aria-rowcount': String(this.#rows + 1),
      'aria-colcount': String(this.#columns + 1),
      class: 'grid',
    });
    this.element.append(this.#heads);
    this.#watcher = new IntersectionObserver((seen) => this.#onSeen(seen), { rootMargin: '400px' });
    for (let first = 0; first < this.#rows; first += portion) {
      const body = make('tbody', { role: 'rowgroup', 'data-first': String(first) });
      this.#portions.push(body);
      this.#empty(body);
      this.#watcher.observe(body);
      this.element.append(body);
    }
    this.element.addEventListener('pointerdown', (event) => this.#onPoint(event, true));
    this.element.addEventListener('pointerover', (event) => event.buttons === 1 && this.#onPoint(event, false));
    this.element.addEventListener('keydown', (event) => this.#onKey(event));
  }

  /** Lays out the first rows. */
  ready(): Promise<void> {
    const [first] = this.#portions;
    return first ? this.#fill(first) : Promise.resolve();
  }

  /** The marked range, as a place of the file. */
  get place(): string {
    const { top, bottom, left, right } = this.#bounds();
    return this.#placeOf(top, bottom, left, right);
  }

  /** The sheet's name; absent where the file has but one place of cells. */
  get sheet(): string | undefined {
    return this.#fragment.sheet;
  }

  /** Its used range as a place of the file. */
  get whole(): string {
    return this.#placeOf(0, this.#rows - 1, 0, this.#columns - 1);
  }

  /** Brings a cell into sight and marks it, by its numbers in the sheet; the keyboard stays where it is. */
  reveal(row: number, column: number): Promise<void> {
    return this.#mark({ row: row - this.#top, column: column - this.#left }, false, false);
  }

  /** Marks beside the rows what was kept of them. */
  showKept(kept: readonly KeptCells[], say: Say): void {
    this.#kept = kept;
    this.#say = say;
    this.#paintKept();
  }

  /** The letters of the columns that are not hidden, which the first rows tell. */
  #layHeads({ hiddenColumns }: SheetLines): void {
    if (this.#heads.childElementCount > 0) return;
    const isHidden = (column: number): boolean => hiddenColumns.some((span) => isWithin(column + this.#left, span));
    this.#shownColumns = Array.from({ length: this.#columns }, (_, column) => column).filter(
      (column) => !isHidden(column),
    );
    const letters = this.#shownColumns.map((column) =>
      make('th', { role: 'columnheader', scope: 'col' }, columnLetters(this.#left + column)),
    );
    const corner = make('td', { role: 'gridcell', class: 'corner' });
    this.#heads.append(make('tr', { role: 'row', 'aria-rowindex': '1' }, corner, ...letters));
  }

  /** A row of what was read: `places` says where in it a column is, by its number in the sheet. */
  #row(
    row: readonly Cell[],
    index: number,
    {
      covered,
      lines,
      places,
    }: {
      readonly covered: ReadonlySet<string>;
      readonly lines: SheetLines;
      readonly places: ReadonlyMap<number, number>;
    },
  ): HTMLElement {
    const number = lines.rows[index] ?? this.#top;
    const cells: HTMLElement[] = [];
    let spanned = -1;
    for (const column of this.#shownColumns) {
      if (column <= spanned) continue;
      // Long blank stretches are not in the content.
      const at = places.get(column + this.#left) ?? -1;
      if (at >= 0 && covered.has(`${index},${at}`)) continue;
      const cell = row[at] ?? { type: 'empty' };
      const made = this.#cell(cell, number - this.#top, column);
      if (cell.columnSpan) {
        spanned = (lines.columns[at + cell.columnSpan - 1] ?? this.#left) - this.#left;
        made.colSpan = this.#shownColumns.filter((each) => each >= column && each <= spanned).length;
      }
      cells.push(made);
    }
    const head = make('th', { role: 'rowheader', scope: 'row', 'data-row': String(number) }, String(number));
    return make('tr', { role: 'row', 'aria-rowindex': String(number - this.#top + 2) }, head, ...cells);
  }

  #placeOf(top: number, bottom: number, left: number, right: number): string {
    return printFragment({
      ...this.#fragment,
      rows: { from: this.#top + top, to: this.#top + bottom },
      columns: { from: this.#left + left, to: this.#left + right },
    });
  }

  #onSeen(seen: readonly IntersectionObserverEntry[]): void {
    for (const { target, isIntersecting } of seen) {
      const body = target as HTMLElement;
      if (isIntersecting) void this.#fill(body);
      else if (!body.contains(document.activeElement) && body.dataset.first !== '0') this.#empty(body);
    }
  }

  /** Takes its room, and shows nothing. */
  #empty(body: HTMLElement): void {
    const rows = Math.min(portion, this.#rows - Number(body.dataset.first));
    const room = make('td', { 'aria-hidden': 'true', colspan: String(this.#columns + 1), class: 'room' });
    room.style.height = `${rows * rowHeight}px`;
    body.replaceChildren(make('tr', { 'aria-hidden': 'true' }, room));
    body.removeAttribute('data-filled');
  }

  async #fill(body: HTMLElement): Promise<void> {
    if (body.dataset.filled !== undefined) return;
    body.dataset.filled = 'reading';
    const first = Number(body.dataset.first);
    const last = Math.min(first + portion, this.#rows) - 1;
    const { content, lines } = await this.#read(this.#placeOf(first, last, 0, this.#columns - 1));
    if (content.shape !== 'cells' || body.dataset.filled !== 'reading') return;
    if (lines) this.#layHeads(lines);
    const covered = coveredPlaces(content.rows);
    const places = new Map(lines?.columns.map((column, at) => [column, at]));
    const rows = lines ? content.rows.map((row, index) => this.#row(row, index, { covered, lines, places })) : [];
    body.replaceChildren(...rows);
    body.dataset.filled = 'yes';
    this.#paint();
    this.#paintKept();
  }

  #cell(cell: Cell, row: number, column: number): HTMLTableCellElement {
    const isNumber = cell.type === 'number' || cell.type === 'date';
    const made = make(
      'td',
      {
        role: 'gridcell',
        tabindex: row === this.#end.row && column === this.#end.column ? '0' : '-1',
        'aria-selected': 'false',
        'data-at': `${row},${column}`,
        ...(isNumber && { class: 'number' }),
      },
      cellText(cell),
    );
    if (cell.rowSpan) made.rowSpan = cell.rowSpan;
    if (cell.background) made.style.backgroundColor = cell.background;
    if (cell.marks?.bold) made.style.fontWeight = 'bold';
    return made;
  }

  #onPoint(event: PointerEvent, begins: boolean): void {
    const cell = event.target instanceof Element ? event.target.closest('td') : null;
    const [row, column] = (cell?.dataset.at ?? '').split(',').map(Number);
    if (row === undefined || column === undefined || Number.isNaN(row)) return;
    event.preventDefault();
    void this.#mark({ row, column }, !begins || event.shiftKey);
  }

  #onKey(event: KeyboardEvent): void {
    const steps: Record<string, Corner> = {
      ArrowDown: { row: 1, column: 0 },
      ArrowUp: { row: -1, column: 0 },
      ArrowRight: { row: 0, column: 1 },
      ArrowLeft: { row: 0, column: -1 },
      PageDown: { row: 20, column: 0 },
      PageUp: { row: -20, column: 0 },
    };
    const step = event.altKey || event.ctrlKey ? undefined : steps[event.key];
    if (!step) return;
    event.preventDefault();
    void this.#walk(step, event.shiftKey);
  }

  /** Goes on to the next cell that is shown: hidden and merged ones, and long blank stretches, are passed over. */
  async #walk(step: Corner, extend: boolean): Promise<void> {
    const within = (number: number, count: number): number => Math.max(0, Math.min(number, count - 1));
    let [row, column] = [
      within(this.#end.row + step.row, this.#rows),
      within(this.#end.column + step.column, this.#columns),
    ];
    for (let portions = 0; portions < mostPassed; ) {
      const body = this.#portions[Math.floor(row / portion)];
      if (body && body.dataset.filled !== 'yes') {
        await this.#fill(body);
        portions++;
      }
      if (this.#cellAt({ row, column })) return this.#mark({ row, column }, extend);
      row += Math.sign(step.row);
      column += Math.sign(step.column);
      if (row < 0 || column < 0 || row >= this.#rows || column >= this.#columns) return;
    }
  }

  #cellAt({ row, column }: Corner): HTMLElement | null {
    return this.element.querySelector<HTMLElement>(`[data-at="${row},${column}"]`);
  }

  async #mark(corner: Corner, extend: boolean, takesFocus = true): Promise<void> {
    if (takesFocus) document.getSelection()?.removeAllRanges();
    this.#isMarked = true;
    this.#end = corner;
    if (!extend) this.#start = corner;
    const body = this.#portions[Math.floor(corner.row / portion)];
    if (body && body.dataset.filled !== 'yes') await this.#fill(body);
    this.#paint();
    const active = this.#cellAt(corner);
    for (const other of this.element.querySelectorAll<HTMLElement>('[tabindex="0"]')) other.tabIndex = -1;
    if (active) {
      active.tabIndex = 0;
      if (takesFocus) active.focus({ preventScroll: extend });
      else active.scrollIntoView({ block: 'center', inline: 'nearest' });
    }
    this.#onMark(this);
  }

  #paint(): void {
    const { top, bottom, left, right } = this.#bounds();
    for (const cell of this.element.querySelectorAll<HTMLElement>('[data-at]')) {
      const [row = 0, column = 0] = (cell.dataset.at ?? '').split(',').map(Number);
      const isWithin = row >= top && row <= bottom && column >= left && column <= right;
      cell.setAttribute('aria-selected', String(this.#isMarked && isWithin));
    }
  }

  #paintKept(): void {
    for (const head of this.element.querySelectorAll<HTMLElement>('[data-row]')) {
      const row = Number(head.dataset.row);
      const begins = this.#kept.filter(({ fragment }) => (fragment.rows?.from ?? 1) === row);
      const marks = begins.map(({ position }) =>
        make('span', { class: 'kept', title: this.#say?.('kept', { number: position }) ?? '' }, String(position)),
      );
      head.replaceChildren(String(row), ...marks);
    }
    for (const cell of this.element.querySelectorAll<HTMLElement>('[data-at]')) {
      const [row = 0, column = 0] = (cell.dataset.at ?? '').split(',').map(Number);
      const isKept = this.#kept.some(
        ({ fragment: { rows, columns } }) => isWithin(row + this.#top, rows) && isWithin(column + this.#left, columns),
      );
      cell.classList.toggle('kept-cell', isKept);
    }
  }

  #bounds() {
    return {
      top: Math.min(this.#start.row, this.#end.row),
      bottom: Math.max(this.#start.row, this.#end.row),
      left: Math.min(this.#start.column, this.#end.column),
      right: Math.max(this.#start.column, this.#end.column),
    };
  }
}

/** An absent span is all of them. */
const isWithin = (number: number, span: { readonly from: number; readonly to: number } | undefined): boolean =>
  !span || (number >= span.from && number <= span.to);
