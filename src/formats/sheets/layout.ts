import {
  ambiguousNote,
  asBlocks,
  type Block,
  blocksCell,
  blocksText,
  type Cell,
  type CellsContent,
  type Content,
  cellText,
  clipped,
  DrawerError,
  eachOf,
  findValue,
  firstOf,
  type Inline,
  type Marks,
  mapPictures,
  type Note,
  offsets,
  type Param,
  type Picture,
  picturesIn,
  plainText,
  plainWords,
  restyle,
  runCell,
  type Table,
  tableGrid,
  ValueReader,
} from '../../content/index.ts';
import { columnLetters } from '../../places/index.ts';
import type { Insertion, Spread } from '../format.ts';

/** A cell of a grid; an empty one may have a picture laid over it. */
export type GridCell = Cell & { readonly picture?: Picture };

/** A cell on its way: `written` marks words that may write a value, with their language. */
type WayCell = GridCell & { readonly written?: { readonly language: string | undefined } };

/** Rows of cells, as they are to stand in a sheet, from top to bottom; rows not among them are left as they are. */
export type Grid = readonly GridRow[];

/** A row of a grid. */
export interface GridRow {
  /** Its distance from the grid's first row, from 0. */
  readonly offset: number;
  /** `undefined` leaves a place as it is. */
  readonly cells: readonly (GridCell | undefined)[];
}

/** How many rows and columns a grid reaches over. */
export const gridSize = (grid: Grid): { readonly rows: number; readonly columns: number } => ({
  rows: (grid.at(-1)?.offset ?? -1) + 1,
  columns: grid[0]?.cells.length ?? 0,
});

/** Rows without gaps. */
export const gridOf = (rows: readonly GridRow['cells'][]): Grid => rows.map((cells, offset) => ({ offset, cells }));

type Row = (WayCell | undefined)[];
/** Rows in turn; a number stands for so many blank ones. */
type Rows = (Row | number)[];

const cellsOf = (rows: Rows): Row => rows.flatMap((row) => (typeof row === 'number' ? [] : row));

/**
 * How content goes into cells: spread as asked, or as its shape suggests. Words that write a value become one, unless they
 * are to stay words or the sheet holds words alone. Where pictures can be laid over the sheet, each has an empty cell for itself.
 * @throws DrawerError `unsupported` where there is nothing that cells can hold.
 */
export function layOut(
  insertion: Insertion,
  { laysPictures = false, holdsValues = true } = {},
): { readonly grid: Grid; readonly notes: readonly Note[] } {
  const { content, style } = insertion;
  const pieces = (insertion.pieces ?? [content]).map((piece) => restyle(piece, style));
  const spread = insertion.spread ?? suitable(pieces);
  const lays: Lays = (picture) => laysPictures && insertion.media.has(picture.media);
  const rows = spreaders[spread](pieces, insertion.languages ?? [], lays);
  const ambiguous: Note[] = [];
  const grid = withValues(even(rows), holdsValues && !insertion.asWords, ambiguous);
  const pictures = pieces.reduce((count, piece) => count + [...picturesIn(piece)].length, 0);
  const left = pictures - grid.flatMap(({ cells }) => cells.filter((cell) => cell?.picture)).length;
  const kind = laysPictures ? 'picture-without-cell' : 'picture-not-in-cells';
  const notes: Note[] = [...ambiguous, ...(left > 0 ? [{ kind, count: left } as const] : [])];
  if (grid.length > 0) return { grid, notes };
  throw new DrawerError(pictures > 0 ? 'unsupported/picture-into-cells' : 'unsupported/nothing-for-cells');
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

type Languages = readonly (string | undefined)[];
type Spreader = (pieces: readonly Content[], languages: Languages, lays: Lays) => Rows;

const spreaders: { readonly [S in Spread]: Spreader } = {
  down: (pieces, languages, lays) =>
    pieces.flatMap((piece, at) =>
      inLanguage(pieces.length === 1 ? inRows(piece, lays) : oneCell(piece, lays), languages[at]),
    ),
  across: (pieces, languages, lays) => [
    pieces.flatMap((piece, at) =>
      cellsOf(inLanguage(pieces.length === 1 ? inRows(piece, lays) : oneCell(piece, lays), languages[at])),
    ),
  ],
  rows: (pieces, languages, lays) =>
    pieces.map((piece, at) =>
      eachOf(piece).flatMap((part) =>
        cellsOf(inLanguage(part.shape === 'cells' ? inRows(part, lays) : oneCell(part, lays), languages[at])),
      ),
    ),
  cell: (pieces) => [[wordCell(pieces.map((piece) => lines(piece)).join('\n'))]],
  range: (pieces, languages, lays) => pieces.flatMap((piece, at) => inLanguage(inRows(piece, lays), languages[at])),
};

/** The words of a piece that may write values, with its language. */
const inLanguage = (rows: Rows, language: string | undefined): Rows =>
  language === undefined
    ? rows
    : rows.map((row) =>
        typeof row === 'number' ? row : row.map((cell) => (cell?.written ? { ...cell, written: { language } } : cell)),
      );

/** The grid with values where words write some; those of one column and language are read together. */
function withValues(
  lines: readonly { readonly offset: number; readonly cells: Row }[],
  reads: boolean,
  notes: Note[],
): Grid {
  const rows = lines.map(({ cells }) => cells);
  const grid: (GridCell | undefined)[][] = rows.map((row) => row.map(withoutMark));
  const placed = lines.map(({ offset }, at) => ({ offset, cells: grid[at] ?? [] }));
  if (!reads) return placed;
  const readers = new Map<string | undefined, ValueReader>();
  for (let column = 0; column < (rows[0]?.length ?? 0); column++) {
    const places = rows.flatMap((row, at) => {
      const written = row[column]?.written;
      return written ? [{ at, ...written }] : [];
    });
    for (const language of new Set(places.map((place) => place.language))) {
      const reader = readers.get(language) ?? new ValueReader(language);
      readers.set(language, reader);
      const own = places.filter((place) => place.language === language);
      const { values, ambiguity } = reader.readColumn(own.map(({ at }) => cellText(grid[at]?.[column] as Cell)));
      if (ambiguity) notes.push(ambiguousNote(ambiguity));
      own.forEach(({ at }, index) => {
        const [value, cell] = [values[index], grid[at]?.[column]];
        const line = grid[at];
        if (value && cell && line) line[column] = { ...cell, ...value } as GridCell;
      });
    }
  }
  return placed;
}

function withoutMark(cell: WayCell | undefined): GridCell | undefined {
  if (!cell?.written) return cell;
  const { written: _, ...rest } = cell;
  return rest as GridCell;
}

/** Everything of a piece in one cell: a cell or a picture as it is, else its words. */
function oneCell(content: Content, lays: Lays): Rows {
  if (content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1)
    return rangeRows(content);
  const [picture, ...others] = picturesIn(content);
  if (picture && others.length === 0 && lays(picture) && isAlone(content)) return [[pictureCell(picture)]];
  if (content.shape === 'run') return [[writtenCell(content.inlines)]];
  const [only] = asBlocks(content);
  if (content.shape === 'blocks' && content.blocks.length === 1 && only?.type === 'paragraph')
    return [[writtenCell(only.inlines)]];
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

/** The cells of a range with its gaps; where its source had no types, its words may write values. */
function rangeRows(range: CellsContent): Rows {
  const down = offsets(range.rows.length, range.gaps?.rows);
  const across = offsets(range.rows[0]?.length ?? 0, range.gaps?.columns);
  const blanks = new Map(range.gaps?.rows?.map(({ before, count }) => [before, count]));
  return range.rows.flatMap((row, index): Rows => {
    const cells = row.map((cell, column): WayCell => {
      const placed = range.gaps ? spread(cell, index, column, down, across) : cell;
      return range.untyped && cell.type === 'text' ? { ...placed, written: undecided } : placed;
    });
    const blank = blanks.get(index);
    return [...(blank ? [blank] : []), range.gaps?.columns ? atPlaces(cells, across) : cells];
  });
}

/** A cell whose span counts the lines of a sheet, gaps too. */
function spread(cell: Cell, row: number, column: number, down: readonly number[], across: readonly number[]): Cell {
  const { rowSpan = 1, columnSpan = 1 } = cell;
  if (rowSpan === 1 && columnSpan === 1) return cell;
  const reach = (at: number, span: number, places: readonly number[]): number =>
    (places[Math.min(at + span, places.length) - 1] ?? 0) - (places[at] ?? 0) + 1;
  return {
    ...cell,
    ...(rowSpan > 1 && { rowSpan: reach(row, rowSpan, down) }),
    ...(columnSpan > 1 && { columnSpan: reach(column, columnSpan, across) }),
  };
}

function atPlaces(cells: Row, across: readonly number[]): Row {
  const row: Row = new Array((across.at(-1) ?? -1) + 1).fill(undefined);
  cells.forEach((cell, index) => {
    row[across[index] ?? index] = cell;
  });
  return row;
}

/** A cell a block, an item and a table's row its own row; pictures stand below the words that they stood among. */
function inRows(content: Content, lays: Lays): Rows {
  if (content.shape === 'cells') return rangeRows(content);
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
      const cell = block.type === 'heading' ? runCell(inlines) : writtenCell(inlines);
      return [...(inlines.length > 0 ? [[cell]] : []), ...pictureRows([block], lays)];
    }
    case 'list':
      return block.items.flatMap(({ blocks }) => [
        [tableCell(withoutLaid(blocks, lays))],
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
    line.map((placed, column): WayCell | undefined => {
      if (!placed || placed.row !== row || placed.column !== column) return { type: 'empty' };
      const { blocks, columnSpan, rowSpan, background } = placed.cell;
      const isHeading = row < (table.headerRows ?? 0);
      const value = findValue(placed.cell);
      const [picture] = isAlone({ shape: 'blocks', blocks }) ? picturesIn({ shape: 'blocks', blocks }) : [];
      const own = picture && lays(picture) ? pictureCell(picture) : tableCell(blocks, isHeading);
      const marks: Marks = { ...own.marks, ...(isHeading && { bold: true as const }) };
      return {
        ...(value ? { ...withoutMark(own), ...value } : own),
        ...(Object.keys(marks).length > 0 && { marks }),
        ...(columnSpan !== undefined && { columnSpan }),
        ...(rowSpan !== undefined && { rowSpan }),
        ...(background !== undefined && { background }),
      };
    }),
  );

/** Words that may write a value, of which not only some are raised, a note or a picture. */
const undecided = { language: undefined } as const;
function writtenCell(inlines: readonly Inline[]): WayCell {
  const cell = runCell(inlines);
  return cell.type === 'text' && plainWords(inlines) !== undefined ? { ...cell, written: undecided } : cell;
}

/** Blocks in one cell, whose words may write a value below headings. */
function tableCell(blocks: readonly Block[], isHeading = false): WayCell {
  const [only] = blocks;
  return blocks.length === 1 && only?.type === 'paragraph' && !isHeading
    ? writtenCell(only.inlines)
    : blocksCell(blocks);
}

const wordCell = (words: string): Cell => (words === '' ? { type: 'empty' } : { type: 'text', value: words });

/** The rows that are no gap, all as wide as the widest. */
function even(rows: Rows): { readonly offset: number; readonly cells: Row }[] {
  const width = rows.reduce<number>((most, row) => (typeof row === 'number' ? most : Math.max(most, row.length)), 0);
  const lines: { offset: number; cells: Row }[] = [];
  let offset = 0;
  for (const row of rows) {
    if (typeof row === 'number') offset += row;
    else lines.push({ offset: offset++, cells: [...row, ...new Array<undefined>(width - row.length).fill(undefined)] });
  }
  return lines;
}

/** How many characters a column of usual width shows. */
const usualWidth = 40;

/** Whether words are longer than their column is wide, in characters: they wrap, rather than run into the next cell. */
export const needsWrap = (cell: Cell, width = usualWidth): boolean =>
  cell.type === 'text' && (cell.value.includes('\n') || cell.value.length > width);

/** A cell that holds something where something else is to land. */
export interface TakenCell {
  readonly row: number;
  readonly column: number;
  /** What it shows. */
  readonly words: string;
}

/** How many are named. */
const most = 5;

export const cellName = ({ row, column }: { readonly row: number; readonly column: number }): string =>
  `${columnLetters(column)}${row}`;

/** `B4 “Oak”, B5 “Larch” and 3 more` */
export const cellsTaken = (taken: readonly TakenCell[]): Param =>
  firstOf(
    taken.map((cell) => `${cellName(cell)} “${clipped(cell.words, 24)}”`),
    most,
  );

/** @throws DrawerError `consent` where cells that hold something would give way unasked. */
export function checkFree(taken: readonly TakenCell[], over: boolean | undefined): void {
  if (taken.length === 0 || over) return;
  throw new DrawerError('consent/cells-taken', { cells: cellsTaken(taken) });
}

/** Refuses to change a sheet that is protected. @throws DrawerError `unsupported` */
export function checkSheetMayChange({
  name,
  isProtected,
}: {
  readonly name: string;
  readonly isProtected: boolean;
}): void {
  if (!isProtected) return;
  throw new DrawerError('unsupported/sheet-protected', { sheet: name });
}

/** Whether a sheet of a workbook is protected (ISO/IEC 29500-1, 18.3.1.85), seen in its whole text or only in what follows its rows. */
export const isProtectedPart = (text: string): boolean =>
  /<(?:[\w.-]+:)?sheetProtection\s[^<>]*\bsheet=["'](?:1|true)["']/.test(text);
