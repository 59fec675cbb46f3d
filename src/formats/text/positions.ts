import { md5 } from '@noble/hashes/legacy.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { countOf, DrawerError } from '../../content/index.ts';
import type { TextPositionFragment } from '../../places/index.ts';
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
 * A range of lines or characters in words.
 * @param last - how many there are
 * @throws DrawerError `not-found` past the end
 */
export function placeOfRange(fragment: TextPositionFragment, last: number): string {
  const { from = 0, to = last } = fragment;
  const unit = fragment.kind === 'line' ? 'line' : 'character';
  if (from > last || to < from || from === to) {
    const count = countOf(`${unit}s`, last);
    const params = { kind: fragment.kind, from: String(from), count, last, example: Math.min(last, 3) };
    throw new DrawerError(from === to ? 'not-found/position-empty' : 'not-found/position-unknown', params);
  }
  const end = Math.min(to, last);
  return end - from === 1 ? `${unit} ${end}` : `${unit}s ${from + 1}–${end}`;
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
