import {
  type Block,
  blocksText,
  columnCount,
  countBlockWords,
  countOf,
  countWords,
  type Message,
  preview,
  type Table,
  tableGrid,
} from '../content/index.ts';
import { columnLetters, type Fragment, printFragment } from '../places/index.ts';
import { contentOf, flatten, type LeafPart, leafUnits } from './flat-text.ts';
import {
  type NoteCounter,
  type Outline,
  type OutlineEntry,
  pointsOf,
  type ReadTools,
  type Side,
  type Taken,
} from './format.ts';
import { partBytes, type Zip } from './package/zip.ts';
import { resolvePictures } from './pictures.ts';
import {
  bookmarkParts,
  type Interest,
  interestOf,
  nodeOffsets,
  numberedBlocks,
  type Prose,
  picturesOf,
  type Section,
  sectionsOf,
  selectProse,
} from './prose.ts';
import type { DecodedText } from './text/encoding.ts';
import { Trace } from './trace.ts';

/** A document of a package as it was read: its text, and its pictures named by their parts. */
export interface PackagedProse {
  readonly zip: Zip;
  readonly blocks: readonly Block[];
  readonly notes: NoteCounter;
  readonly language?: string;
  readonly trace?: Trace;
}

/** What is asked of the reader of a document. */
export interface ProseRequest {
  readonly interest?: Interest | undefined;
  readonly trace?: Trace | undefined;
  /** After how many blocks reading may stop. */
  readonly enough?: number | undefined;
  /** The source of its text, where it is in memory already; then the trace tells where everything stands in it. */
  readonly source?: DecodedText;
}

type Read = (request: ProseRequest) => Promise<PackagedProse>;

/** What a place of a packaged document holds, read no further than the place needs. */
export async function takeProse(read: Read, fragment: Fragment): Promise<Taken> {
  const trace = fragment.kind === 'bookmark' ? new Trace() : undefined;
  const document = await read({ trace, interest: interestOf(fragment) });
  const { content: selected, place } = selectProse(document, fragment);
  const { content, media } = await resolvePictures(selected, (part) => partBytes(document.zip, part), document.notes);
  return {
    content,
    media,
    notes: document.notes.notes,
    ...(place !== undefined && { place }),
    ...(document.language !== undefined && { language: document.language }),
  };
}

/**
 * A document in memory as text, read for something to land at a place of it. Behind a section no more is kept than the
 * section, unless only what is elsewhere shows what a plain paragraph looks like.
 */
export async function readForLanding(
  read: Read,
  source: DecodedText,
  fragment: Fragment,
  side: Side | undefined,
): Promise<PackagedProse & { readonly trace: Trace }> {
  const readWith = async (interest: Interest | undefined) => {
    const trace = new Trace();
    return { ...(await read({ source, interest, trace })), trace };
  };
  const interest = side === undefined || side === 'after' || side === 'end' ? interestOf(fragment) : undefined;
  const prose = await readWith(interest);
  const isPlain = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length > 0;
  return interest && !prose.blocks.some(isPlain) ? readWith(undefined) : prose;
}

export async function outlinePackaged(read: Read, tools?: ReadTools): Promise<Outline> {
  const document = await read({ trace: new Trace() });
  return { entries: outlineProse(document, document.language, tools), notes: document.notes.notes };
}

/** Every section, table, list and picture of the text, in reading order, with paragraphs and columns where they are asked for. */
export function outlineProse({ blocks, trace }: Prose, language?: string, extras: ReadTools = {}): OutlineEntry[] {
  const words = new WordCounts(language);
  return [...outlineBlocks(blocks, words, extras), ...outlineBookmarks(blocks, trace, words)];
}

/** Counts the words of each block once, however many sections and bookmarks it lies in. */
class WordCounts {
  readonly #language: string | undefined;
  readonly #known = new Map<Block, number>();

  constructor(language: string | undefined) {
    this.#language = language;
  }

  of(blocks: readonly Block[]): number {
    return blocks.reduce((sum, block) => sum + this.#ofOne(block), 0);
  }

  ofParts(parts: readonly LeafPart[]): number {
    return parts.reduce((sum, { block, from, to }) => {
      const words = leafUnits(block);
      const isWhole = from === 0 && to === words.length;
      return sum + (isWhole ? this.#ofOne(block) : countWords(words.slice(from, to), this.#language));
    }, 0);
  }

  #ofOne(block: Block): number {
    const known = this.#known.get(block);
    if (known !== undefined) return known;
    const count = countBlockWords([block], this.#language);
    this.#known.set(block, count);
    return count;
  }
}

function outlineBlocks(
  blocks: readonly Block[],
  words: WordCounts,
  { paragraphs, columns }: ReadTools,
): OutlineEntry[] {
  const numbers = new Map(
    paragraphs ? numberedBlocks(blocks, 'paragraph').map(({ block }, index) => [block, index + 1]) : [],
  );
  const sections = new Map(sectionsOf(blocks).map((section) => [section.start, section]));
  const counters = { table: 0, list: 0 };
  let pictures = 0;
  const names = new Map<string, number>();
  const repeated = repeatedNames([...sections.values()]);
  let depth = 0;
  return blocks.flatMap((block, index): OutlineEntry[] => {
    const section = sections.get(index);
    if (section) {
      const nth = (names.get(section.name) ?? 0) + 1;
      names.set(section.name, nth);
      depth = section.level;
      return [sectionEntry(blocks, section, repeated.has(section.name) ? nth : undefined, words)];
    }
    const entries: OutlineEntry[] = [];
    const number = numbers.get(block);
    if (number !== undefined)
      entries.push({
        place: `paragraph=${number}`,
        kind: 'paragraph',
        depth,
        label: label(block),
        size: countOf('words', words.of([block])),
        isExtra: true,
      });
    if (block.type === 'table' || block.type === 'list') {
      const place = `${block.type}=${++counters[block.type]}`;
      entries.push({ place, kind: block.type, depth, label: label(block), size: blockSize(block) });
      if (block.type === 'table' && columns) entries.push(...columnEntries(block, place, depth + 1));
    }
    const inside = block.type === 'picture' ? depth : depth + 1;
    for (const { picture } of picturesOf([block]))
      entries.push({
        place: `picture=${++pictures}`,
        kind: 'picture',
        depth: 'inlines' in block ? depth : inside,
        label: picture.alt ?? '',
        ...pointsOf(picture),
      });
    return entries;
  });
}

/** The columns of a table by their headings, or by their letters where a heading is no name of one. */
function columnEntries(table: Table, place: string, depth: number): OutlineEntry[] {
  const heads = Math.max(1, table.headerRows ?? 1);
  const names = (tableGrid(table)[heads - 1] ?? []).map((placed) =>
    blocksText(placed?.cell.blocks ?? [], ' ')
      .replace(/\s+/g, ' ')
      .trim(),
  );
  return names.map((name, at): OutlineEntry => {
    const isName = name !== '' && names.indexOf(name) === names.lastIndexOf(name) && !/[!#=]/.test(name);
    const letters = columnLetters(at + 1);
    const isAddress = /^\$?[A-Za-z]{1,3}(?:\$?\d+)?(?::.*)?$/.test(name);
    return {
      place: `${place}!${isName && !isAddress ? printHeading(name) : `${letters}:${letters}`}`,
      kind: 'column',
      depth,
      label: name || letters,
      size: countOf('rows', Math.max(0, table.rows.length - heads)),
      isExtra: true,
    };
  });
}

/** A heading as the place of a column has it. */
const printHeading = (heading: string): string =>
  printFragment({ kind: 'table', from: 1, to: 1, cells: { heading } }).replace('table=1!', '');

/** Bookmarks that people set: programs give theirs names that begin with an underscore. */
function outlineBookmarks(blocks: readonly Block[], trace: Trace | undefined, words: WordCounts): OutlineEntry[] {
  const names = [...(trace?.bookmarks ?? [])].filter(([name]) => !name.startsWith('_'));
  if (!trace || names.length === 0) return [];
  const text = flatten(blocks);
  const offsets = nodeOffsets(text, trace);
  return names.flatMap(([name, bookmark]): OutlineEntry[] => {
    const parts = bookmarkParts(text, offsets, bookmark);
    if (parts.length === 0) return [];
    const content = contentOf(blocks, parts);
    return [
      {
        place: printFragment({ kind: 'bookmark', name }),
        kind: 'bookmark',
        depth: 0,
        label: `${name}: ${preview(content, 60)}`,
        size: countOf('words', words.ofParts(parts)),
      },
    ];
  });
}

function repeatedNames(sections: readonly Section[]): ReadonlySet<string> {
  const names = sections.map(({ name }) => name);
  return new Set(names.filter((name, index) => names.indexOf(name) !== index));
}

function sectionEntry(
  blocks: readonly Block[],
  section: Section,
  nth: number | undefined,
  words: WordCounts,
): OutlineEntry {
  const inside = blocks.slice(section.start, section.end);
  const fragment: Fragment = { kind: 'section', name: section.name, ...(nth !== undefined && { nth }) };
  return {
    place: printFragment(fragment),
    kind: 'section',
    depth: section.level - 1,
    label: section.name,
    size: countOf('words', words.of(inside)),
  };
}

const label = (block: Block): string => preview({ shape: 'blocks', blocks: [block] }, 60);

function blockSize(block: Block): Message {
  if (block.type === 'table')
    return { kind: 'size.grid', params: { rows: block.rows.length, columns: columnCount(block) } };
  if (block.type === 'list') return countOf('items', block.items.length);
  return countOf('characters', blocksText([block]).length);
}
