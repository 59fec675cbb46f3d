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
import { type OutlineEntry, pointsOf, type ReadTools } from './format.ts';
import {
  bookmarkParts,
  nodeOffsets,
  numberedBlocks,
  type Prose,
  picturesOf,
  type Section,
  sectionsOf,
} from './prose.ts';
import type { Trace } from './trace.ts';

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
