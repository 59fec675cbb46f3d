import {
  type Block,
  blocksIn,
  type Content,
  childBlocks,
  DrawerError,
  type Heading,
  inlineText,
  inlineUnits,
  type Picture,
  type Table,
  typedContent,
} from '../content/index.ts';
import {
  type Fragment,
  type NamedFragment,
  type NumberedFragment,
  printFragment,
  type TableCells,
} from '../places/index.ts';
import {
  contentOf,
  type FlatText,
  findQuote,
  flatten,
  isLeaf,
  type LeafPart,
  leafUnits,
  touchedLeaves,
} from './flat-text.ts';
import { nearest } from './nearest.ts';
import { type CellsOfTable, cellsOfTable } from './table-cells.ts';
import { type Bookmark, leavesIn, type SourceNode, type Trace } from './trace.ts';

/**
 * Places in text documents, the same for every format. Sections, paragraphs and so on are counted at the top level; text inside
 * tables is reached by quoting it.
 */

/** The content at a place, and the place as written after `#`. */
export interface Selected {
  readonly content: Content;
  readonly place?: string;
  /** The parts of the document that a cut removes. */
  readonly parts: readonly SelectedPart[];
  /** For cells: their table, and the position of the first of them. */
  readonly inTable?: { readonly table: Table } & CellsOfTable['first'];
}

/** A whole block, or the units `from` up to, not including, `to` of its flat text. */
export type SelectedPart = { readonly block: Block; readonly from?: number; readonly to?: number };

/** A text document's blocks, with their source positions if requested. */
export interface Prose {
  readonly blocks: readonly Block[];
  readonly trace?: Trace | undefined;
  /** Language of its numbers and dates, a BCP 47 tag. */
  readonly language?: string | undefined;
}

/** @throws DrawerError `not-found` with the nearest place, `ambiguous`, or `unsupported` */
export function selectProse(prose: Prose, fragment: Fragment): Selected {
  const { blocks } = prose;
  switch (fragment.kind) {
    case 'whole':
      return wholeBlocks(blocks);
    case 'section':
      return selectSection(blocks, fragment);
    case 'paragraph':
    case 'table':
    case 'list':
      return selectNumbered(prose, fragment);
    case 'picture':
      return selectPictures(blocks, fragment);
    case 'bookmark':
      if (!prose.trace) throw notOffered(blocks, fragment);
      return selectBookmark(prose, fragment);
    case 'quote': {
      const text = flatten(blocks);
      return selectRange(blocks, touchedLeaves(text, findQuote(text.words, fragment)), fragment);
    }
    default:
      throw notOffered(blocks, fragment);
  }
}

/** The error for a kind of place that the file does not have. */
export const notOffered = (blocks: readonly Block[], fragment: Fragment): DrawerError =>
  new DrawerError('unsupported/place-kind-not-here', { place: printFragment(fragment), ...exampleIn(blocks) });

const selectRange = (
  blocks: readonly Block[],
  parts: readonly LeafPart[],
  fragment: Fragment,
  isWide = parts.length > 1,
): Selected => ({
  content: contentOf(blocks, parts),
  place: printFragment(fragment),
  parts: isWide ? wholeParts(blocks, new Map(parts.map((part) => [part.block, part]))) : parts,
});

/** Parts in which lists, tables and quotes that are covered completely are one part each. */
function wholeParts(blocks: readonly Block[], parts: ReadonlyMap<Block, LeafPart>): SelectedPart[] {
  const isWhole = (block: Block): boolean => {
    if (!isLeaf(block)) return childBlocks(block).every(isWhole);
    const { length } = leafUnits(block);
    const part = parts.get(block);
    return length === 0 || (part?.from === 0 && part.to === length);
  };
  const holdsPart = (block: Block): boolean => parts.has(block) || childBlocks(block).some(holdsPart);
  return blocks.flatMap((block): SelectedPart[] => {
    const part = parts.get(block);
    if (part) return [part];
    if (isLeaf(block) || !holdsPart(block)) return [];
    return isWhole(block) ? [{ block }] : wholeParts(childBlocks(block), parts);
  });
}

/** An existing place, as an example: a section if there is one. */
const exampleIn = (blocks: readonly Block[]): { readonly section: string } | { readonly example: string } => {
  const [section] = sectionsOf(blocks);
  return section ? { section: section.name } : { example: 'paragraph=1' };
};

function wholeBlocks(blocks: readonly Block[], place?: string): Selected {
  const trimmed = trimBlank(blocks);
  return {
    content: { shape: 'blocks', blocks: trimmed },
    parts: blocks.map((block) => ({ block })),
    ...(place !== undefined && { place }),
  };
}

const isBlank = (block: Block | undefined): boolean => block?.type === 'paragraph' && block.inlines.length === 0;

/** Removes empty paragraphs at both ends; those between stay. */
function trimBlank(blocks: readonly Block[]): readonly Block[] {
  let start = 0;
  let end = blocks.length;
  while (start < end && isBlank(blocks[start])) start++;
  while (end > start && isBlank(blocks[end - 1])) end--;
  return start === 0 && end === blocks.length ? blocks : blocks.slice(start, end);
}

// --- Sections --------------------------------------------------------------------------------------------------------

export interface Section {
  readonly name: string;
  readonly level: number;
  /** Its blocks with the heading: `start` up to, not including, `end`. */
  readonly start: number;
  readonly end: number;
}

/** The sections; each ends before the next heading of the same or a higher level. */
export function sectionsOf(blocks: readonly Block[]): Section[] {
  const sections: { name: string; level: number; start: number; end: number }[] = [];
  const open: (typeof sections)[number][] = [];
  blocks.forEach((block, start) => {
    if (block.type !== 'heading') return;
    while ((open.at(-1)?.level ?? 0) >= block.level) (open.pop() as Section & { end: number }).end = start;
    const section = { name: headingName(block), level: block.level, start, end: blocks.length };
    open.push(section);
    if (section.name !== '') sections.push(section);
  });
  return sections;
}

/**
 * Called with each top-level heading in order; returns whether the blocks after it are needed. A reader may skip other blocks, but
 * not headings.
 */
export type SectionFilter = (heading: Heading) => boolean;

/** A filter for the sections that a place may name; `undefined` if the place may name anything. */
export function sectionFilterOf(fragment: Fragment): SectionFilter | undefined {
  if (fragment.kind !== 'section') return undefined;
  const name = folded(fragment.name);
  let level: number | undefined;
  return (heading) => {
    if (level !== undefined && heading.level > level) return true;
    level = folded(headingName(heading)).startsWith(name) ? heading.level : undefined;
    return level !== undefined;
  };
}

/** The text of a heading on one line, without footnotes. */
export const headingName = (heading: Heading): string =>
  oneLine(inlineText(heading.inlines.filter(({ type }) => type !== 'footnote')));

const oneLine = (words: string): string => words.replace(/\s+/g, ' ').trim();
const folded = (words: string): string => oneLine(words).normalize('NFC').toLowerCase();

function selectSection(blocks: readonly Block[], { name, nth }: NamedFragment): Selected {
  const sections = sectionsOf(blocks);
  const matches = closest(sections, name);
  const found = nth === undefined ? matches[0] : matches[nth - 1];
  if (!found) throw noSection(sections, name, matches.length);
  if (nth === undefined && matches.length > 1) {
    throw new DrawerError('ambiguous/section-ambiguous', { count: matches.length, name: found.name });
  }
  const place = printFragment({ kind: 'section', name: found.name, ...(nth !== undefined && { nth }) });
  return wholeBlocks(blocks.slice(found.start, found.end), place);
}

/** Sections with exactly this name, else ignoring case, else beginning with it. */
function closest(sections: readonly Section[], name: string): readonly Section[] {
  const exact = sections.filter((section) => section.name === oneLine(name));
  if (exact.length > 0) return exact;
  const alike = sections.filter((section) => folded(section.name) === folded(name));
  if (alike.length > 0) return alike;
  const begun = sections.filter((section) => folded(section.name).startsWith(folded(name)));
  if (new Set(begun.map((section) => section.name)).size <= 1) return begun;
  throw new DrawerError('ambiguous/section-start-ambiguous', {
    count: begun.length,
    name,
    sections: begun.slice(0, 4).map((section) => `#section=${section.name}`),
  });
}

function noSection(sections: readonly Section[], name: string, sameName: number): DrawerError {
  if (sameName > 0) {
    return new DrawerError('not-found/section-number-unknown', { count: sameName, name });
  }
  const near = nearest(
    name,
    sections.map((section) => section.name),
  );
  return new DrawerError('not-found/section-unknown', { name, ...(near !== undefined && { near }) });
}

// --- Numbered places -------------------------------------------------------------------------------------------------

interface Numbered {
  readonly block: Block;
  readonly index: number;
}

/** The top-level blocks that `paragraph=`, `list=` and the like count; paragraphs include headings and code, but no empty ones. */
export function numberedBlocks(blocks: readonly Block[], kind: NumberedFragment['kind']): Numbered[] {
  const numbered = blocks.map((block, index) => ({ block, index }));
  if (kind !== 'paragraph') return numbered.filter(({ block }) => block.type === kind);
  return numbered.filter(
    ({ block }) => ['paragraph', 'heading', 'quote', 'code'].includes(block.type) && !isBlank(block),
  );
}

function selectNumbered({ blocks, language }: Prose, fragment: NumberedFragment): Selected {
  const all = numberedBlocks(blocks, fragment.kind);
  const chosen = chooseNumbered(all, fragment).map(({ block }) => block);
  const [only] = chosen;
  if (fragment.cells && only?.type === 'table') return selectCells(only, fragment, fragment.cells, language);
  return {
    content: { shape: 'blocks', blocks: chosen },
    place: printFragment(fragment),
    parts: chosen.map((block) => ({ block })),
  };
}

/** Cells of a table as a range, with typed values. */
function selectCells(
  table: Table,
  fragment: NumberedFragment,
  cells: TableCells,
  language: string | undefined,
): Selected {
  const { content, place, blocks, first } = cellsOfTable(table, fragment, cells);
  return {
    content: typedContent(content, language),
    place,
    parts: blocks.map((block) => ({ block })),
    inTable: { table, ...first },
  };
}

function chooseNumbered<T>(all: readonly T[], { kind, from, to }: NumberedFragment): readonly T[] {
  if (to <= all.length) return all.slice(from - 1, to);
  throw new DrawerError('not-found/block-unknown', {
    kind: { kind: `block.${kind}` },
    place: kind,
    from,
    ...(from !== to && { to }),
    ...(all.length > 0 && { count: { kind: `count.${kind}s`, params: { count: all.length } }, last: all.length }),
  });
}

/** A picture and its position: a block, or units of a paragraph. */
interface FoundPicture {
  readonly picture: Picture;
  readonly part: SelectedPart;
}

/** All pictures in reading order, those in paragraphs, lists and tables included. */
export function picturesOf(blocks: readonly Block[]): FoundPicture[] {
  const found: FoundPicture[] = [];
  for (const block of blocksIn(blocks)) {
    if (block.type === 'picture') {
      const { type: _, ...picture } = block;
      found.push({ picture, part: { block } });
    }
    if (!('inlines' in block)) continue;
    let at = 0;
    for (const inline of block.inlines) {
      if (inline.type === 'picture') {
        const { type: _, ...picture } = inline;
        found.push({ picture, part: { block, from: at, to: at + 1 } });
      }
      at += inlineUnits(inline).length;
    }
  }
  return found;
}

function selectPictures(blocks: readonly Block[], fragment: NumberedFragment): Selected {
  const chosen = chooseNumbered(picturesOf(blocks), fragment);
  const [only] = chosen;
  return {
    content:
      chosen.length === 1 && only
        ? { shape: 'picture', picture: only.picture }
        : { shape: 'blocks', blocks: chosen.map(({ picture }) => ({ type: 'picture', ...picture })) },
    place: printFragment(fragment),
    parts: chosen.map(({ part }) => part),
  };
}

// --- Bookmarks -------------------------------------------------------------------------------------------------------

/** The content of a bookmark, found by its name or a unique beginning of it; a bookmark without content means its paragraph. */
function selectBookmark({ blocks, trace }: Prose, { name }: NamedFragment): Selected {
  const names = [...(trace?.bookmarks.keys() ?? [])];
  const begins = names.filter((each) => folded(each).startsWith(folded(name)));
  const alike = names.find((each) => folded(each) === folded(name)) ?? (begins.length === 1 ? begins[0] : undefined);
  const found = trace?.bookmarks.get(name) ?? trace?.bookmarks.get(alike ?? '');
  if (!trace || !found) {
    const near = nearest(name, names);
    throw new DrawerError('not-found/bookmark-unknown', { name, ...(near !== undefined && { near }) });
  }
  const text = flatten(blocks);
  const parts = bookmarkParts(text, nodeOffsets(text, trace), found);
  if (parts.length === 0) throw new DrawerError('not-found/bookmark-empty', { name, ...exampleIn(blocks) });
  // One from the first to the last cell of a table is around all of it, even if only one holds something.
  return selectRange(blocks, parts, { kind: 'bookmark', name }, found.isAround || found.start.leaf !== found.end.leaf);
}

/** The offset of each source paragraph in the flat text; of one that no block was read from, such as an empty cell's, the end before it. */
export function nodeOffsets(text: FlatText, trace: Trace): ReadonlyMap<SourceNode, number> {
  const offsets = new Map<SourceNode, number>();
  const ends = new Map<SourceNode, number>();
  for (const leaf of text.leaves) {
    let at = leaf.start;
    for (const node of trace.nodes.get(leaf.block) ?? []) {
      offsets.set(node, at);
      ends.set(node, leaf.end);
      at += node.pieces.reduce((sum, piece) => sum + piece.units, 0) + 1;
    }
  }
  let end = 0;
  for (const node of leavesIn(trace.root)) {
    if (!offsets.has(node)) offsets.set(node, end);
    end = ends.get(node) ?? end;
  }
  return offsets;
}

export function bookmarkParts(
  text: FlatText,
  offsets: ReadonlyMap<SourceNode, number>,
  { start, end }: Bookmark,
): LeafPart[] {
  const from = offsets.get(start.leaf);
  const to = offsets.get(end.leaf);
  if (from === undefined || to === undefined) return [];
  const range = { start: from + start.at, end: to + end.at };
  if (range.start < range.end) return touchedLeaves(text, range);
  const around = text.leaves.find((leaf) => leaf.start <= range.start && range.start <= leaf.end);
  return around && around.end > around.start ? touchedLeaves(text, around) : [];
}
