import { type Cell, type Content, cellText, columnLetters, coveredPlaces, DrawerError } from 'drawer';
import { type CellComponent, TabulatorFull as Tabulator } from 'tabulator-tables';
import { cellsOf, typed } from './cells.ts';
import type { ChangedCells } from './file.worker.ts';

type Row = { readonly number: number } & { [field: string]: string | number };

/** How many rows and columns are free around what is there. */
const spare = { rows: 20, columns: 3 } as const;

/** Cells with their places in the sheet: `rows` and `columns` are numbers from 1, for each row and column of `cells`. */
export interface PlacedCells {
  readonly cells: readonly (readonly Cell[])[];
  readonly rows: readonly number[];
  readonly columns: readonly number[];
}

/** Where cells land: row and column from 0. */
interface Corner {
  readonly row: number;
  readonly column: number;
}

/** One sheet in a grid that is written in. Cells from slips keep their values and formats; what is typed is read as such. */
export class SheetGrid {
  readonly #table: Tabulator;
  /** Cells that were put in or typed since it was opened, by row and column from 0. */
  readonly #changed = new Map<string, Cell>();
  /** What one step changed: the cells as they were, in what was changed and as they were shown. */
  readonly #steps: ReadonlyMap<string, { readonly cell: Cell | undefined; readonly shown: string }>[] = [];
  readonly #placed: PlacedCells;
  /** Cells that merged ones cover, by row and column from 0: nothing can be put there. */
  readonly #covered: ReadonlySet<string>;
  readonly #onChange: () => void;
  readonly #place: HTMLElement;
  /** Whether cells are being set by the desk, which is no typing. */
  #isSetting = false;
  readonly ready: Promise<void>;

  constructor(place: HTMLElement, name: string, changed: () => void, placed: PlacedCells = nothing) {
    this.#placed = placed;
    this.#covered = coveredIn(placed);
    this.#onChange = changed;
    this.#place = place;
    const columns = Math.max(6, (placed.columns.at(-1) ?? 0) + spare.columns);
    const data = Array.from({ length: (placed.rows.at(-1) ?? 0) + spare.rows }, (_, at): Row => ({ number: at + 1 }));
    for (const [index, row] of placed.cells.entries()) {
      const shown = data[(placed.rows[index] ?? 1) - 1];
      for (const [at, cell] of row.entries())
        if (shown && cell.type !== 'empty') shown[columnLetters(placed.columns[at] ?? 1)] = cellText(cell);
    }
    this.#table = new Tabulator(place, {
      data,
      index: 'number',
      height: '100%',
      columns: Array.from({ length: columns }, (_, column) => this.#column(column)),
      rowHeader: { field: 'number', headerSort: false, width: 52, resizable: false, frozen: true },
      selectableRange: 1,
      editTriggerEvent: 'dblclick',
      keybindings: { undo: false, redo: false },
    });
    this.ready = new Promise((built) =>
      this.#table.on('tableBuilt', () => {
        const first = this.#cellAt(0, 0);
        const [range] = this.#table.getRanges();
        if (range && first) range.setBounds(first, first);
        built();
      }),
    );
    this.#table.on('cellEdited', (cell) => {
      if (this.#isSetting) return;
      const { row, column } = cornerOf(cell);
      const at = keyOf(row, column);
      this.#steps.push(new Map([[at, { cell: this.#changed.get(at), shown: String(cell.getOldValue() ?? '') }]]));
      this.#changed.set(at, typed(String(cell.getValue() ?? '')));
      changed();
    });
    place.addEventListener('keydown', (event) => {
      if ((event.ctrlKey || event.metaKey) && !event.shiftKey && event.code === 'KeyZ') {
        this.#undo();
        changed();
      }
    });
    place.setAttribute('aria-label', name);
  }

  /** Puts content into the cells from the marked one on, and marks the one below; the grid grows where it has to. */
  async insert(content: Content): Promise<void> {
    const cells = cellsOf(content);
    const { row: top, column: left } = this.corner;
    for (const [down, row] of cells.entries())
      for (const across of row.keys())
        if (this.#covered.has(keyOf(top + down, left + across)))
          throw new DrawerError('unsupported/cell-merged', {
            cell: `${columnLetters(left + across + 1)}${top + down + 1}`,
          });
    await this.#grow(top + cells.length + 1, left + Math.max(...cells.map((row) => row.length)));
    const before = new Map<string, { cell: Cell | undefined; shown: string }>();
    for (const [down, row] of cells.entries())
      for (const [across, cell] of row.entries()) {
        const at = keyOf(top + down, left + across);
        before.set(at, { cell: this.#changed.get(at), shown: this.#shownAt(top + down, left + across) });
        this.#changed.set(at, cell);
        this.#set(top + down, left + across, cellText(cell));
      }
    this.#steps.push(before);
    this.#onChange();
    const below = this.#cellAt(top + cells.length, left);
    const [range] = this.#table.getRanges();
    if (range && below) range.setBounds(below, below);
  }

  /** Shows what would stand in the cells, as far as the grid reaches; with nothing, no longer. */
  preview(content: Content | undefined): void {
    for (const cell of this.#place.querySelectorAll('[data-landing]')) cell.removeAttribute('data-landing');
    if (!content) return;
    const { row: top, column: left } = this.corner;
    for (const [down, row] of cellsOf(content).entries())
      for (const [across, cell] of row.entries())
        this.#cellAt(top + down, left + across)
          ?.getElement()
          .setAttribute('data-landing', cellText(cell));
  }

  #column(column: number) {
    return {
      title: columnLetters(column + 1),
      field: columnLetters(column + 1),
      editor: 'input' as const,
      editable: (cell: CellComponent) => !this.#covered.has(keyOf(cornerOf(cell).row, column)),
      width: 110,
      headerSort: false,
    };
  }

  /** Has at least so many rows and columns. */
  async #grow(rows: number, columns: number): Promise<void> {
    const count = this.#table.getDataCount();
    if (rows > count)
      await this.#table.addData(
        Array.from({ length: rows - count + spare.rows }, (_, at) => ({ number: count + at + 1 })),
      );
    const across = this.#table.getColumns().filter((column) => column.getField() !== 'number').length;
    for (let column = across; column < columns; column++) await this.#table.addColumn(this.#column(column), false);
  }

  #shownAt(row: number, column: number): string {
    return String(this.#cellAt(row, column)?.getValue() ?? '');
  }

  #set(row: number, column: number, words: string): void {
    this.#isSetting = true;
    this.#cellAt(row, column)?.setValue(words);
    this.#isSetting = false;
  }

  /** The first of the marked cells. */
  get corner(): Corner {
    const [range] = this.#table.getRanges();
    // Its types say a list; it is rows of cells.
    const cell = (range?.getCells() as unknown as CellComponent[][] | undefined)
      ?.flat()
      .find((each) => each.getField() !== 'number');
    return cell ? cornerOf(cell) : { row: 0, column: 0 };
  }

  #cellAt(row: number, column: number): CellComponent | undefined {
    const shown = this.#table.getRow(row + 1);
    const field = columnLetters(column + 1);
    // A row that is not there is `false`, whatever its types say.
    return shown && this.#table.getColumn(field) ? shown.getCell(field) : undefined;
  }

  #undo(): void {
    for (const [at, { cell, shown }] of this.#steps.pop() ?? []) {
      const { row, column } = placeOf(at);
      if (cell) this.#changed.set(at, cell);
      else this.#changed.delete(at);
      this.#set(row, column, shown);
    }
  }

  /** All of it, from the first cell to the last that holds something. */
  rows(): readonly (readonly Cell[])[] {
    const rows: Cell[][] = [];
    const put = (row: number, column: number, cell: Cell): void => {
      while (rows.length <= row) rows.push([]);
      const line = rows[row] as Cell[];
      while (line.length < column) line.push({ type: 'empty' });
      line[column] = cell;
    };
    const { cells, rows: numbers, columns } = this.#placed;
    for (const [index, row] of cells.entries())
      for (const [at, cell] of row.entries()) put((numbers[index] ?? 1) - 1, (columns[at] ?? 1) - 1, cell);
    for (const [at, cell] of this.#changed) {
      const { row, column } = placeOf(at);
      put(row, column, cell);
    }
    const filled = rows.slice(0, rows.findLastIndex((row) => row.some(({ type }) => type !== 'empty')) + 1);
    const width = Math.max(1, ...filled.map((row) => row.findLastIndex(({ type }) => type !== 'empty') + 1));
    return filled.map((row) => Array.from({ length: width }, (_, at): Cell => row[at] ?? { type: 'empty' }));
  }

  /** What was changed since it was opened, in as few rectangles as rows of the same width below each other make. */
  changes(sheet: string | undefined): ChangedCells[] {
    const places = [...this.#changed].map(([at, cell]) => {
      const { row, column } = placeOf(at);
      return { row: row + 1, column: column + 1, cell };
    });
    places.sort((one, other) => one.row - other.row || one.column - other.column);
    const lines: { readonly row: number; readonly column: number; readonly cells: Cell[] }[] = [];
    for (const { row, column, cell } of places) {
      const last = lines.at(-1);
      if (last && last.row === row && last.column + last.cells.length === column) last.cells.push(cell);
      else lines.push({ row, column, cells: [cell] });
    }
    const rectangles: (ChangedCells & { readonly rows: Cell[][] })[] = [];
    for (const { row, column, cells } of lines) {
      const above = rectangles.find(
        (each) =>
          each.column === column && each.row + each.rows.length === row && each.rows[0]?.length === cells.length,
      );
      if (above) above.rows.push(cells);
      else rectangles.push({ sheet, row, column, rows: [cells] });
    }
    return rectangles;
  }

  /** Draws it anew, such as when it is shown again. */
  redraw(): void {
    this.#table.redraw();
  }

  close(): void {
    this.#table.destroy();
  }
}

/** A cell's place as a key, and back: row and column from 0. */
const keyOf = (row: number, column: number): string => `${row},${column}`;
const placeOf = (key: string): Corner => {
  const [row = 0, column = 0] = key.split(',').map(Number);
  return { row, column };
};

const columnOf = (field: string): number =>
  [...field].reduce((number, letter) => number * 26 + letter.charCodeAt(0) - 64, 0) - 1;

const cornerOf = (cell: CellComponent): Corner => ({
  row: Number(cell.getRow().getData().number) - 1,
  column: columnOf(cell.getField()),
});

const coveredIn = ({ cells, rows, columns }: PlacedCells): ReadonlySet<string> =>
  new Set(
    [...coveredPlaces(cells)].map((place) => {
      const { row, column } = placeOf(place);
      return keyOf((rows[row] ?? 1) - 1, (columns[column] ?? 1) - 1);
    }),
  );

const nothing: PlacedCells = { cells: [], rows: [], columns: [] };
