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
  mapPictures,
  type Note,
  type Picture,
  picturesIn,
  plainText,
  restyle,
  sameMarks,
  type Table,
  tableGrid,
} from '../../content/index.ts';
import type { Insertion, Spread } from '../format.ts';

/** A cell of a grid; an empty one may have a picture laid over it. */
export type GridCell = Cell & { readonly picture?: Picture };

/** Cells in rows, as they are to stand in a sheet; `undefined` leaves a place as it is. */
export type Grid = readonly (readonly (GridCell | undefined)[])[];

type Rows = (GridCell | undefined)[][];

/**
 * How content goes into cells: spread as asked, or as its shape suggests. Where pictures can be laid over the sheet, each has
 * an empty cell for itself.
 * @throws DrawerError `unsupported` where there is nothing that cells can hold.
 */
export function layOut(
  insertion: Insertion,
  { laysPictures = false } = {},
): { readonly grid: Grid; readonly notes: readonly Note[] } {
  const { content, style } = insertion;
  const pieces = (insertion.pieces ?? [content]).map((piece) => restyle(piece, style));
  const spread = insertion.spread ?? suitable(pieces);
  const grid = even(spreaders[spread](pieces, (picture) => laysPictures && insertion.media.has(picture.media)));
  const pictures = pieces.reduce((count, piece) => count + [...picturesIn(piece)].length, 0);
  const left = pictures - grid.flat().filter((cell) => cell?.picture).length;
  const reason = laysPictures ? 'it has no cell for itself' : 'cells hold words and numbers';
  const notes = left > 0 ? [{ what: `picture, left out: ${reason}`, count: left }] : [];
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

/** Whether a picture can be laid over the sheet. */
type Lays = (picture: Picture) => boolean;

const spreaders: { readonly [S in Spread]: (pieces: readonly Content[], lays: Lays) => Rows } = {
  down: (pieces, lays) => pieces.flatMap((piece) => (pieces.length === 1 ? inRows(piece, lays) : oneCell(piece, lays))),
  across: (pieces, lays) => [
    pieces.flatMap((piece) => (pieces.length === 1 ? inRows(piece, lays).flat() : (oneCell(piece, lays)[0] ?? []))),
  ],
  rows: (pieces, lays) =>
    pieces.map((piece) =>
      eachOf(piece).flatMap((part) => (part.shape === 'cells' ? part.rows.flat() : (oneCell(part, lays)[0] ?? []))),
    ),
  cell: (pieces) => [[wordCell(pieces.map((piece) => lines(piece)).join('\n'))]],
  range: (pieces, lays) => pieces.flatMap((piece) => inRows(piece, lays)),
};

/** Everything of a piece in one cell: a cell or a picture as it is, else its words. */
function oneCell(content: Content, lays: Lays): Rows {
  if (content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1)
    return [[...content.rows[0]]];
  const [picture, ...others] = picturesIn(content);
  if (picture && others.length === 0 && lays(picture) && isAlone(content)) return [[pictureCell(picture)]];
  if (content.shape === 'run') return [[runCell(content.inlines)]];
  const [only] = asBlocks(content);
  if (content.shape === 'blocks' && content.blocks.length === 1 && only?.type === 'paragraph')
    return [[runCell(only.inlines)]];
  return [[wordCell(lines(content))]];
}

/** Whether its one picture is all that there is. */
const isAlone = (content: Content): boolean =>
  content.shape === 'picture' ||
  asBlocks(content).every(
    (block) =>
      block.type === 'picture' ||
      (block.type === 'paragraph' && block.inlines.every((inline) => inline.type === 'picture')),
  );

const pictureCell = (picture: Picture): GridCell => ({ type: 'empty', picture });

const lines = (content: Content): string =>
  content.shape === 'cells'
    ? plainText(content)
    : asBlocks(content)
        .map((block) => (block.type === 'picture' ? (block.alt ?? '') : blocksText([block])))
        .join('\n');

/** A cell a block, an item and a table's row its own row; pictures stand below the words that they stood among. */
function inRows(content: Content, lays: Lays): Rows {
  if (content.shape === 'cells') return content.rows.map((row) => [...row]);
  return asBlocks(content).flatMap((block) => blockRows(block, lays));
}

const pictureRows = (blocks: readonly Block[], lays: Lays): Rows =>
  [...picturesIn({ shape: 'blocks', blocks })].filter(lays).map((picture) => [pictureCell(picture)]);

/** The blocks without the pictures that lie in cells of their own. */
const withoutLaid = (blocks: readonly Block[], lays: Lays): readonly Block[] =>
  asBlocks(mapPictures({ shape: 'blocks', blocks }, (picture) => (lays(picture) ? '' : picture)));

function blockRows(block: Block, lays: Lays): Rows {
  switch (block.type) {
    case 'paragraph':
    case 'heading': {
      const inlines = block.inlines.filter((inline) => inline.type !== 'picture' || !lays(inline));
      return [...(inlines.length > 0 ? [[runCell(inlines)]] : []), ...pictureRows([block], lays)];
    }
    case 'list':
      return block.items.flatMap(({ blocks }) => [
        [wordCell(blocksText(withoutLaid(blocks, lays), '\n'))],
        ...pictureRows(blocks, lays),
      ]);
    case 'table':
      return tableRows(block, lays);
    case 'quote':
      return block.blocks.flatMap((each) => blockRows(each, lays));
    case 'code':
      return [[wordCell(block.text)]];
    case 'picture':
      return pictureRows([block], lays);
    case 'rule':
      return [];
  }
}

/** A table's cells with their spans; headings are bold, as a sheet has no other sign for them. */
const tableRows = (table: Table, lays: Lays): Rows =>
  tableGrid(table).map((line, row) =>
    line.map((placed, column): GridCell | undefined => {
      if (!placed || placed.row !== row || placed.column !== column) return { type: 'empty' };
      const { blocks, columnSpan, rowSpan, background } = placed.cell;
      const [only] = blocks;
      const [picture] = isAlone({ shape: 'blocks', blocks }) ? picturesIn({ shape: 'blocks', blocks }) : [];
      const own =
        picture && lays(picture)
          ? pictureCell(picture)
          : blocks.length === 1 && only?.type === 'paragraph'
            ? runCell(only.inlines)
            : wordCell(blocksText(blocks, '\n'));
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

function even(rows: Rows): Grid {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  return rows.map((row) => [...row, ...Array.from({ length: width - row.length }, () => undefined)]);
}

/** How many characters a column of usual width shows. */
const usualWidth = 40;

/** Whether words are longer than their column is wide, in characters: they wrap, rather than run into the next cell. */
export const needsWrap = (cell: Cell, width = usualWidth): boolean =>
  cell.type === 'text' && (cell.value.includes('\n') || cell.value.length > width);
