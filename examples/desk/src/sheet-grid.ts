import {
  type Cell,
  type CellsContent,
  cellText,
  coveredPlaces,
  type Fragment,
  parseFragment,
  printFragment,
} from 'drawer';
import { make } from './element.ts';

interface Corner {
  readonly row: number;
  readonly column: number;
}

/** Rows beyond these are in the file, and can be taken as a place, but are not laid out. */
const mostRows = 400;

/** One sheet as a grid: drag, or go with the arrows and hold Shift, to mark a range of cells. */
export class SheetGrid {
  readonly element: HTMLTableElement;
  readonly #fragment: Extract<Fragment, { kind: 'cells' }>;
  readonly #cells = new Map<string, HTMLTableCellElement>();
  readonly #rows: number;
  readonly #columns: number;
  readonly #onMark: (grid: SheetGrid) => void;
  #start: Corner = { row: 0, column: 0 };
  #end: Corner = { row: 0, column: 0 };

  constructor(place: string, label: string, content: CellsContent, onMark: (grid: SheetGrid) => void) {
    this.#fragment = parseFragment(place) as Extract<Fragment, { kind: 'cells' }>;
    this.#rows = Math.min(content.rows.length, mostRows);
    this.#columns = content.rows[0]?.length ?? 0;
    this.#onMark = onMark;
    const covered = coveredPlaces(content.rows);
    const rows = content.rows.slice(0, mostRows).map((row, index) => {
      const cells = row.flatMap((cell, column) =>
        covered.has(`${index},${column}`) ? [] : [this.#cell(cell, index, column)],
      );
      return make('tr', { role: 'row' }, ...cells);
    });
    this.element = make(
      'table',
      { role: 'grid', 'aria-multiselectable': 'true', 'aria-label': label, class: 'grid' },
      make('tbody', { role: 'rowgroup' }, ...rows),
    );
    this.#cells.get('0,0')?.setAttribute('tabindex', '0');
    this.element.addEventListener('pointerdown', (event) => this.#onPoint(event, true));
    this.element.addEventListener('pointerover', (event) => event.buttons === 1 && this.#onPoint(event, false));
    this.element.addEventListener('keydown', (event) => this.#onKey(event));
  }

  /** The marked range, as a place of the file. */
  get place(): string {
    const { top, bottom, left, right } = this.#bounds();
    const firstRow = this.#fragment.rows?.from ?? 1;
    const firstColumn = this.#fragment.columns?.from ?? 1;
    return printFragment({
      ...this.#fragment,
      rows: { from: firstRow + top, to: firstRow + bottom },
      columns: { from: firstColumn + left, to: firstColumn + right },
    });
  }

  #cell(cell: Cell, row: number, column: number): HTMLTableCellElement {
    const isNumber = cell.type === 'number' || cell.type === 'date';
    const made = make(
      'td',
      {
        role: 'gridcell',
        tabindex: '-1',
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
    this.#cells.set(`${row},${column}`, made);
    return made;
  }

  #onPoint(event: PointerEvent, begins: boolean): void {
    const cell = event.target instanceof Element ? event.target.closest('td') : null;
    const [row, column] = (cell?.dataset.at ?? '').split(',').map(Number);
    if (row === undefined || column === undefined || Number.isNaN(row)) return;
    event.preventDefault();
    this.#mark({ row, column }, !begins || event.shiftKey);
  }

  #onKey(event: KeyboardEvent): void {
    const steps: Record<string, Corner> = {
      ArrowDown: { row: 1, column: 0 },
      ArrowUp: { row: -1, column: 0 },
      ArrowRight: { row: 0, column: 1 },
      ArrowLeft: { row: 0, column: -1 },
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    const within = (number: number, count: number): number => Math.max(0, Math.min(number, count - 1));
    this.#mark(
      {
        row: within(this.#end.row + step.row, this.#rows),
        column: within(this.#end.column + step.column, this.#columns),
      },
      event.shiftKey,
    );
  }

  #mark(corner: Corner, extend: boolean): void {
    document.getSelection()?.removeAllRanges();
    this.#end = corner;
    if (!extend) this.#start = corner;
    const { top, bottom, left, right } = this.#bounds();
    for (const [at, cell] of this.#cells) {
      const [row = 0, column = 0] = at.split(',').map(Number);
      cell.setAttribute('aria-selected', String(row >= top && row <= bottom && column >= left && column <= right));
      cell.tabIndex = -1;
    }
    const active = this.#cells.get(`${corner.row},${corner.column}`);
    if (active) {
      active.tabIndex = 0;
      active.focus({ preventScroll: extend });
    }
    this.#onMark(this);
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
