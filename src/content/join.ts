import { asBlocks, cellText } from './as-blocks.ts';
import { joinText, lineBreak, text, textWithBreaks } from './build.ts';
import { columnCount, rowGaps } from './grid.ts';
import type { Block, Cell, CellsContent, Content, Inline, List, Paragraph, Table } from './model.ts';
import { stackRanges, stackTables } from './stack.ts';

/** What stands between two pieces of words that are put together; `text` is anything else, such as `, `. */
export type Join = 'nothing' | 'space' | 'line' | 'paragraph' | { readonly text: string };

/**
 * One content of two, the second behind the first, made well by their shapes: words go on after words as the join says,
 * items into the list, rows into the table or range, all else under it.
 */
export function joinContents(first: Content, second: Content, join: Join): Content {
  const cell = second.shape === 'run' ? onlyCell(first) : undefined;
  if (cell) return joinContents({ shape: 'run', inlines: textWithBreaks(cellText(cell), cell.marks) }, second, join);
  if (first.shape === 'run' && second.shape === 'run' && join !== 'paragraph')
    return { shape: 'run', inlines: joinInlines(first.inlines, second.inlines, join) };
  const range = first.shape === 'cells' && second.shape === 'cells' ? rangeGoesOn(first, second) : undefined;
  if (range) return range;
  const [above, below] = [asBlocks(first), asBlocks(second)];
  for (const rule of seams) {
    const joined = rule(above, below, second, join);
    if (joined) return { shape: 'blocks', blocks: joined };
  }
  return { shape: 'blocks', blocks: [...above, ...below] };
}

/** One cell with words behind it is words too. */
const onlyCell = (content: Content): Cell | undefined =>
  content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1
    ? content.rows[0][0]
    : undefined;

type Seam = (above: readonly Block[], below: readonly Block[], second: Content, join: Join) => Block[] | undefined;

/** How the last block above and the first below meet: the first rule that has something to say. */
const seams: readonly Seam[] = [
  (above, below) => {
    const [last, next] = [above.at(-1), below[0]];
    if (last?.type !== 'list' || next?.type !== 'list' || last.ordered !== next.ordered) return undefined;
    return [...above.slice(0, -1), { ...last, items: [...last.items, ...next.items] }, ...below.slice(1)];
  },
  (above, below, second) => {
    const last = above.at(-1);
    const isItem = second.shape === 'run' || (below.length === 1 && below[0]?.type === 'paragraph');
    if (last?.type !== 'list' || !isItem) return undefined;
    const list: List = { ...last, items: [...last.items, { blocks: below }] };
    return [...above.slice(0, -1), list];
  },
  (above, below) => {
    const [last, next] = [above.at(-1), below[0]];
    if (last?.type !== 'table' || next?.type !== 'table') return undefined;
    const table = goesOn(last, next);
    return table && [...above.slice(0, -1), table, ...below.slice(1)];
  },
  (above, below, _, join) => {
    const [last, next] = [above.at(-1), below[0]];
    if (join === 'paragraph' || last?.type !== 'paragraph' || next?.type !== 'paragraph') return undefined;
    const paragraph: Paragraph = { ...last, inlines: joinInlines(last.inlines, next.inlines, join) };
    return [...above.slice(0, -1), paragraph, ...below.slice(1)];
  },
];

/** A table goes on with one of the same heading, or with rows that have none and are as wide. */
function goesOn(table: Table, next: Table): Table | undefined {
  const isRows = next.headerRows === undefined && columnCount(table) === columnCount(next);
  return stackTables(table, next, []) ?? (isRows ? { ...table, rows: [...table.rows, ...next.rows] } : undefined);
}

function joinInlines(first: readonly Inline[], second: readonly Inline[], join: Exclude<Join, 'paragraph'>): Inline[] {
  return joinText([...first, ...between(join), ...second]);
}

function between(join: Exclude<Join, 'paragraph'>): Inline[] {
  if (typeof join === 'object') return textWithBreaks(join.text);
  return { nothing: [], space: [text(' ')], line: [lineBreak] }[join];
}

/** The same for ranges; rows of one line each have no heading. */
function rangeGoesOn(range: CellsContent, next: CellsContent): CellsContent | undefined {
  const isRows = next.rows.length === 1 && range.rows[0]?.length === next.rows[0]?.length;
  return (
    stackRanges(range, next, []) ??
    (isRows && range.untyped === next.untyped ? { ...range, rows: [...range.rows, ...next.rows] } : undefined)
  );
}

/**
 * The parts of content that people mean by “each”: the rows of a range or table (the cells, where it has one row or one
 * column), the items of a list, else the paragraphs and other blocks.
 */
export function eachOf(content: Content): Content[] {
  if (content.shape === 'cells') return eachRow(content);
  if (content.shape !== 'blocks') return [content];
  const [only] = content.blocks;
  if (content.blocks.length === 1 && only?.type === 'list') return only.items.map(({ blocks }) => alone(blocks));
  if (content.blocks.length === 1 && only?.type === 'table')
    return only.rows
      .slice(only.headerRows ?? 0)
      .map((row) => ({ shape: 'blocks', blocks: [withoutHeading(only, row)] }));
  return content.blocks
    .filter((block) => block.type !== 'paragraph' || block.inlines.length > 0)
    .map((block) => ({ shape: 'blocks', blocks: [block] }));
}

function eachRow(range: CellsContent): Content[] {
  const { rows, columnWidths, untyped } = range;
  const kind = untyped && { untyped };
  const isLine = rows.length === 1 || (rows[0]?.length ?? 0) === 1;
  if (isLine) return rows.flat().map((cell) => ({ shape: 'cells', rows: [[withoutSpan(cell)]], ...kind }));
  return rows.map((row) => ({
    shape: 'cells',
    rows: [row.map(withoutSpan)],
    ...(columnWidths && { columnWidths }),
    ...rowGaps(range),
    ...kind,
  }));
}

function withoutSpan({ columnSpan: _, rowSpan: __, ...cell }: Cell): Cell {
  return cell;
}

const withoutHeading = ({ headerRows: _, ...table }: Table, row: Table['rows'][number]): Table => ({
  ...table,
  rows: [row],
});

/** Words that were a paragraph alone are words. */
function alone(blocks: readonly Block[]): Content {
  const [only] = blocks;
  return blocks.length === 1 && only?.type === 'paragraph'
    ? { shape: 'run', inlines: only.inlines }
    : { shape: 'blocks', blocks };
}
