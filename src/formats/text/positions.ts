import { md5 } from '@noble/hashes/legacy.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { countOf, DrawerError } from '../../content/index.ts';
import { printFragment, type TextPositionFragment } from '../../places/index.ts';
import type { Side } from '../format.ts';
import { landedAt, type ProseInsertion } from '../insertion.ts';
import type { TextEdit } from '../text-edits.ts';
import type { Extent } from '../trace.ts';

/**
 * The characters or lines that a place of RFC 5147 means: positions lie between them, a line end counts as one character,
 * and a character is one of Unicode. Its line ends belong to the lines.
 * @throws DrawerError `not-found` past the end, `invalid` when a check (section 2.3) says that the text has changed.
 */
export function positionsOf(
  words: string,
  fragment: TextPositionFragment,
  bytes: Uint8Array,
): Extent & { readonly place: string } {
  check(words, fragment, bytes);
  const starts = fragment.kind === 'line' ? lineStarts(words) : characterStarts(words);
  const last = starts.length - 1;
  const place = placeOfRange(fragment, last);
  const { from = 0, to = last } = fragment;
  return { start: starts[from] ?? 0, end: starts[Math.min(to, last)] ?? words.length, place };
}

/**
 * A range of lines or characters with both its ends.
 * @param last - how many there are
 * @throws DrawerError `not-found` past the end
 */
export function placeOfRange(fragment: TextPositionFragment, last: number): string {
  const { from = 0, to = last } = fragment;
  if (from > last || to < from || from === to) {
    const count = countOf(fragment.kind === 'line' ? 'lines' : 'characters', last);
    const params = { kind: fragment.kind, from: String(from), count, last, example: Math.min(last, 3) };
    throw new DrawerError(from === to ? 'not-found/position-empty' : 'not-found/position-unknown', params);
  }
  return printFragment({ kind: fragment.kind, from, to: Math.min(to, last) });
}

/** Where each line begins, and the end of the text. */
function lineStarts(words: string): number[] {
  const starts = [0];
  for (const match of words.matchAll(/\r\n|[\n\r]/g)) starts.push(match.index + match[0].length);
  if (starts.at(-1) !== words.length) starts.push(words.length);
  return starts;
}

function characterStarts(words: string): number[] {
  const starts: number[] = [];
  for (let at = 0; at < words.length; ) {
    starts.push(at);
    const code = words.codePointAt(at) ?? 0;
    at += code > 0xffff || (code === 0x0d && words[at + 1] === '\n') ? 2 : 1;
  }
  return [...starts, words.length];
}

function check(words: string, { length, md5: sum }: TextPositionFragment, bytes: Uint8Array): void {
  const lengths = [bytes.length, [...words].length, characterStarts(words).length - 1];
  const isOther =
    (length !== undefined && !lengths.includes(length)) || (sum !== undefined && sum !== bytesToHex(md5(bytes)));
  if (isOther) throw new DrawerError('invalid/text-changed');
}

/** The line end that a text uses: that of its first line. */
export const lineEndOf = (source: string): string => /\r\n|[\n\r]/.exec(source)?.[0] ?? '\n';

/** Where the line begins that a position lies in. */
export const lineStart = (source: string, position: number): number =>
  Math.max(source.lastIndexOf('\n', position - 1), source.lastIndexOf('\r', position - 1)) + 1;

const countEnds = (words: string): number => words.match(/\r\n|[\n\r]/g)?.length ?? 0;

export interface Standing {
  /** What each line begins with: quote signs, or the space of a list. */
  readonly prefix?: string;
  /** How many line ends part it from what is around: 2 for one blank line. */
  readonly gap?: number;
}

/**
 * Lines that come to stand by themselves at a place between two blocks, with the line ends that are missing around them, and
 * written with those of the source.
 */
export function standing(
  source: string,
  place: number,
  body: string,
  { prefix = '', gap = 2 }: Standing = {},
): TextEdit {
  const start = lineStart(source, place);
  const position = /^[\s>]*$/.test(source.slice(start, place)) ? start : place;
  const before = source.slice(0, position);
  const behind = source.slice(position);
  const end = lineEndOf(source);
  const blank = prefix.trimEnd();
  const lines = body.split('\n').map((line) => (line === '' ? blank : prefix + line));
  const isFirst = before.trim() === '';
  const isLast = behind.trim() === '';
  const [lead = ''] = /[\s>]*$/.exec(before.slice(-400)) ?? [];
  const [tail = ''] = /^[\s>]*/.exec(behind.slice(0, 400)) ?? [];
  const ends = (count: number): string =>
    Array.from({ length: Math.max(0, count) }, (_, index) => (index === 0 ? '' : blank) + end).join('');
  const opens = isFirst ? '' : ends(gap - countEnds(lead));
  // A file that ends with a line end goes on doing so, and a new one begins to.
  const closes = isLast ? (behind === '' && (before === '' || lead !== '') ? end : '') : ends(gap - countEnds(tail));
  return { start: position, end: position, replacement: opens + lines.join(end) + closes };
}

/** The edit for a place that is named by lines or characters (RFC 5147). */
export function positionEdit(
  text: string,
  fragment: TextPositionFragment,
  side: Side = 'after',
  bytes: Uint8Array,
  words: string,
): ProseInsertion {
  const { start, end, place } = positionsOf(text, fragment, bytes);
  const own = words.replaceAll('\n', lineEndOf(text));
  const isLines = fragment.kind === 'line';
  const front = side === 'before' || side === 'start';
  const position = front || side === 'replace' ? start : end;
  const opens = isLines && position > 0 && !/[\n\r]$/.test(text.slice(0, position)) ? lineEndOf(text) : '';
  const closes = isLines && (position < text.length || opens === '') ? lineEndOf(text) : '';
  const replaced = side === 'replace' ? text.slice(start, end) : undefined;
  return {
    edits: [{ start: position, end: replaced === undefined ? position : end, replacement: opens + own + closes }],
    notes: [],
    where: landedAt(side === 'replace' ? 'replace' : front ? 'before' : 'after', place),
    ...(replaced !== undefined && { replaced }),
  };
}
