import {
  asBlocks,
  type Block,
  type Content,
  changedRuns,
  DrawerError,
  type Media,
  type Note,
  picturesIn,
} from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import { type Format, type ReadTools, type Source, sourceOf } from './format.ts';
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
  const notes: Note[] = [];
  let now = source;
  // From the end on, so that the numbers of what stands in front stay right.
  for (const run of [...runs].reverse()) {
    const { at, count, blocks } = run;
    if (blocks.length > 0) {
      const [place, side] = placeFor(originals, at + count);
      const insertion = {
        content: { shape: 'blocks', blocks } as const,
        media,
        style: 'local' as const,
        side,
        author,
        date,
      };
      const inserted = await insert(now, place, insertion, tools);
      notes.push(...inserted.notes);
      now = sourceOf(inserted.bytes, source.name);
    }
    const going = originals.slice(at, at + count).flatMap((_, index) => fragmentOf(originals, at + index) ?? []);
    if (going.length > 0) {
      const removed = await remove(now, going, tools);
      notes.push(...removed.notes);
      now = sourceOf(removed.bytes, source.name);
    }
  }
  return { bytes: await now.read(0, now.size), notes, changes: runs.length };
}

/** Where something lands that follows the blocks in front of index `end`: beside its neighbours, or else as near as can be. */
function placeFor(blocks: readonly Block[], end: number): [Fragment, 'after' | 'before' | 'start' | 'end'] {
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
