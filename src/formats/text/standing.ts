import type { TextEdit } from '../text-edits.ts';

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
