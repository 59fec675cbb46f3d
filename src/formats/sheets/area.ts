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
  /** The last row and column known to hold something, whether or not they were asked for. */
  readonly last: { readonly row: number; readonly column: number };
}

export const emptyCells: CellsContent = { shape: 'cells', rows: [] };
/** Guards against sheets whose corners lie too far apart to hold all between them. */
const mostPlaces = 20_000_000;
const emptyCell: Cell = { type: 'empty' };

/**
 * What was asked for, without what lies past the last cell in use; whole rows, columns and sheets start at the first in use.
 * `undefined` when nothing is.
 */
export function usedArea({ rows, columns }: Area, data: SheetData): FullArea | undefined {
  let [top, bottom, left, right] = [Number.POSITIVE_INFINITY, 0, Number.POSITIVE_INFINITY, 0];
  for (const { number, cells } of data.rows) {
    let first = 0;
    while (first < cells.length && !isFilled(cells[first])) first++;
    if (first === cells.length) continue;
    let last = cells.length - 1;
    while (!isFilled(cells[last])) last--;
    left = Math.min(left, first);
    right = Math.max(right, last);
    top = Math.min(top, number);
    bottom = Math.max(bottom, number);
  }
  if (bottom === 0) return undefined;
  const bounds = (asked: Span | undefined, first: number, end: number, last: number): Span =>
    asked ? { from: asked.from, to: Math.max(end, Math.min(asked.to, last)) } : { from: first, to: end };
  return { rows: bounds(rows, top, bottom, data.last.row), columns: bounds(columns, left, right, data.last.column) };
}

const isFilled = (cell: Cell | undefined): boolean => cell !== undefined && cell.type !== 'empty';

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
  const byNumber = new Map(data.rows.map((row) => [row.number, row.cells]));
  const grid = rows.map((row) => {
    const cells = byNumber.get(row);
    return cells ? columns.map((column) => cells[column] ?? emptyCell) : columns.map(() => emptyCell);
  });
  for (const merge of merges) span(grid, merge, rows, columns);
  const widths = columns.map((column) => data.columnWidths.get(column) ?? 0);
  return {
    shape: 'cells',
    rows: grid,
    ...(widths.length > 0 && widths.every((width) => width > 0) && { columnWidths: widths }),
  };
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
