import { cellText } from './as-blocks.ts';
import { columnCount, stackedGaps } from './grid.ts';
import type { Cell, CellsContent, Note, Table, TableCell } from './model.ts';
import { blocksText } from './plain-text.ts';

/** When a table goes on under another one. */
export interface StackOptions {
  /** Asked for in so many words: then columns are matched by name, and tables without headings of one width are one. */
  readonly rows?: boolean;
}

/** Rows of cells in running text or in a range, as far as stacking needs to know them. */
interface Grid<T> {
  readonly rows: readonly (readonly T[])[];
  readonly width: number;
  /** The words of the first row; `undefined` where it is no heading for sure. */
  readonly names: readonly string[] | undefined;
}

/** Words are the same whatever their case and the spaces around and between them. */
const nameOf = (words: string): string => words.replace(/\s+/g, ' ').trim().toLowerCase();

/**
 * Two ranges as one, the second under the first: where their headings say the same, whatever the order of their columns, and
 * rows of one line each of the same width. With `rows` also where only some headings are the same, missing ones left
 * empty, and where there are none and the width is the same.
 * @returns `undefined` where they are different tables.
 */
export function stackRanges(
  above: CellsContent,
  below: CellsContent,
  notes: Note[],
  options: StackOptions = {},
): CellsContent | undefined {
  if (above.untyped !== below.untyped) return undefined;
  const rows = stack(gridOfRange(above), gridOfRange(below), { type: 'empty' } as Cell, notes, options);
  if (!rows) return undefined;
  const isAsWide = (rows[0]?.length ?? 0) === (above.rows[0]?.length ?? 0);
  const { columnWidths, gaps: _, ...rest } = above;
  const gaps = stackedGaps(above, below, above.rows.length + below.rows.length - rows.length);
  return { ...rest, ...(isAsWide && columnWidths && { columnWidths }), ...(gaps && { gaps }), rows };
}

/** Two tables as one, by the same rules as ranges. */
export function stackTables(above: Table, below: Table, notes: Note[], options: StackOptions = {}): Table | undefined {
  const heads = above.headerRows ?? 0;
  const rows =
    heads > 1 && heads === below.headerRows && sameRows(above, below, heads)
      ? [...above.rows, ...below.rows.slice(heads)]
      : heads > 1 || (below.headerRows ?? 0) > 1 || hasSpans(above) || hasSpans(below)
        ? stackSpanned(above, below, options)
        : stack(gridOfTable(above), gridOfTable(below), { blocks: [] } as TableCell, notes, options)?.map((cells) => ({
            cells,
          }));
  if (!rows) return undefined;
  const { columnWidths: _, ...rest } = above;
  const table = { ...above, rows };
  return columnCount(table) === columnCount(above) ? table : { ...rest, rows };
}

function stack<T>(
  above: Grid<T>,
  below: Grid<T>,
  filler: T,
  notes: Note[],
  { rows = false }: StackOptions,
): readonly (readonly T[])[] | undefined {
  if (above.names && below.names) {
    const matched = byNames(above as Named<T>, below as Named<T>, filler, notes, rows);
    if (matched) return matched;
  }
  const isLines = above.rows.length > 0 && below.rows.length === 1 && !above.names;
  return above.width === below.width && (rows ? true : isLines) ? [...above.rows, ...below.rows] : undefined;
}

type Named<T> = Grid<T> & { readonly names: readonly string[] };

/** Columns matched by their names; with `partly` those of one table alone are added, and noted. */
function byNames<T>(
  above: Named<T>,
  below: Named<T>,
  filler: T,
  notes: Note[],
  partly: boolean,
): readonly (readonly T[])[] | undefined {
  const { names } = above;
  if (JSON.stringify(names) === JSON.stringify(below.names)) return [...above.rows, ...below.rows.slice(1)];
  const areDistinct = new Set(names).size === names.length && new Set(below.names).size === below.names.length;
  const added = below.names.filter((name) => !names.includes(name));
  const missing = names.filter((name) => !below.names.includes(name));
  if (!areDistinct || missing.length === names.length) return undefined;
  if (!partly && (added.length > 0 || missing.length > 0)) return undefined;
  for (const name of added) notes.push({ kind: 'column-added', params: { name }, count: 1 });
  for (const name of missing) notes.push({ kind: 'column-missing', params: { name }, count: 1 });
  const places = [...names, ...added].map((name) => below.names.indexOf(name));
  const headingBelow = below.rows[0] ?? [];
  return [
    [...(above.rows[0] ?? []), ...added.map((name) => headingBelow[below.names.indexOf(name)] ?? filler)],
    ...above.rows.slice(1).map((row) => [...row, ...added.map(() => filler)]),
    ...below.rows.slice(1).map((row) => places.map((place) => row[place] ?? filler)),
  ];
}

/** Tables with cells over several rows or columns are moved as they are. */
function stackSpanned(above: Table, below: Table, { rows = false }: StackOptions): Table['rows'] | undefined {
  const heads = above.headerRows ?? 0;
  if (heads > 0 && heads === below.headerRows)
    return sameRows(above, below, heads) ? [...above.rows, ...below.rows.slice(heads)] : undefined;
  const isSameWidth = columnCount(above) === columnCount(below);
  return rows && isSameWidth && heads === 0 && below.headerRows === undefined
    ? [...above.rows, ...below.rows]
    : undefined;
}

const cellName = ({ blocks }: TableCell): string => nameOf(blocksText(blocks, ' '));

const sameRows = (above: Table, below: Table, count: number): boolean =>
  JSON.stringify(namesOf(above, count)) === JSON.stringify(namesOf(below, count));
const namesOf = ({ rows }: Table, count: number): string[][] =>
  rows.slice(0, count).map(({ cells }) => cells.map(cellName));
const hasSpans = ({ rows }: Table): boolean =>
  rows.some(({ cells }) => cells.some(({ rowSpan = 1, columnSpan = 1 }) => rowSpan > 1 || columnSpan > 1));

/** What a document does not mark as a heading may be one all the same: words over something. */
function gridOfTable({ rows, headerRows = 0 }: Table): Grid<TableCell> {
  const first = rows[0]?.cells ?? [];
  const isHeading = headerRows === 1 || (rows.length > 1 && areNames(first.map(cellName)));
  return {
    rows: rows.map(({ cells }) => cells),
    width: first.length,
    names: isHeading ? first.map(cellName) : undefined,
  };
}

function gridOfRange({ rows }: CellsContent): Grid<Cell> {
  const [first = []] = rows;
  const isOfWords = first.every(({ type }) => type === 'text' || type === 'empty' || type === 'number');
  const names = first.map((cell) => nameOf(cellText(cell)));
  return { rows, width: first.length, names: rows.length > 1 && isOfWords && areNames(names) ? names : undefined };
}

/** Whether words can be the names of columns: nothing but words and years, and words in one of them at least. */
const areNames = (names: readonly string[]): boolean =>
  names.some((name) => /\p{L}/u.test(name)) && names.every((name) => /^$|^[12]\d{3}$|\p{L}/u.test(name));
