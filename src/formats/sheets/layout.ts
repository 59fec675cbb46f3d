import {
  asBlocks,
  type Block,
  blocksText,
  type Cell,
  type Content,
  DrawerError,
  eachOf,
  type Inline,
  inlineText,
  type Marks,
  type Note,
  picturesIn,
  plainText,
  restyle,
  sameMarks,
  type Table,
  tableGrid,
} from '../../content/index.ts';
import type { Insertion, Spread } from '../format.ts';

/** Cells in rows, as they are to stand in a sheet; `undefined` leaves a place as it is. */
export type Grid = readonly (readonly (Cell | undefined)[])[];

/**
 * How content goes into cells: spread as asked, or as its shape suggests.
 * @throws DrawerError `unsupported` where there is nothing that cells can hold.
 */
export function layOut(insertion: Insertion): { readonly grid: Grid; readonly notes: readonly Note[] } {
  const { content, style } = insertion;
  const pieces = (insertion.pieces ?? [content]).map((piece) => restyle(piece, style));
  const spread = insertion.spread ?? suitable(pieces);
  const pictures = pieces.reduce((count, piece) => count + [...picturesIn(piece)].length, 0);
  const notes = pictures > 0 ? [{ what: 'picture, left out: cells hold words and numbers', count: pictures }] : [];
  const grid = even(spreaders[spread](pieces));
  if (grid.length > 0) return { grid, notes };
  throw new DrawerError({
    code: 'unsupported',
    what: pictures > 0 ? 'A picture cannot land in cells' : 'There is nothing in it to put into cells',
    next: 'Paste words, tables or ranges into a sheet; nothing was written',
  });
}

/** A range stays one, with what came beside it above and below; all else stands a piece a cell, or a block a cell. */
function suitable(pieces: readonly Content[]): Spread {
  const isRange = (content: Content): boolean =>
    content.shape === 'cells' ||
    (content.shape === 'blocks' && content.blocks.length === 1 && content.blocks[0]?.type === 'table');
  return pieces.some(isRange) ? 'range' : 'down';
}

const spreaders: { readonly [S in Spread]: (pieces: readonly Content[]) => (Cell | undefined)[][] } = {
  down: (pieces) => pieces.flatMap((piece) => (pieces.length === 1 ? inRows(piece) : oneCell(piece))),
  across: (pieces) => [
    pieces.flatMap((piece) => (pieces.length === 1 ? inRows(piece).flat() : (oneCell(piece)[0] ?? []))),
  ],
  rows: (pieces) =>
    pieces.map((piece) =>
      eachOf(piece).flatMap((part) => (part.shape === 'cells' ? part.rows.flat() : (oneCell(part)[0] ?? []))),
    ),
  cell: (pieces) => [[wordCell(pieces.map((piece) => lines(piece)).join('\n'))]],
  range: (pieces) => pieces.flatMap(inRows),
};

/** Everything of a piece in one cell: a cell as it is, else its words. */
function oneCell(content: Content): (Cell | undefined)[][] {
  if (content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1)
    return [[...content.rows[0]]];
  if (content.shape === 'run') return [[runCell(content.inlines)]];
  const [only] = asBlocks(content);
  if (content.shape === 'blocks' && content.blocks.length === 1 && only?.type === 'paragraph')
    return [[runCell(only.inlines)]];
  return [[wordCell(lines(content))]];
}

const lines = (content: Content): string =>
  content.shape === 'cells'
    ? plainText(content)
    : asBlocks(content)
        .map((block) => (block.type === 'picture' ? (block.alt ?? '') : blocksText([block])))
        .join('\n');

/** A cell a block, an item and a table's row its own row. */
function inRows(content: Content): (Cell | undefined)[][] {
  if (content.shape === 'cells') return content.rows.map((row) => [...row]);
  return asBlocks(content).flatMap((block): (Cell | undefined)[][] => blockRows(block));
}

function blockRows(block: Block): (Cell | undefined)[][] {
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return block.inlines.length === 0 ? [] : [[runCell(block.inlines)]];
    case 'list':
      return block.items.map((item) => [wordCell(blocksText(item.blocks, '\n'))]);
    case 'table':
      return tableRows(block);
    case 'quote':
      return block.blocks.flatMap(blockRows);
    case 'code':
      return [[wordCell(block.text)]];
    case 'picture':
    case 'rule':
      return [];
  }
}

/** A table's cells with their spans; headings are bold, as a sheet has no other sign for them. */
const tableRows = (table: Table): (Cell | undefined)[][] =>
  tableGrid(table).map((line, row) =>
    line.map((placed, column): Cell | undefined => {
      if (!placed || placed.row !== row || placed.column !== column) return { type: 'empty' };
      const { blocks, columnSpan, rowSpan, background } = placed.cell;
      const [only] = blocks;
      const own =
        blocks.length === 1 && only?.type === 'paragraph' ? runCell(only.inlines) : wordCell(blocksText(blocks, '\n'));
      const marks: Marks = { ...own.marks, ...(row < (table.headerRows ?? 0) && { bold: true as const }) };
      return {
        ...own,
        ...(Object.keys(marks).length > 0 && { marks }),
        ...(columnSpan !== undefined && { columnSpan }),
        ...(rowSpan !== undefined && { rowSpan }),
        ...(background !== undefined && { background }),
      };
    }),
  );

/** Words keep the marks that all of them have. */
function runCell(inlines: readonly Inline[]): Cell {
  const words = inlineText(inlines);
  const texts = inlines.flatMap((inline) => (inline.type === 'text' ? [inline.marks ?? {}] : []));
  const [first] = texts;
  const marks = first && texts.every((each) => sameMarks(first, each)) ? cellMarks(first) : {};
  return words === ''
    ? { type: 'empty' }
    : { type: 'text', value: words, ...(Object.keys(marks).length > 0 && { marks }) };
}

function cellMarks({ code: _, position: __, language: ___, background: ____, ...marks }: Marks): Marks {
  return marks;
}

const wordCell = (words: string): Cell => (words === '' ? { type: 'empty' } : { type: 'text', value: words });

function even(rows: (Cell | undefined)[][]): Grid {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  return rows.map((row) => [...row, ...Array.from({ length: width - row.length }, () => undefined)]);
}

/** How many characters a column of usual width shows. */
const usualWidth = 40;

/** Whether words are longer than their column is wide, in characters: they wrap, rather than run into the next cell. */
export const needsWrap = (cell: Cell, width = usualWidth): boolean =>
  cell.type === 'text' && (cell.value.includes('\n') || cell.value.length > width);
