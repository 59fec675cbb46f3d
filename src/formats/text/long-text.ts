import { TextDecoder } from '@exodus/bytes/encoding-lite.js';
import { countOf } from '../../content/index.ts';
import type { TextPositionFragment } from '../../places/index.ts';
import { bounds, checkBound } from '../bounds.ts';
import type { OutlineEntry, Source } from '../format.ts';
import { statedEncoding } from './encoding.ts';
import { placeOfRange } from './positions.ts';

/** Whether a text is too long to be read as a whole; its lines can be taken all the same. */
export const isLong = ({ size }: Source): boolean => size > bounds.text.most;

/**
 * Lines of a long text (RFC 5147, section 2.2), read a piece at a time and no further than the last of them.
 * @throws DrawerError `not-found` past the end; `too-large` for more than may be taken at once
 */
export async function readLongLines(
  source: Source,
  fragment: TextPositionFragment,
): Promise<{ readonly words: string; readonly place: string }> {
  const { from = 0, to = Number.POSITIVE_INFINITY } = fragment;
  let words = '';
  let last = 0;
  await eachLine(source, (line) => {
    if (last >= from && last < to) {
      words += line;
      checkBound('characters', words.length);
    }
    return ++last < to;
  });
  return { words, place: placeOfRange(fragment, last) };
}

const longestLabel = 60;
/** Lines between two of which the outline is told, at least. */
const stretch = 1_000;
/** Entries of an outline, at most. */
const mostEntries = 100;

/** Stretches of lines, each by how it begins. */
export async function outlineLongText(source: Source): Promise<OutlineEntry[]> {
  const labels: string[] = [];
  let last = 0;
  await eachLine(source, (line) => {
    // A mere slice would keep the whole piece in memory.
    if (last++ % stretch === 0) labels.push(structuredClone(line.trim().slice(0, longestLabel)));
    return true;
  });
  const each = Math.ceil(labels.length / mostEntries);
  return labels
    .filter((_, at) => at % each === 0)
    .map((label, at) => {
      const from = at * each * stretch;
      const to = Math.min(last, from + each * stretch);
      return { place: `line=${from},${to}`, kind: 'section', depth: 0, label, size: countOf('lines', to - from) };
    });
}

/** Hears each line with its end, until it is told that no more is wanted. */
async function eachLine(source: Source, hear: (line: string) => boolean): Promise<void> {
  let rest = '';
  for await (const piece of pieces(source)) {
    const words = rest + piece;
    let start = 0;
    // A line that ends with the piece may go on, or its end be half of one.
    for (const { index, 0: end } of words.matchAll(/(?:\r\n|\n|\r(?!\n))(?=[\s\S])/g)) {
      if (!hear(words.slice(start, index + end.length))) return;
      start = index + end.length;
    }
    rest = words.slice(start);
    checkBound('characters', rest.length);
  }
  if (rest !== '') hear(rest);
}

const pieceLength = 1024 * 1024;

/** The text in pieces; what turns out not to be UTF-8 is Windows-1252, as in shorter texts. */
async function* pieces(source: Source): AsyncGenerator<string> {
  const { name, markLength } = statedEncoding(await source.read(0, Math.min(source.size, 4096)));
  const isGuessed = name === undefined;
  const encoding = isGuessed && !(await isWellFormed(source)) ? 'windows-1252' : (name ?? 'utf-8');
  const decoder = new TextDecoder(encoding, { ignoreBOM: true });
  for (let at = markLength; at < source.size; at += pieceLength)
    yield decoder.decode(await source.read(at, Math.min(source.size, at + pieceLength)), { stream: true });
  yield decoder.decode();
}

async function isWellFormed(source: Source): Promise<boolean> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  try {
    for (let at = 0; at < source.size; at += pieceLength)
      decoder.decode(await source.read(at, Math.min(source.size, at + pieceLength)), { stream: true });
    decoder.decode();
    return true;
  } catch {
    return false;
  }
}
