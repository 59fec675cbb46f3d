import {
  type Block,
  blocksText,
  columnCount,
  countBlockWords,
  countWords,
  type Picture,
  plural,
  preview,
} from '../content/index.ts';
import { type Fragment, printFragment } from '../places/index.ts';
import { contentOf, flatten, type LeafPart, leafUnits } from './flat-text.ts';
import type { OutlineEntry } from './format.ts';
import { bookmarkParts, nodeOffsets, type Prose, picturesOf, type Section, sectionsOf } from './prose.ts';
import type { Trace } from './trace.ts';

/** Every section, table, list and picture of the text, in reading order. */
export function outlineProse({ blocks, trace }: Prose, language?: string): OutlineEntry[] {
  const words = new WordCounts(language);
  return [...outlineBlocks(blocks, words), ...outlineBookmarks(blocks, trace, words)];
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

function outlineBlocks(blocks: readonly Block[], words: WordCounts): OutlineEntry[] {
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
    if (block.type === 'table' || block.type === 'list') {
      const place = `${block.type}=${++counters[block.type]}`;
      entries.push({ place, kind: block.type, depth, label: label(block), size: blockSize(block) });
    }
    const inside = block.type === 'picture' ? depth : depth + 1;
    for (const { picture } of picturesOf([block]))
      entries.push({
        place: `picture=${++pictures}`,
        kind: 'picture',
        depth: 'inlines' in block ? depth : inside,
        label: picture.alt ?? '',
        size: pictureSize(picture),
      });
    return entries;
  });
}

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
        size: plural(words.ofParts(parts), 'word'),
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
    size: plural(words.of(inside), 'word'),
  };
}

const label = (block: Block): string => preview({ shape: 'blocks', blocks: [block] }, 60);

const pictureSize = ({ width, height }: Picture): string =>
  width && height ? `${Math.round(width)} × ${Math.round(height)} pt` : '';

function blockSize(block: Block): string {
  if (block.type === 'table') return `${block.rows.length} × ${columnCount(block)}`;
  if (block.type === 'list') return plural(block.items.length, 'item');
  return plural(blocksText([block]).length, 'character');
}
