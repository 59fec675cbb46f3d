import { type Cell, type CellsContent, countOf, DrawerError, type Gap } from '../../content/index.ts';
import { type CellsFragment, maxColumns, maxRows, type Span } from '../../places/index.ts';
import { checkPlaces } from '../bounds.ts';
import type { NoteCounter, SheetLines } from '../format.ts';
import { type Grid, gridSize } from './layout.ts';

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

/** How far what was read reaches. */
export type Corners = Pick<SheetData, 'used' | 'last'>;

/** Cells, and where in their sheet they are; absent where there are none. */
export interface AreaCells {
  readonly content: CellsContent;
  readonly lines?: SheetLines;
}

export const emptyCells: AreaCells = { content: { shape: 'cells', rows: [] } };
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
export function usedArea({ rows, columns }: Area, data: Corners): FullArea | undefined {
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

/** The rows or columns of an area that a range holds, by their numbers, and the blank ones between that it counts. */
interface Lines {
  readonly held: readonly number[];
  readonly gaps: readonly Gap[];
}

/** More blank lines than this in a row are counted, not held. */
const mostBlank = 16;

/** The visible cells of an area as content, merged areas as spans of their first cell; hidden lines are told. */
export function cellsContent(
  area: FullArea,
  data: SheetData,
  merges: readonly FullArea[],
  { includesHidden, notes }: { readonly includesHidden: boolean; readonly notes: NoteCounter },
): AreaCells {
  const filled = inOrder(data.rows).filter(
    ({ number, cells }) => number >= area.rows.from && number <= area.rows.to && cells.length > 0,
  );
  const hiddenRows = data.rows.flatMap(({ hidden, number }) => (hidden ? [{ from: number, to: number }] : []));
  const rows = linesOf(
    area.rows,
    [...filled.map(({ number }) => number), ...merges.flatMap((merge) => [merge.rows.from, merge.rows.to])],
    includesHidden ? [] : hiddenRows,
  );
  const columns = linesOf(
    area.columns,
    [...filledColumns(area, filled), ...merges.flatMap((merge) => [merge.columns.from, merge.columns.to])],
    includesHidden ? [] : data.hiddenColumns,
  );
  noteHidden('row', countWithin(area.rows, hiddenRows), includesHidden, notes);
  noteHidden('column', countWithin(area.columns, data.hiddenColumns), includesHidden, notes);
  checkPlaces(
    rows.held.length,
    columns.held.length,
    filled.reduce((sum, { cells }) => sum + cells.length, 0),
  );
  const byNumber = new Map(filled.map(({ number, cells }) => [number, cells]));
  const grid = rows.held.map((row) => lineOf(byNumber.get(row) ?? [], columns.held));
  for (const merge of merges) span(grid, merge, rows.held, columns.held);
  const widths = columns.held.map((column) => data.columnWidths.get(column) ?? 0);
  const gaps = {
    ...(rows.gaps.length > 0 && { rows: rows.gaps }),
    ...(columns.gaps.length > 0 && { columns: columns.gaps }),
  };
  const content: CellsContent = {
    shape: 'cells',
    rows: grid,
    ...(Object.keys(gaps).length > 0 && { gaps }),
    ...(widths.length > 0 && widths.every((width) => width > 0) && { columnWidths: widths }),
  };
  const hiddenColumns = includesHidden ? [] : data.hiddenColumns;
  return { content, lines: { rows: rows.held, columns: columns.held, hiddenColumns } };
}

function noteHidden(what: 'row' | 'column', count: number, includesHidden: boolean, notes: NoteCounter): void {
  if (count > 0) notes.add(`hidden-${what}-${includesHidden ? 'taken' : 'left'}`, count);
}

const countWithin = ({ from, to }: Span, spans: readonly Span[]): number =>
  spans.reduce((sum, span) => sum + Math.max(0, Math.min(to, span.to) - Math.max(from, span.from) + 1), 0);

/** The columns of an area in which some row has a cell; where it is narrow, all of them. */
function filledColumns({ columns: { from, to } }: FullArea, rows: readonly SheetRow[]): Iterable<number> {
  const found = new Set<number>();
  if (to - from <= mostBlank) return found;
  // A row with cells far apart is held by their numbers, and its places are not walked one by one.
  for (const { cells } of rows) for (const column in cells) found.add(Number(column));
  return found;
}

/** The lines of a span that are not hidden: those that hold something, its ends, and short stretches between them. */
function linesOf(span: Span, filled: Iterable<number>, hidden: readonly Span[]): Lines {
  const stops = new Set([span.from, span.to]);
  for (const number of filled) if (number >= span.from && number <= span.to) stops.add(number);
  const hiddenLines = hidden.map(({ from, to }) => ({ from: Math.max(from, span.from), to: Math.min(to, span.to) }));
  const isHidden = membership(hiddenLines);
  const held: number[] = [];
  const gaps: Gap[] = [];
  let blank = 0;
  let last = span.from - 1;
  for (const number of [...stops].sort((one, other) => one - other)) {
    if (number - last - 1 > mostBlank) {
      const between = { from: last + 1, to: number - 1 };
      blank += number - last - 1 - countWithin(between, hiddenLines);
    } else for (let each = last + 1; each < number; each++) if (!isHidden(each)) held.push(each);
    last = number;
    if (isHidden(number)) continue;
    if (blank > 0 && held.length > 0) gaps.push({ before: held.length, count: blank });
    blank = 0;
    held.push(number);
  }
  return { held, gaps };
}

/** Whether a number is in one of the spans, which may lie in any order. */
function membership(spans: readonly Span[]): (number: number) => boolean {
  const sorted = spans.filter(({ from, to }) => from <= to).sort((one, other) => one.from - other.from);
  const starts = sorted.map(({ from }) => from);
  return (number) => (sorted[firstFrom(starts, number + 1) - 1]?.to ?? 0) >= number;
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
  const first = firstFrom(numbers, from);
  const count = firstFrom(numbers, to + 1) - first;
  return [count > 0 ? first : -1, count];
}

/** The index of the first of rising numbers that is not below `least`. */
function firstFrom(numbers: readonly number[], least: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((numbers[middle] as number) < least) low = middle + 1;
    else high = middle;
  }
  return low;
}

export const overlaps = (one: Span, other: Span): boolean => one.from <= other.to && other.from <= one.to;

/** Whether two areas share a cell. */
export const meets = (one: FullArea, other: FullArea): boolean =>
  overlaps(one.rows, other.rows) && overlaps(one.columns, other.columns);

/** Whether an area contains another. */
export const holds = (outer: FullArea, { rows, columns }: FullArea): boolean =>
  outer.rows.from <= rows.from &&
  rows.to <= outer.rows.to &&
  outer.columns.from <= columns.from &&
  columns.to <= outer.columns.to;

/**
 * The cells that a grid takes from its corner on, gaps in it too.
 * @throws DrawerError `too-large` when they go past the end that sheets have in every office program.
 */
export function areaOf(grid: Grid, top: number, left: number): FullArea {
  const { rows, columns } = gridSize(grid);
  const area = {
    rows: { from: top, to: top + rows - 1 },
    columns: { from: left, to: left + Math.max(1, columns) - 1 },
  };
  if (area.rows.to <= maxRows && area.columns.to <= maxColumns) return area;
  throw new DrawerError('too-large/sheet-too-small', {
    rows: countOf('rows', rows),
    columns: countOf('columns', columns),
  });
}
