import { DrawerError } from '../content/index.ts';
import type { QuoteFragment } from '../places/index.ts';
import type { Range } from './flat-text.ts';

/**
 * Finds quoted words as a browser finds a text fragment (WICG Scroll To Text Fragment, section 3.5): first as they are
 * written, then upper and lower case alike; white space of any kind and length alike, whole words only, the first match.
 * @throws DrawerError `not-found`
 */
export function findQuote(words: string, quote: QuoteFragment): Range {
  const range = findRange(words, quote, 'gu') ?? findRange(words, quote, 'giu');
  if (!range) {
    throw new DrawerError('not-found/quote-unknown', {
      start: quote.start,
      ...(quote.end !== undefined && { end: quote.end }),
    });
  }
  return range;
}

// --- Finding ---------------------------------------------------------------------------------------------------------

function findRange(words: string, { start, end, prefix, suffix }: QuoteFragment, flags: string): Range | undefined {
  for (const first of matches(words, start, 0, flags)) {
    if (prefix !== undefined && !endsWith(words, prefix, first.start)) continue;
    if (end === undefined) {
      if (suffix === undefined || beginsWith(words, suffix, first.end)) return first;
      continue;
    }
    for (const last of matches(words, end, first.end, flags)) {
      if (suffix === undefined || beginsWith(words, suffix, last.end)) return { start: first.start, end: last.end };
    }
  }
  return undefined;
}

/** Where `wanted` stands as whole words, from `from` on. */
function* matches(words: string, wanted: string, from: number, flags: string): Generator<Range> {
  const pattern = new RegExp(loose(wanted), flags);
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
