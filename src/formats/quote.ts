import { type Block, type Content, childBlocks, DrawerError, type Inline, joinText } from '../content/index.ts';
import type { QuoteFragment } from '../places/index.ts';

/**
 * Finds quoted words as a browser finds a text fragment (WICG Scroll To Text Fragment, section 3.5): upper and lower case
 * alike, white space of any kind and length alike, whole words only, the first match. A quote within one paragraph is a
 * run; one that goes over paragraph ends is blocks, the first and the last of them cut.
 * @throws DrawerError `not-found`
 */
export function findQuote(blocks: readonly Block[], quote: QuoteFragment): Content {
  const text = flatten(blocks);
  const range = findRange(text.words, quote);
  if (!range) {
    throw new DrawerError({
      code: 'not-found',
      what: `The words “${quote.start}”${quote.end === undefined ? '' : ` to “${quote.end}”`} are not in it`,
      next: 'Quote whole words just as they stand; drawer outline shows its parts',
    });
  }
  return cut(text, range);
}

interface Range {
  readonly start: number;
  readonly end: number;
}

// --- Flattening ------------------------------------------------------------------------------------------------------

/** A paragraph's, heading's or code's place in the flat text. */
interface Leaf {
  readonly block: Extract<Block, { type: 'paragraph' | 'heading' | 'code' }>;
  readonly start: number;
  readonly end: number;
}

interface FlatText {
  readonly words: string;
  readonly leaves: readonly Leaf[];
}

/** One UTF-16 unit stands for a break, a picture or a footnote, so that offsets map back to inlines. */
const unitOf = { break: '\n', picture: '\ufffc', footnote: '\ufffc' } as const;
const inlineUnits = (inline: Inline): string => (inline.type === 'text' ? inline.text : unitOf[inline.type]);

function flatten(blocks: readonly Block[]): FlatText {
  const leaves: Leaf[] = [];
  const parts: string[] = [];
  let length = 0;
  const add = (block: Block): void => {
    if (block.type === 'paragraph' || block.type === 'heading' || block.type === 'code') {
      const words = block.type === 'code' ? block.text : block.inlines.map(inlineUnits).join('');
      leaves.push({ block, start: length, end: length + words.length });
      parts.push(words, '\n');
      length += words.length + 1;
    } else childBlocks(block).forEach(add);
  };
  blocks.forEach(add);
  return { words: parts.join(''), leaves };
}

// --- Finding ---------------------------------------------------------------------------------------------------------

function findRange(words: string, { start, end, prefix, suffix }: QuoteFragment): Range | undefined {
  for (const first of matches(words, start, 0)) {
    if (prefix !== undefined && !endsWith(words, prefix, first.start)) continue;
    if (end === undefined) {
      if (suffix === undefined || beginsWith(words, suffix, first.end)) return first;
      continue;
    }
    for (const last of matches(words, end, first.end)) {
      if (suffix === undefined || beginsWith(words, suffix, last.end)) return { start: first.start, end: last.end };
    }
  }
  return undefined;
}

/** Where `wanted` stands as whole words, from `from` on. */
function* matches(words: string, wanted: string, from: number): Generator<Range> {
  const pattern = new RegExp(loose(wanted), 'giu');
  pattern.lastIndex = from;
  for (let match = pattern.exec(words); match; match = pattern.exec(words)) {
    const range = { start: match.index, end: match.index + match[0].length };
    if (isWholeWords(words, range)) yield range;
    pattern.lastIndex = match.index + 1;
  }
}

const beginsWith = (words: string, wanted: string, at: number): boolean =>
  new RegExp(`^\\s*${loose(wanted)}`, 'iu').test(words.slice(at, at + roomFor(wanted)));

const endsWith = (words: string, wanted: string, at: number): boolean =>
  new RegExp(`${loose(wanted)}\\s*$`, 'iu').test(words.slice(Math.max(0, at - roomFor(wanted)), at));

/** How far to look for words beside a match, white space of the file's own included. */
const roomFor = (wanted: string): number => wanted.length * 4 + 64;

/** Letters as they are, any white space for white space: a fixed sequence, so matching takes linear time. */
const loose = (wanted: string): string =>
  wanted
    .trim()
    .split(/\s+/)
    .map((part) => part.replace(/[\\^$.*+?()[\]{}|/-]/g, (sign) => (sign === '-' ? '\\x2d' : `\\${sign}`)))
    .join('\\s+');

/** Whether both ends lie between words, by the segmentation that also serves scripts without spaces. */
const isWholeWords = (words: string, { start, end }: Range): boolean =>
  isBoundary(words, start) && isBoundary(words, end);

/** Enough neighbours on each side to tell where words end. */
const reach = 48;

function isBoundary(words: string, at: number): boolean {
  if (at === 0 || at === words.length) return true;
  const start = Math.max(0, at - reach);
  const segment = new Intl.Segmenter(undefined, { granularity: 'word' })
    .segment(words.slice(start, at + reach))
    .containing(at - start);
  return segment?.index === at - start;
}

// --- Cutting ---------------------------------------------------------------------------------------------------------

function cut({ leaves }: FlatText, range: Range): Content {
  const touched = leaves.filter((leaf) => leaf.start < range.end && leaf.end > range.start);
  const [only] = touched;
  if (touched.length === 1 && only) {
    const part = cutLeaf(only, range);
    return 'inlines' in part ? { shape: 'run', inlines: part.inlines } : { shape: 'blocks', blocks: [part] };
  }
  return { shape: 'blocks', blocks: touched.map((leaf) => cutLeaf(leaf, range)) };
}

/** The part of a leaf that the range covers; the same block when that is all of it. */
function cutLeaf({ block, start, end }: Leaf, range: Range): Leaf['block'] {
  const from = Math.max(0, range.start - start);
  const to = Math.min(end, range.end) - start;
  if (from === 0 && to === end - start) return block;
  return block.type === 'code'
    ? { ...block, text: block.text.slice(from, to) }
    : { ...block, inlines: sliceInlines(block.inlines, from, to) };
}

function sliceInlines(inlines: readonly Inline[], from: number, to: number): Inline[] {
  let at = 0;
  const kept = inlines.flatMap((inline): Inline[] => {
    const length = inlineUnits(inline).length;
    const start = Math.max(from - at, 0);
    const end = Math.min(to - at, length);
    at += length;
    if (start >= end) return [];
    return [inline.type === 'text' ? { ...inline, text: inline.text.slice(start, end) } : inline];
  });
  return joinText(kept);
}
