import {
  asBlocks,
  type Block,
  blocksText,
  type Cell,
  type Content,
  cellText,
  countOf,
  DrawerError,
  type Inline,
  type PlacedCell,
  type Table,
  tableGrid,
  textWithBreaks,
} from '../content/index.ts';
import type { Side } from './format.ts';
import { applyEdits, type TextEdit } from './text-edits.ts';
import type { SourceNode } from './trace.ts';

/** Rows of cells on their way into a table; `undefined` for a place that a neighbour's span covers. */
type Values = readonly (readonly (readonly Inline[] | undefined)[])[];

/** The cells of a range or of a single table, as words with their marks; `undefined` for what is no grid of several cells. */
export function valuesOf(content: Content): Values | undefined {
  if (content.shape === 'cells') {
    const rows = content.rows.map((row) => row.map(inlinesOfCell));
    return rows.length > 1 || (rows[0]?.length ?? 0) > 1 ? rows : undefined;
  }
  const [only, ...others] = asBlocks(content);
  if (only?.type !== 'table' || others.length > 0) return undefined;
  return tableGrid(only).map((line, row) =>
    line.map((placed, column) =>
      placed && placed.row === row && placed.column === column ? inlinesOfBlocks(placed.cell.blocks) : undefined,
    ),
  );
}

const inlinesOfCell = (cell: Cell): readonly Inline[] =>
  cell.type === 'empty' ? [] : textWithBreaks(cellText(cell), cell.marks);

function inlinesOfBlocks(blocks: readonly Block[]): readonly Inline[] {
  const [only] = blocks;
  return blocks.length === 1 && only?.type === 'paragraph' ? only.inlines : textWithBreaks(blocksText(blocks, '\n'));
}

/** A table in the source: its cells as a grid, and the elements of its rows and of the cells that begin in them. */
export interface TableSource {
  readonly source: string;
  readonly table: Table;
  readonly rows: readonly SourceNode[];
  readonly cells: readonly (readonly SourceNode[])[];
  /** Puts words in the place of what a cell holds; none empty it. */
  write(placed: PlacedCell, inlines: readonly Inline[]): readonly TextEdit[];
}

/**
 * The elements of a table's rows and of the cells that begin in them, found from one of its elements; none where these are not
 * the table's own.
 */
export function tableNodes(
  source: string,
  part: SourceNode | undefined,
  { rows }: Table,
): Pick<TableSource, 'rows' | 'cells'> {
  const rowsIn = (node: SourceNode): SourceNode[] => (node.kind === 'row' ? [node] : node.children.flatMap(rowsIn));
  for (let node = part; node; node = node.parent) {
    const found = rowsIn(node);
    if (found.length > rows.length) break;
    if (node.kind === 'row' || found.length !== rows.length) continue;
    const cells = found.map((row) => row.children.filter((cell) => cell.kind === 'cell' && !goesOn(source, cell)));
    return { rows: found, cells: cells.map((line, row) => (line.length === rows[row]?.cells.length ? line : [])) };
  }
  return { rows: [], cells: [] };
}

/** Whether a cell belongs to one above (ISO/IEC 29500-1, 17.4.85). */
const goesOn = (source: string, { start, end }: SourceNode): boolean =>
  /^<w:tc\b[^<>]*>\s*<w:tcPr>(?:(?!<\/w:tcPr>)[\s\S])*?<w:vMerge(?:\s+w:val="continue")?\s*\/>/.test(
    source.slice(start, end),
  );

/** Where rows of cells go in a table, counted from 0. */
export interface GridPlace {
  readonly row: number;
  readonly column: number;
  /** Whole rows or columns that are named make room for new ones beside them. */
  readonly adds?: 'rows' | 'columns';
}

/**
 * The edits that put rows of cells into a table: over the cells from a corner on, with new rows and columns where it ends, or
 * as new rows or columns. What is new looks as its neighbour does, and cells over several grow where something comes in between.
 * @throws DrawerError `consent` where cells that hold something would give way, `unsupported` where a cell over several is in
 *   the way.
 */
export function gridEdits(
  at: TableSource,
  values: Values,
  place: GridPlace,
  { over, side }: { readonly over: boolean; readonly side: Side },
): TextEdit[] {
  const grid = tableGrid(at.table);
  const height = grid.length;
  const width = grid[0]?.length ?? 0;
  const wide = values.reduce((most, row) => Math.max(most, row.length), 0);
  if (place.adds === 'rows') {
    if (wide > width) throw tooWide(wide, width);
    return newRows(at, grid, place.row, withoutHeading(values, at.table));
  }
  if (place.adds === 'columns') {
    const heads = Math.min(at.table.headerRows ?? 0, height - 1);
    if (values.length > height) throw tooHigh(values.length, height);
    // A column without a heading of its own stands below the headings.
    const from = values.length <= height - heads ? heads : 0;
    return newColumns(at, grid, place.column, values, from);
  }
  const inside = values.slice(0, height - place.row);
  const taken = inside.flatMap((line, down) =>
    line.slice(0, width - place.column).flatMap((_, across) => {
      const placed = grid[place.row + down]?.[place.column + across];
      return placed && blocksText(placed.cell.blocks).trim() !== '' ? [placed] : [];
    }),
  );
  if (taken.length > 0 && !over && side !== 'replace')
    throw new DrawerError('consent/cells-taken', { count: new Set(taken).size });
  const edits = inside.flatMap((line, down) =>
    line.slice(0, width - place.column).flatMap((inlines, across) => {
      const [row, column] = [place.row + down, place.column + across];
      return inlines === undefined ? [] : at.write(cellAt(grid, row, column), inlines);
    }),
  );
  const [below, beside] = [place.row + values.length - height, place.column + wide - width];
  if (below > 0 && beside > 0)
    throw new DrawerError('unsupported/table-too-small', {
      rows: countOf('rows', height),
      columns: countOf('columns', width),
    });
  if (below > 0) {
    const rest = values.slice(values.length - below).map((line) => [...pad(place.column), ...line]);
    return [...edits, ...newRows(at, grid, height, rest)];
  }
  if (beside > 0) {
    const rest = values.map((line) => line.slice(wide - beside));
    return [...edits, ...newColumns(at, grid, width, rest, place.row)];
  }
  return edits;
}

const pad = (count: number): (readonly Inline[])[] => Array.from({ length: count }, () => []);

/** A heading that says the same as the table's own does not come in a second time. */
function withoutHeading(values: Values, table: Table): Values {
  const folded = (words: string): string => words.replace(/\s+/g, ' ').trim().toLowerCase();
  const own = (tableGrid(table)[0] ?? []).map((placed) => folded(blocksText(placed?.cell.blocks ?? [], ' ')));
  const first = (values[0] ?? []).map((inlines) => folded(blocksText([{ type: 'paragraph', inlines: inlines ?? [] }])));
  const isSame = values.length > 1 && own.length === first.length && own.every((words, at) => words === first[at]);
  return isSame && own.some(Boolean) ? values.slice(1) : values;
}

type Grid = ReturnType<typeof tableGrid>;

function cellAt(grid: Grid, row: number, column: number): PlacedCell {
  const placed = grid[row]?.[column];
  if (placed && placed.row === row && placed.column === column) return placed;
  throw spansInTheWay();
}

const nodeOf = (at: TableSource, { row, cell }: PlacedCell): SourceNode => {
  const node = at.cells[row]?.[at.table.rows[row]?.cells.indexOf(cell) ?? -1];
  if (!node) throw spansInTheWay();
  return node;
};

// --- Rows --------------------------------------------------------------------------------------------------------------

/** Rows in front of the row at `before`, or behind the last. */
function newRows(at: TableSource, grid: Grid, before: number, values: Values): TextEdit[] {
  const crossing = before < grid.length ? spanning(grid[before] ?? [], ({ row }) => row < before) : [];
  const model = crossing.length > 0 ? before : modelRow(at.table, grid, before);
  const node = at.rows[model];
  if (!node) throw spansInTheWay();
  const own = spanning(grid[model] ?? [], ({ row }) => row === model);
  const source = values
    .map((line) => {
      line.forEach((inlines, column) => {
        if (inlines && inlines.length > 0 && !own.some((placed) => placed.column === column)) throw spansInTheWay();
      });
      const edits = own.flatMap((placed) => at.write(placed, line[placed.column] ?? []));
      return withoutNames(applyEdits(at.source, edits, node));
    })
    .map((row) => withRowSpansOfOne(row));
  const beside = at.rows[Math.min(before, grid.length - 1)] ?? node;
  const lead = leadOf(at.source, node);
  const isBelow = before >= grid.length;
  const edit = isBelow
    ? { start: beside.end, end: beside.end, replacement: source.map((row) => lead + row).join('') }
    : { start: beside.start, end: beside.start, replacement: source.map((row) => row + lead).join('') };
  return [edit, ...crossing.flatMap((placed) => grown(at, placed, 'rows', values.length))];
}

/** The cells of a line of the grid that fit, each once. */
const spanning = (line: Grid[number], fits: (placed: PlacedCell) => boolean): PlacedCell[] => [
  ...new Set(line.filter((placed): placed is PlacedCell => placed !== undefined && fits(placed))),
];

/** The nearest row below the headings in which every cell begins, best one without cells over several columns. */
function modelRow(table: Table, grid: Grid, before: number): number {
  // A copy of a cell that reaches over the rows below reaches over none.
  const isPlain = (index: number): boolean => (grid[index] ?? []).every((placed) => placed?.row === index);
  const isSingle = (index: number): boolean =>
    (grid[index] ?? []).every((placed) => (placed?.cell.columnSpan ?? 1) === 1);
  const heads = Math.min(table.headerRows ?? 0, grid.length - 1);
  const nearest = grid
    .map((_, index) => index)
    .sort((one, other) => Math.abs(one - before + 0.6) - Math.abs(other - before + 0.6));
  const body = nearest.filter((index) => index >= heads && isPlain(index));
  const found = body.find(isSingle) ?? body[0] ?? nearest.find(isPlain);
  if (found === undefined) throw spansInTheWay();
  return found;
}

/** The line break and indent in front of a row; the empty string where rows share a line. */
function leadOf(source: string, { start }: SourceNode): string {
  const before = source.slice(0, start);
  return (source[start] === '<' ? /\n[ \t]*$/.exec(before)?.[0] : (/\n[^\n]*$/.exec(before)?.[0] ?? '\n')) ?? '';
}

// --- Columns -----------------------------------------------------------------------------------------------------------

/** Columns in front of the column at `before`, or behind the last; the first row of values goes into the row `from`. */
function newColumns(at: TableSource, grid: Grid, before: number, values: Values, from: number): TextEdit[] {
  const width = grid[0]?.length ?? 0;
  const count = values.reduce((most, row) => Math.max(most, row.length), 0);
  const model = before > 0 ? before - 1 : 0;
  const edits: TextEdit[] = [];
  const grownCells = new Set<PlacedCell>();
  grid.forEach((line, row) => {
    const [left, right] = [line[before - 1], line[before]];
    if (left && left === right) {
      if (!grownCells.has(left)) edits.push(...grown(at, left, 'columns', count));
      grownCells.add(left);
      return;
    }
    const placed = line[model];
    if (!placed || placed.row !== row || (placed.cell.rowSpan ?? 1) > 1) throw spansInTheWay();
    const node = nodeOf(at, placed);
    const cells = Array.from({ length: count }, (_, index) => {
      const written = applyEdits(at.source, at.write(placed, values[row - from]?.[index] ?? []), node);
      return withoutNames(withColumnSpanOfOne(written));
    });
    const position = before > 0 ? node.end : node.start;
    edits.push({ start: position, end: position, replacement: joinedCells(at.source, node, cells, before === width) });
  });
  return [...edits, ...columnEdits(at, before, count)];
}

/** A Markdown cell has its bar in front, and the row's last one a bar behind too. */
function joinedCells(source: string, node: SourceNode, cells: readonly string[], isLast: boolean): string {
  if (source[node.start] === '<') return cells.join('');
  const bare = cells.map((cell) => cell.replace(/^\|/, '').replace(/\|$/, ''));
  return isLast && source[node.end - 1] === '|'
    ? bare.map((cell) => `${cell}|`).join('')
    : bare.map((cell) => `|${cell}`).join('');
}

/** What says how wide columns are, or how they are aligned, for columns in front of the one at `before`; fewer where negative. */
export function columnEdits(
  { source, rows }: Pick<TableSource, 'source' | 'rows'>,
  before: number,
  count: number,
): TextEdit[] {
  const first = rows[0];
  if (!first) return [];
  if (source[first.start] !== '<') return delimiterEdits(source, rows, before, count);
  const start = Math.max(
    ...['<w:tbl>', '<w:tbl ', '<table:table ', '<table:table>', '<table'].map((tag) =>
      source.lastIndexOf(tag, first.start),
    ),
  );
  const head = source.slice(start, first.start);
  let column = 0;
  for (const match of head.matchAll(/<(?:w:gridCol|table:table-column|col)\b[^<>]*>/g)) {
    const [tag] = match;
    const [, repeats = '1'] = /(?:number-columns-repeated|\bspan)="(\d+)"/.exec(tag) ?? [];
    const end = column + Number(repeats);
    if (count > 0 ? Math.max(before, 1) <= end : before < end) {
      const at = start + match.index;
      const sized = (repeat: number): string =>
        tag.replace(/((?:number-columns-repeated|\bspan)=")\d+"/, `$1${repeat}"`);
      if (Number(repeats) > 1)
        return [{ start: at, end: at + tag.length, replacement: sized(Number(repeats) + count) }];
      if (count < 0) return [{ start: at, end: at + tag.length, replacement: '' }];
      return [{ start: at + tag.length, end: at + tag.length, replacement: tag.repeat(count) }];
    }
    column = end;
  }
  return [];
}

/** The line under the heading of a Markdown table (GFM 0.29, section 4.10). */
function delimiterEdits(source: string, rows: readonly SourceNode[], before: number, count: number): TextEdit[] {
  const start = source.indexOf('\n', rows[0]?.end ?? 0) + 1;
  const found = /\|?[ \t]*:?-+:?[ \t]*(?:\|[ \t]*:?-+:?[ \t]*)*\|?/.exec(source.slice(start));
  if (!found || start === 0) return [];
  const cells = found[0].replace(/^\|/, '').replace(/\|$/, '').split('|');
  if (count < 0) cells.splice(before, -count);
  else cells.splice(before, 0, ...Array.from({ length: count }, () => cells[Math.max(0, before - 1)] ?? ' --- '));
  const [opens, closes] = [found[0].startsWith('|') ? '|' : '', found[0].endsWith('|') ? '|' : ''];
  const at = start + found.index;
  return [{ start: at, end: at + found[0].length, replacement: opens + cells.join('|') + closes }];
}

// --- Columns that go ---------------------------------------------------------------------------------------------------

/**
 * The edits that take whole columns, `from` up to `to`, out of a table; `undefined` where a cell that begins outside of them
 * reaches in, or one of them out: then their cells are emptied.
 */
export function columnRemoval(
  at: Pick<TableSource, 'source' | 'table' | 'rows' | 'cells'>,
  from: number,
  to: number,
): TextEdit[] | undefined {
  const grid = tableGrid(at.table);
  const width = grid[0]?.length ?? 0;
  const gone = new Set<PlacedCell>();
  for (const line of grid) {
    for (let column = from; column <= to; column++) {
      const placed = line[column];
      if (!placed || placed.column < from || placed.column + (placed.cell.columnSpan ?? 1) - 1 > to) return undefined;
      gone.add(placed);
    }
  }
  if (to - from + 1 >= width || [...gone].some(({ cell }) => (cell.rowSpan ?? 1) > 1)) return undefined;
  const edits = [...gone].map((placed): TextEdit => {
    const node = nodeOf({ ...at, write: () => [] }, placed);
    const isBar = at.source[node.start] === '|';
    const isLast = placed.column + (placed.cell.columnSpan ?? 1) >= width;
    // The bar behind a Markdown row’s last cell stays.
    const end = isBar && isLast && at.source[node.end - 1] === '|' ? node.end - 1 : node.end;
    return { start: node.start, end, replacement: '' };
  });
  const columns = Array.from({ length: to - from + 1 }, (_, index) => columnEdits(at, from + index, -1)).flat();
  return [...edits, ...(at.source[at.rows[0]?.start ?? 0] === '<' ? columns : columnEdits(at, from, from - to - 1))];
}

// --- Spans -------------------------------------------------------------------------------------------------------------

/** The edits that make a cell reach over more rows or columns; in WordprocessingML rows say so by themselves. */
function grown(at: TableSource, placed: PlacedCell, way: 'rows' | 'columns', more: number): TextEdit[] {
  const node = nodeOf(at, placed);
  const head = at.source.slice(node.start, Math.max(node.innerStart, at.source.indexOf('</w:tcPr>', node.start)));
  const names = way === 'rows' ? 'rowspan|table:number-rows-spanned' : 'colspan|table:number-columns-spanned';
  const pattern = way === 'columns' ? `((?:${names})="|<w:gridSpan w:val=")(\\d+)"` : `((?:${names})=")(\\d+)"`;
  const match = new RegExp(pattern).exec(head);
  if (!match) return [];
  const start = node.start + match.index + (match[1]?.length ?? 0);
  const edit = { start, end: start + (match[2]?.length ?? 0), replacement: String(Number(match[2]) + more) };
  // OpenDocument has an element for each place that is covered.
  const covers = way === 'columns' && at.source.startsWith('<table:', node.start);
  return covers
    ? [edit, { start: node.end, end: node.end, replacement: '<table:covered-table-cell/>'.repeat(more) }]
    : [edit];
}

const withRowSpansOfOne = (source: string): string =>
  source.replace(/\s(?:rowspan|table:number-rows-spanned)="\d+"|<w:vMerge w:val="restart"\/>/g, '');

const withColumnSpanOfOne = (source: string): string =>
  source.replace(/\s(?:colspan|table:number-columns-spanned)="\d+"|<w:gridSpan w:val="\d+"\/>/g, '');

/** A copy has no names that stand for the original: identifiers, bookmarks, and where comments begin and end. */
const withoutNames = (source: string): string =>
  source.replace(
    /\s(?:w14:paraId|w14:textId|xml:id|id)="[^"]*"|<(?:w:bookmark(?:Start|End)|w:commentRange(?:Start|End)|text:bookmark(?:-start|-end)?)\b[^<>]*\/>/g,
    '',
  );

const spansInTheWay = (): DrawerError => new DrawerError('unsupported/merged-cell-in-way');

const tooWide = (wide: number, width: number): DrawerError =>
  new DrawerError('unsupported/range-too-wide', { columns: countOf('columns', wide), width });

const tooHigh = (high: number, height: number): DrawerError =>
  new DrawerError('unsupported/range-too-high', { rows: countOf('rows', high), height });
