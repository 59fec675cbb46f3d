import { type Cell, cellText, coveredPlaces, type Fragment, parseFragment, printFragment } from 'drawer';
import type { Taken } from 'drawer/formats';
import { make } from './element.ts';

interface Corner {
  readonly row: number;
  readonly column: number;
}

/** How many rows are read and laid out at once. */
const portion = 100;
const rowHeight = 30;

/**
 * One sheet as a grid: drag, or go with the arrows and hold Shift, to mark a range of cells. Only the rows in sight are read
 * and laid out, however long the sheet is.
 */
export class SheetView {
  readonly element: HTMLElement;
  readonly #fragment: Extract<Fragment, { kind: 'cells' }>;
  readonly #rows: number;
  readonly #columns: number;
  readonly #read: (place: string) => Promise<Taken>;
  readonly #onMark: (view: SheetView) => void;
  readonly #portions: HTMLElement[] = [];
  readonly #watcher: IntersectionObserver;
  #isMarked = false;
  #start: Corner = { row: 0, column: 0 };
  #end: Corner = { row: 0, column: 0 };

  /** A used range by its place (`Lines!A1:D90000`), and how to read a part of it. */
  constructor(
    place: string,
    label: string,
    read: (place: string) => Promise<Taken>,
    onMark: (view: SheetView) => void,
  ) {
    this.#fragment = parseFragment(place) as Extract<Fragment, { kind: 'cells' }>;
    const { rows, columns } = this.#fragment;
    this.#rows = rows ? rows.to - rows.from + 1 : 0;
    this.#columns = columns ? columns.to - columns.from + 1 : 0;
    this.#read = read;
    this.#onMark = onMark;
    this.element = make('table', {
      role: 'grid',
      'aria-multiselectable': 'true',
      'aria-label': label,
      'aria-rowcount': String(this.#rows),
      'aria-colcount': String(this.#columns),
      class: 'grid',
    });
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

  #placeOf(top: number, bottom: number, left: number, right: number): string {
    const firstRow = this.#fragment.rows?.from ?? 1;
    const firstColumn = this.#fragment.columns?.from ?? 1;
    return printFragment({
      ...this.#fragment,
      rows: { from: firstRow + top, to: firstRow + bottom },
      columns: { from: firstColumn + left, to: firstColumn + right },
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
    const room = make('td', { 'aria-hidden': 'true', colspan: String(Math.max(1, this.#columns)), class: 'room' });
    room.style.height = `${rows * rowHeight}px`;
    body.replaceChildren(make('tr', { 'aria-hidden': 'true' }, room));
    body.removeAttribute('data-filled');
  }

  async #fill(body: HTMLElement): Promise<void> {
    if (body.dataset.filled !== undefined) return;
    body.dataset.filled = 'reading';
    const first = Number(body.dataset.first);
    const last = Math.min(first + portion, this.#rows) - 1;
    const { content } = await this.#read(this.#placeOf(first, last, 0, this.#columns - 1));
    if (content.shape !== 'cells' || body.dataset.filled !== 'reading') return;
    const covered = coveredPlaces(content.rows);
    const rows = content.rows.map((row, index) => {
      const cells = row.flatMap((cell, column) =>
        covered.has(`${index},${column}`) ? [] : [this.#cell(cell, first + index, column)],
      );
      return make('tr', { role: 'row', 'aria-rowindex': String(first + index + 1) }, ...cells);
    });
    body.replaceChildren(...rows);
    body.dataset.filled = 'yes';
    this.#paint();
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
    if (cell.columnSpan) made.colSpan = cell.columnSpan;
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
    const within = (number: number, count: number): number => Math.max(0, Math.min(number, count - 1));
    void this.#mark(
      {
        row: within(this.#end.row + step.row, this.#rows),
        column: within(this.#end.column + step.column, this.#columns),
      },
      event.shiftKey,
    );
  }

  async #mark(corner: Corner, extend: boolean): Promise<void> {
    document.getSelection()?.removeAllRanges();
    this.#isMarked = true;
    this.#end = corner;
    if (!extend) this.#start = corner;
    const body = this.#portions[Math.floor(corner.row / portion)];
    if (body && body.dataset.filled !== 'yes') await this.#fill(body);
    this.#paint();
    const active = this.element.querySelector<HTMLElement>(`[data-at="${corner.row},${corner.column}"]`);
    for (const other of this.element.querySelectorAll<HTMLElement>('[tabindex="0"]')) other.tabIndex = -1;
    if (active) {
      active.tabIndex = 0;
      active.focus({ preventScroll: extend });
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

  #bounds() {
    return {
      top: Math.min(this.#start.row, this.#end.row),
      bottom: Math.max(this.#start.row, this.#end.row),
      left: Math.min(this.#start.column, this.#end.column),
      right: Math.max(this.#start.column, this.#end.column),
    };
  }
}
