import { type Cell, type CellsContent, DrawerError, grouped } from '../../content/index.ts';
import { type CellsFragment, maxColumns, maxRows, type Span } from '../../places/index.ts';
import type { NoteCounter } from '../notes.ts';
import type { Grid } from './layout.ts';

/** The rows and columns asked for; an absent pair means all. */
export type Area = Pick<CellsFragment, 'columns' | 'rows'>;
export type FullArea = Required<Area>;

/** Cells of one row by their column, from 1. */
export interface SheetRow {
  readonly number: number;
  readonly cells: Cell[];
  readonly hidden: boolean;
}

/** What was read of a sheet. */
export interface SheetData {
  /** Rows that hold something, in order. */
  readonly rows: readonly SheetRow[];
  readonly hiddenColumns: readonly Span[];
  /** In points, by column. */
  readonly columnWidths: ReadonlyMap<number, number>;
  /** Where those cells are that are not empty. */
  readonly used: UsedCells;
  /** The last row and column known to hold something, whether or not they were asked for. */
  readonly last: { readonly row: number; readonly column: number };
}

export const emptyCells: CellsContent = { shape: 'cells', rows: [] };
/** Guards against sheets whose corners lie too far apart to hold all between them. */
const mostPlaces = 20_000_000;
const emptyCell: Cell = { type: 'empty' };

/** The corners of the cells in use, and how many there are; told of each as it is read. */
export class UsedCells {
  top = Number.POSITIVE_INFINITY;
  bottom = 0;
  left = Number.POSITIVE_INFINITY;
  right = 0;
  count = 0;

  add(row: number, column: number): void {
    if (row < this.top) this.top = row;
    if (row > this.bottom) this.bottom = row;
    if (column < this.left) this.left = column;
    if (column > this.right) this.right = column;
    this.count++;
  }
}

/**
 * What was asked for, without what lies past the last cell in use; whole rows, columns and sheets start at the first in use.
 * `undefined` when nothing is.
 */
export function usedArea({ rows, columns }: Area, data: SheetData): FullArea | undefined {
  const { top, bottom, left, right } = data.used;
  if (bottom === 0) return undefined;
  const bounds = (asked: Span | undefined, first: number, end: number, last: number): Span =>
    asked ? { from: asked.from, to: Math.max(end, Math.min(asked.to, last)) } : { from: first, to: end };
  return { rows: bounds(rows, top, bottom, data.last.row), columns: bounds(columns, left, right, data.last.column) };
}

/** Whether some cell of the used area is empty. */
export function hasGap(asked: Area, { used }: SheetData): boolean {
  const right = Math.max(used.right, Math.min(asked.columns?.to ?? 0, maxColumns));
  const bottom = Math.min(asked.rows?.to ?? used.bottom, maxRows);
  const width = right - (asked.columns?.from ?? used.left) + 1;
  const height = bottom - (asked.rows?.from ?? used.top) + 1;
  return used.count > 0 && used.count < width * height;
}

/** The rows and columns of an area that are shown; those left out are told. */
export function visibleLines(area: FullArea, data: SheetData, hidden: boolean, notes: NoteCounter) {
  const hiddenRows = new Set(data.rows.flatMap((row) => (row.hidden ? [row.number] : [])));
  const isHiddenColumn = (column: number): boolean =>
    data.hiddenColumns.some(({ from, to }) => from <= column && column <= to);
  return {
    rows: visible(area.rows, (row) => hiddenRows.has(row), hidden, 'hidden row', notes),
    columns: visible(area.columns, isHiddenColumn, hidden, 'hidden column', notes),
  };
}

function visible(
  { from, to }: Span,
  isHidden: (number: number) => boolean,
  takesHidden: boolean,
  what: string,
  notes: NoteCounter,
): number[] {
  const all = Array.from({ length: to - from + 1 }, (_, index) => from + index);
  const shown = all.filter((number) => !isHidden(number));
  if (shown.length < all.length)
    notes.add(takesHidden ? `${what}, taken too` : `${what}, left out (--hidden takes it)`, all.length - shown.length);
  return takesHidden ? all : shown;
}

/** The visible cells of an area as content, merged areas as spans of their first cell. */
export function cellsContent(
  { rows, columns }: { readonly rows: readonly number[]; readonly columns: readonly number[] },
  data: SheetData,
  merges: readonly FullArea[],
): CellsContent {
  if (rows.length * columns.length > mostPlaces)
    throw new DrawerError({
      code: 'too-large',
      what: `The range has ${grouped(rows.length)} rows and ${grouped(columns.length)} columns`,
      next: 'Name a smaller one, such as #A1:H200',
    });
  const held = inOrder(data.rows);
  let next = 0;
  const grid = rows.map((row) => {
    while ((held[next]?.number ?? row) < row) next++;
    const found = held[next];
    return lineOf(found?.number === row ? found.cells : [], columns);
  });
  for (const merge of merges) span(grid, merge, rows, columns);
  const widths = columns.map((column) => data.columnWidths.get(column) ?? 0);
  return {
    shape: 'cells',
    rows: grid,
    ...(widths.length > 0 && widths.every((width) => width > 0) && { columnWidths: widths }),
  };
}

/** Rows as they are numbered; files may tell them otherwise, or twice, and then the last counts. */
function inOrder(rows: readonly SheetRow[]): readonly SheetRow[] {
  if (rows.every(({ number }, at) => at === 0 || number > (rows[at - 1] as SheetRow).number)) return rows;
  const byNumber = new Map(rows.map((row) => [row.number, row]));
  return [...byNumber.values()].sort((one, other) => one.number - other.number);
}

function lineOf(cells: readonly Cell[], columns: readonly number[]): Cell[] {
  const line: Cell[] = new Array(columns.length);
  for (let at = 0; at < columns.length; at++) line[at] = cells[columns[at] as number] ?? emptyCell;
  return line;
}

function span(grid: Cell[][], merge: FullArea, rows: readonly number[], columns: readonly number[]): void {
  const [firstRow, rowSpan] = covered(rows, merge.rows);
  const [firstColumn, columnSpan] = covered(columns, merge.columns);
  const line = grid[firstRow];
  const cell = line?.[firstColumn];
  if (!line || !cell || (rowSpan < 2 && columnSpan < 2)) return;
  line[firstColumn] = { ...cell, ...(rowSpan > 1 && { rowSpan }), ...(columnSpan > 1 && { columnSpan }) };
}

/** Where the numbers within a span begin, and how many of them there are; they are in rising order. */
function covered(numbers: readonly number[], { from, to }: Span): [first: number, count: number] {
  const first = numbers.findIndex((number) => number >= from);
  if (first < 0) return [-1, 0];
  let count = 0;
  while ((numbers[first + count] ?? Number.POSITIVE_INFINITY) <= to) count++;
  return [count > 0 ? first : -1, count];
}

export const overlaps = (one: Span, other: Span): boolean => one.from <= other.to && other.from <= one.to;

/**
 * The cells that a grid takes from its corner on.
 * @throws DrawerError `too-large` when they go past the end that sheets have in every office program.
 */
export function areaOf(grid: Grid, top: number, left: number): FullArea {
  const area = {
    rows: { from: top, to: top + grid.length - 1 },
    columns: { from: left, to: left + Math.max(1, grid[0]?.length ?? 1) - 1 },
  };
  if (area.rows.to <= maxRows && area.columns.to <= maxColumns) return area;
  throw new DrawerError({
    code: 'too-large',
    what: `It takes ${grid.length} rows and ${grid[0]?.length ?? 0} columns, which go past the sheet’s end`,
    next: 'Name a place further up or to the left; nothing was written',
  });
}
