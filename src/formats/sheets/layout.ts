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

/** A cell of a grid; an empty one may have a picture over it. */
export type GridCell = Cell & { readonly picture?: Picture };

/** A cell before its text is read as a value: `written` marks text that may be a value, and its language. */
type WayCell = GridCell & { readonly written?: { readonly language: string | undefined } };

/** Rows to be written to a sheet, from top to bottom; other rows stay as they are. */
export type Grid = readonly GridRow[];

/** A row of a grid. */
export interface GridRow {
  /** Rows below the grid's first row, from 0. */
  readonly offset: number;
  /** `undefined` leaves a cell of the sheet as it is. */
  readonly cells: readonly (GridCell | undefined)[];
}

/** The size of a grid in rows and columns, gaps included. */
export const gridSize = (grid: Grid): { readonly rows: number; readonly columns: number } => ({
  rows: (grid.at(-1)?.offset ?? -1) + 1,
  columns: grid[0]?.cells.length ?? 0,
});

/** A grid of consecutive rows. */
export const gridOf = (rows: readonly GridRow['cells'][]): Grid => rows.map((cells, offset) => ({ offset, cells }));

type Row = (WayCell | undefined)[];
/** Rows in order; a number is that many blank rows. */
type Rows = (Row | number)[];

const cellsOf = (rows: Rows): Row => rows.flatMap((row) => (typeof row === 'number' ? [] : row));

/**
 * Lays content out in cells, as asked or as its shape suggests. Text that is written as a value becomes one, unless text is asked
 * for or the sheet can hold nothing else. If the sheet can hold pictures, each gets an empty cell of its own.
 * @throws DrawerError `unsupported` if cells can hold none of it.
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

/** A range stays a range, with other pieces above and below it; otherwise one cell per piece, or per block. */
function suitable(pieces: readonly Content[]): Spread {
  const isRange = (content: Content): boolean =>
    content.shape === 'cells' ||
    (content.shape === 'blocks' && content.blocks.length === 1 && content.blocks[0]?.type === 'table');
  return pieces.some(isRange) ? 'range' : 'down';
}

/** Whether the sheet can hold a picture. */
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

/** Marks the text of a piece that may be values with the piece's language. */
const inLanguage = (rows: Rows, language: string | undefined): Rows =>
  language === undefined
    ? rows
    : rows.map((row) =>
        typeof row === 'number' ? row : row.map((cell) => (cell?.written ? { ...cell, written: { language } } : cell)),
      );

/** Reads text as values, together for each column and language. */
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

/** A whole piece in one cell: a single cell or picture unchanged, anything else as text. */
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

/** Whether the content is a single picture. */
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

/** The rows of a range with its gaps; if its source had no types, its text may be values. */
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

/** A cell whose spans count the sheet's rows and columns, gaps included. */
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

/** One row for each block, list item and table row; pictures follow the text that they were in. */
function inRows(content: Content, lays: Lays): Rows {
  if (content.shape === 'cells') return rangeRows(content);
  return asBlocks(content).flatMap((block) => blockRows(block, lays));
}

const pictureRows = (blocks: readonly Block[], lays: Lays): Rows =>
  [...picturesIn({ shape: 'blocks', blocks })].filter(lays).map((picture) => [pictureCell(picture)]);

/** The blocks without pictures that get cells of their own. */
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

/** A table's cells with their spans. Headings become bold; sheets have no other mark for them. */
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

/** Text that may be a value: without superscripts in part of it, footnotes and pictures. */
const undecided = { language: undefined } as const;
function writtenCell(inlines: readonly Inline[]): WayCell {
  const cell = runCell(inlines);
  return cell.type === 'text' && plainWords(inlines) !== undefined ? { ...cell, written: undecided } : cell;
}

/** Blocks in one cell; below headings, their text may be a value. */
function tableCell(blocks: readonly Block[], isHeading = false): WayCell {
  const [only] = blocks;
  return blocks.length === 1 && only?.type === 'paragraph' && !isHeading
    ? writtenCell(only.inlines)
    : blocksCell(blocks);
}

const wordCell = (words: string): Cell => (words === '' ? { type: 'empty' } : { type: 'text', value: words });

/** The rows that are not gaps, padded to the widest. */
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

/** Characters that a column of default width shows. */
const usualWidth = 40;

/** Whether text must wrap, since it has more characters than its column shows. */
export const needsWrap = (cell: Cell, width = usualWidth): boolean =>
  cell.type === 'text' && (cell.value.includes('\n') || cell.value.length > width);

/** A filled cell in the target area of a paste. */
export interface FilledCell {
  readonly row: number;
  readonly column: number;
  /** The text that it shows. */
  readonly words: string;
}

/** Cells named in a message, at most. */
const most = 5;

export const cellName = ({ row, column }: { readonly row: number; readonly column: number }): string =>
  `${columnLetters(column)}${row}`;

/** `B4 “Oak”, B5 “Larch” and 3 more` */
export const cellsTaken = (taken: readonly FilledCell[]): Param =>
  firstOf(
    taken.map((cell) => `${cellName(cell)} “${clipped(cell.words, 24)}”`),
    most,
  );

/** @throws DrawerError `consent` if filled cells would be overwritten without leave. */
export function checkFree(taken: readonly FilledCell[], over: boolean | undefined): void {
  if (taken.length === 0 || over) return;
  throw new DrawerError('consent/cells-taken', { cells: cellsTaken(taken) });
}

/** @throws DrawerError `unsupported` for a protected sheet */
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
