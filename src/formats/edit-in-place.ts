import {
  asBlocks,
  type Block,
  type ChangedRun,
  type Content,
  cellsOfRow,
  changedRuns,
  DrawerError,
  isSame,
  type Media,
  type Note,
  type PlacedCell,
  picturesIn,
  type Table,
  tableGrid,
} from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import { type Format, type Insertion, type ReadTools, type Side, type Source, sourceOf } from './format.ts';
import { formatNamed, formatOf } from './registry.ts';

/** A document as somebody changed it in an editor that does not show all that the file holds. */
export interface EditedDocument {
  /** What the editor gives back of the file's text when nothing was changed. */
  readonly shown: readonly Block[];
  /** What it gives back now. */
  readonly edited: readonly Block[];
  /** Bytes of the pictures in `edited`. */
  readonly media: Media;
  /** With it, what is inserted in a document of an office program is a tracked change by that name, at `date` (ISO 8601). */
  readonly author?: string | undefined;
  readonly date?: string | undefined;
}

/** The document with what was changed. */
export interface EditedInPlace {
  readonly bytes: Uint8Array;
  readonly notes: readonly Note[];
  /** How many places were changed. */
  readonly changes: number;
}

/**
 * Puts what was changed in an editor back into the document it was opened from: paragraphs, lists and tables that were not
 * touched stay as they are, with everything about them and the file that the editor did not show.
 * @throws DrawerError `unsupported` when the format cannot be changed in place, or the editor does not show its blocks one by one.
 */
export async function editInPlace(
  source: Source,
  { shown, edited, media, author, date }: EditedDocument,
  tools: ReadTools = {},
): Promise<EditedInPlace> {
  const { read, insert, remove } = await (await formatOf(source)).load();
  if (!read || !insert || !remove) throw new DrawerError('unsupported/format-not-edited');
  const originals = asBlocks((await read(source, { kind: 'whole' }, tools)).content);
  if (originals.length !== shown.length) throw new DrawerError('unsupported/editor-hides-blocks');
  const runs = changedRuns(originals, shown, edited);
  const document = new DocumentInPlace(source, { insert, remove }, { media, style: 'local', author, date }, tools);
  // From the end on, so that the numbers of what stands in front stay right.
  for (const run of runs.flatMap((each) => withTablesApart(each, originals)).reverse())
    await document.change(originals, run);
  const { source: now, notes } = document;
  return { bytes: await now.read(0, now.size), notes, changes: runs.length };
}

/** Splits runs so that each table that is still a table has a run of its own. */
function withTablesApart({ at, count, blocks }: ChangedRun, originals: readonly Block[]): readonly ChangedRun[] {
  const runs: { at: number; count: number; blocks: Block[] }[] = [];
  let isOpen = false;
  for (let index = 0; index < Math.max(count, blocks.length); index++) {
    const [original, block] = [index < count ? originals[at + index] : undefined, blocks[index]];
    const isTable = original?.type === 'table' && block?.type === 'table';
    if (isTable || !isOpen) runs.push({ at: at + Math.min(index, count), count: 0, blocks: [] });
    const run = runs.at(-1);
    if (run && original) run.count++;
    if (run && block) run.blocks.push(block);
    isOpen = !isTable;
  }
  return runs;
}

/** Edits a document block by block, and its tables cell by cell. */
class DocumentInPlace {
  source: Source;
  readonly notes: Note[] = [];
  readonly #format: Required<Pick<Format, 'insert' | 'remove'>>;
  readonly #landing: Pick<Insertion, 'media' | 'style' | 'author' | 'date'>;
  readonly #tools: ReadTools;

  constructor(
    source: Source,
    format: Required<Pick<Format, 'insert' | 'remove'>>,
    landing: Pick<Insertion, 'media' | 'style' | 'author' | 'date'>,
    tools: ReadTools,
  ) {
    this.source = source;
    this.#format = format;
    this.#landing = landing;
    this.#tools = tools;
  }

  async change(originals: readonly Block[], { at, count, blocks }: ChangedRun): Promise<void> {
    if (count === 1 && blocks.length === 1 && (await this.#changeCells(originals, at, blocks[0] as Block))) return;
    if (blocks.length > 0) {
      const [place, side] = placeFor(originals, at + count);
      await this.#insert(place, { shape: 'blocks', blocks }, side);
    }
    const going = originals.slice(at, at + count).flatMap((_, index) => fragmentOf(originals, at + index) ?? []);
    if (going.length > 0) this.#become(await this.#format.remove(this.source, going, this.#tools));
  }

  /**
   * Edits the changed cells of a table one by one, so that its look and all other cells stay. Returns `false` if its rows, columns
   * or spans have changed, or if a cell cannot hold its new content.
   */
  async #changeCells(originals: readonly Block[], at: number, edited: Block): Promise<boolean> {
    const [table, place] = [originals[at], fragmentOf(originals, at)];
    if (table?.type !== 'table' || edited.type !== 'table' || place?.kind !== 'table') return false;
    if (!isSame(spansOf(table), spansOf(edited))) return false;
    const { source } = this;
    const told = this.notes.length;
    try {
      const before = startingCells(table);
      for (const [index, { row, column, cell }] of startingCells(edited).entries()) {
        if (isSame(before[index]?.cell.blocks, cell.blocks)) continue;
        const cells = { rows: { from: row + 1, to: row + 1 }, columns: { from: column + 1, to: column + 1 } };
        await this.#insert({ ...place, cells }, wordsOrBlocks(cell.blocks), 'replace');
      }
      return true;
    } catch (error) {
      if (!DrawerError.is(error) || error.code !== 'unsupported') throw error;
      this.source = source;
      this.notes.length = told;
      return false;
    }
  }

  async #insert(place: Fragment, content: Content, side: Side): Promise<void> {
    this.#become(await this.#format.insert(this.source, place, { ...this.#landing, content, side }, this.#tools));
  }

  #become({ bytes, notes }: { readonly bytes: Uint8Array; readonly notes: readonly Note[] }): void {
    this.notes.push(...notes);
    this.source = sourceOf(bytes, this.source.name);
  }
}

const spansOf = ({ rows }: Table): unknown =>
  rows.map(({ cells }) => cells.map(({ columnSpan = 1, rowSpan = 1 }) => [columnSpan, rowSpan]));

/** The cells of a table, each with the row and column in which it begins, counted from 0. */
const startingCells = (table: Table): readonly PlacedCell[] =>
  tableGrid(table).flatMap((line, row) => cellsOfRow(line).filter((placed) => placed.row === row));

/** The blocks of a cell as content. A single paragraph becomes words, so that the paragraph in the file stays. */
function wordsOrBlocks(blocks: readonly Block[]): Content {
  const [only] = blocks;
  if (blocks.length === 0) return { shape: 'run', inlines: [] };
  return blocks.length === 1 && only?.type === 'paragraph'
    ? { shape: 'run', inlines: only.inlines }
    : { shape: 'blocks', blocks };
}

/** Where something lands that follows the blocks in front of index `end`: beside its neighbours, or else as near as can be. */
function placeFor(blocks: readonly Block[], end: number): [Fragment, Side] {
  // What lands beside the paragraph of a quote lands in the quote.
  const besides = (index: number): Fragment | undefined =>
    blocks[index]?.type === 'quote' ? undefined : fragmentOf(blocks, index);
  const [before, behind] = [besides(end - 1), besides(end)];
  if (before) return [before, 'after'];
  if (behind) return [behind, 'before'];
  if (end === blocks.length) return [{ kind: 'whole' }, 'end'];
  for (let index = end - 2; index >= 0; index--) {
    const place = besides(index);
    if (place) return [place, 'after'];
  }
  return [{ kind: 'whole' }, 'start'];
}

const paragraphs: ReadonlySet<Block['type']> = new Set(['paragraph', 'heading', 'quote', 'code']);
const isBlank = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length === 0;

/** The place of one block of the text's own level; rules and blank paragraphs have none. */
function fragmentOf(blocks: readonly Block[], index: number): Fragment | undefined {
  const block = blocks[index];
  if (!block || block.type === 'rule' || isBlank(block)) return undefined;
  const isParagraph = paragraphs.has(block.type);
  const isAlike = (each: Block): boolean =>
    isParagraph ? paragraphs.has(each.type) && !isBlank(each) : each.type === block.type;
  const number = blocks.slice(0, index + 1).filter(isAlike).length;
  const kind = isParagraph ? 'paragraph' : (block.type as 'table' | 'list' | 'picture');
  return { kind, from: number, to: number };
}

/** Content as text that people change by hand, and the way back. */
export interface EditForm {
  readonly text: string;
  /** What a changed text holds, with the bytes of its pictures: those there were, and those written out in it. */
  read(text: string): Promise<{ readonly content: Content; readonly media: Media }>;
}

/** Content as Markdown in which pictures are named `picture-1`, `picture-2` …. */
export async function editForm(content: Content, media: Media): Promise<EditForm> {
  const { write, read } = (await formatNamed('markdown').load()) as Required<Pick<Format, 'write' | 'read'>>;
  const hashes = [...new Set([...picturesIn(content)].map((picture) => picture.media))];
  const bytes = await write(content, {
    media,
    pictureAddress: (picture) => `picture-${hashes.indexOf(picture.media) + 1}`,
  });
  const relativeFile = async (name: string): Promise<Uint8Array | undefined> =>
    media.get(hashes[Number(/^picture-(\d+)$/.exec(name)?.[1] ?? 0) - 1] ?? '');
  return {
    text: new TextDecoder().decode(bytes),
    read: (text) => read(sourceOf(new TextEncoder().encode(text), 'snippet.md'), { kind: 'whole' }, { relativeFile }),
  };
}
