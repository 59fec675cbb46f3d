import {
  type Block,
  blocksText,
  type Content,
  columnCount,
  DrawerError,
  type Heading,
  inlineText,
  measure,
  plural,
  preview,
} from '../content/index.ts';
import { type Fragment, type NamedFragment, type NumberedFragment, printFragment } from '../places/index.ts';
import type { OutlineEntry } from './format.ts';
import { nearest } from './nearest.ts';
import { findQuote } from './quote.ts';

/**
 * Places in running text, the same for every format that holds prose. Sections, paragraphs and so on are those of the
 * text's own level: what lies inside a table is reached by quoting it.
 */

/** What a place of running text holds, and what people call the place. */
export interface Selected {
  readonly content: Content;
  readonly place?: string;
}

/** @throws DrawerError `not-found` with the nearest place there is, `ambiguous`, or `unsupported`. */
export function selectProse(blocks: readonly Block[], fragment: Fragment): Selected {
  switch (fragment.kind) {
    case 'whole':
      return { content: blocksContent(blocks) };
    case 'section':
      return selectSection(blocks, fragment);
    case 'paragraph':
    case 'table':
    case 'list':
    case 'picture':
      return selectNumbered(blocks, fragment);
    case 'quote':
      return {
        content: findQuote(blocks, fragment),
        place: `“${fragment.start}${fragment.end === undefined ? '' : ` … ${fragment.end}`}”`,
      };
    case 'cells':
    case 'name':
      throw new DrawerError({
        code: 'not-found',
        what: `This file has no sheets, so “${printFragment(fragment)}” means nothing in it`,
        next: nextFor(blocks),
      });
    default:
      throw new DrawerError({
        code: 'unsupported',
        what: `Places of the kind “${fragment.kind}” are not served yet for this file`,
        next: nextFor(blocks),
      });
  }
}

const nextFor = (blocks: readonly Block[]): string =>
  sectionsOf(blocks).length > 0
    ? `It has sections, such as #section=${sectionsOf(blocks)[0]?.name}`
    : 'Such as #paragraph=1, or #:~:text= and quoted words';

const blocksContent = (blocks: readonly Block[]): Content => ({ shape: 'blocks', blocks: trimBlank(blocks) });

const isBlank = (block: Block | undefined): boolean => block?.type === 'paragraph' && block.inlines.length === 0;

/** Without the empty paragraphs around it; those between stay, as the author set them. */
function trimBlank(blocks: readonly Block[]): readonly Block[] {
  let start = 0;
  let end = blocks.length;
  while (start < end && isBlank(blocks[start])) start++;
  while (end > start && isBlank(blocks[end - 1])) end--;
  return start === 0 && end === blocks.length ? blocks : blocks.slice(start, end);
}

// --- Sections --------------------------------------------------------------------------------------------------------

interface Section {
  readonly name: string;
  readonly level: number;
  /** Its blocks, heading included: from `start` up to, not including, `end`. */
  readonly start: number;
  readonly end: number;
}

/** A section runs from its heading to the next one of the same or a higher level. */
function sectionsOf(blocks: readonly Block[]): Section[] {
  const headings = blocks.flatMap((block, start) => (block.type === 'heading' ? [{ start, heading: block }] : []));
  return headings.flatMap(({ start, heading }, index) => {
    const name = headingName(heading);
    const next = headings.slice(index + 1).find((other) => other.heading.level <= heading.level);
    return name === '' ? [] : [{ name, level: heading.level, start, end: next?.start ?? blocks.length }];
  });
}

/**
 * Told of each heading of the text's own level in turn, says whether what follows it is wanted. A reader need keep nothing
 * else but the headings.
 */
export type Interest = (heading: Heading) => boolean;

/** Wants what a section's place may mean; `undefined` where a place may mean anything. */
export function interestOf(fragment: Fragment): Interest | undefined {
  if (fragment.kind !== 'section') return undefined;
  const name = folded(fragment.name);
  let level: number | undefined;
  return (heading) => {
    if (level !== undefined && heading.level > level) return true;
    level = folded(headingName(heading)) === name ? heading.level : undefined;
    return level !== undefined;
  };
}

/** A heading's words on one line, footnotes left out. */
const headingName = (heading: Heading): string =>
  oneLine(inlineText(heading.inlines.filter(({ type }) => type !== 'footnote')));

const oneLine = (words: string): string => words.replace(/\s+/g, ' ').trim();
const folded = (words: string): string => oneLine(words).normalize('NFC').toLowerCase();

function selectSection(blocks: readonly Block[], { name, nth }: NamedFragment): Selected {
  const sections = sectionsOf(blocks);
  const exact = sections.filter((section) => section.name === oneLine(name));
  const matches = exact.length > 0 ? exact : sections.filter((section) => folded(section.name) === folded(name));
  const found = nth === undefined ? matches[0] : matches[nth - 1];
  if (!found) throw noSection(sections, name, matches.length);
  if (nth === undefined && matches.length > 1) {
    throw new DrawerError({
      code: 'ambiguous',
      what: `${matches.length} sections are named “${found.name}”`,
      next: `Say which: #section=${found.name};1 to #section=${found.name};${matches.length}`,
    });
  }
  return { content: blocksContent(blocks.slice(found.start, found.end)), place: found.name };
}

function noSection(sections: readonly Section[], name: string, sameName: number): DrawerError {
  if (sameName > 0) {
    return new DrawerError({
      code: 'not-found',
      what: `There ${sameName === 1 ? 'is one section' : `are ${sameName} sections`} named “${name}”`,
    });
  }
  const near = nearest(
    name,
    sections.map((section) => section.name),
  );
  return new DrawerError({
    code: 'not-found',
    what: `There is no section “${name}”`,
    next:
      near === undefined
        ? 'It has no headings, so take it by #paragraph= or by quoting words'
        : `The nearest is #section=${near}`,
  });
}

// --- Numbered places -------------------------------------------------------------------------------------------------

interface Numbered {
  readonly block: Block;
  readonly index: number;
}

/** Paragraphs that hold something (headings and code too; not lists, tables and pictures), and lists, tables, pictures. */
function numberedBlocks(blocks: readonly Block[], kind: NumberedFragment['kind']): Numbered[] {
  const numbered = blocks.map((block, index) => ({ block, index }));
  if (kind !== 'paragraph') return numbered.filter(({ block }) => block.type === kind);
  return numbered.filter(
    ({ block }) => ['paragraph', 'heading', 'quote', 'code'].includes(block.type) && !isBlank(block),
  );
}

function selectNumbered(blocks: readonly Block[], { kind, from, to }: NumberedFragment): Selected {
  const all = numberedBlocks(blocks, kind);
  const chosen = all.slice(from - 1, to);
  if (to > all.length) {
    throw new DrawerError({
      code: 'not-found',
      what: from === to ? `There is no ${kind} ${from}` : `There are no ${kind}s ${from} to ${to}`,
      next:
        all.length === 0
          ? `It has no ${kind} of its own`
          : `It has ${plural(all.length, kind)}; the last is #${kind}=${all.length}`,
    });
  }
  const place = from === to ? `${kind} ${from}` : `${kind}s ${from}–${to}`;
  const [only] = chosen;
  if (chosen.length === 1 && only?.block.type === 'picture') {
    const { type: _, ...picture } = only.block;
    return { content: { shape: 'picture', picture }, place };
  }
  return { content: { shape: 'blocks', blocks: chosen.map(({ block }) => block) }, place };
}

// --- Outline ---------------------------------------------------------------------------------------------------------

/** Every section, table, list and picture of the text, in reading order. */
export function outlineProse(blocks: readonly Block[], language?: string): OutlineEntry[] {
  const sections = new Map(sectionsOf(blocks).map((section) => [section.start, section]));
  const counters = { table: 0, list: 0, picture: 0 };
  const names = new Map<string, number>();
  const repeated = repeatedNames([...sections.values()]);
  let depth = 0;
  return blocks.flatMap((block, index): OutlineEntry[] => {
    const section = sections.get(index);
    if (section) {
      const nth = (names.get(section.name) ?? 0) + 1;
      names.set(section.name, nth);
      depth = section.level;
      return [sectionEntry(blocks, section, repeated.has(section.name) ? nth : undefined, language)];
    }
    if (block.type !== 'table' && block.type !== 'list' && block.type !== 'picture') return [];
    const nth = ++counters[block.type];
    return [{ place: `${block.type}=${nth}`, kind: block.type, depth, label: label(block), size: blockSize(block) }];
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
  language?: string,
): OutlineEntry {
  const inside = blocks.slice(section.start, section.end);
  const fragment: Fragment = { kind: 'section', name: section.name, ...(nth !== undefined && { nth }) };
  return {
    place: printFragment(fragment),
    kind: 'section',
    depth: section.level - 1,
    label: section.name,
    size: plural(measure({ shape: 'blocks', blocks: inside }, language).words, 'word'),
  };
}

const label = (block: Block): string =>
  block.type === 'picture' ? (block.alt ?? '') : preview({ shape: 'blocks', blocks: [block] }, 60);

function blockSize(block: Block): string {
  if (block.type === 'table') return `${block.rows.length} × ${columnCount(block)}`;
  if (block.type === 'list') return plural(block.items.length, 'item');
  if (block.type === 'picture')
    return block.width && block.height ? `${Math.round(block.width)} × ${Math.round(block.height)} pt` : '';
  return plural(blocksText([block]).length, 'character');
}
