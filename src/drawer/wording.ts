import type { Note } from '../content/index.ts';
import { sizeInWords } from './facts.ts';
import type { Origin, SnippetHead } from './snippet.ts';

/** `costs.xlsx, Timber!B2:D5`; the empty string when nothing is known. */
export const originInWords = ({ file, place, title, url, program }: Origin): string =>
  [file ?? title ?? url ?? program, place].filter((part) => part !== undefined).join(', ');

/** `Kept as 5: table, 4 × 3, from costs.xlsx, Timber!B2:D5` */
export function keptInWords(position: number, { facts, origin }: SnippetHead): string {
  const from = originInWords(origin);
  return `Kept as ${position}: ${sizeInWords(facts)}${from === '' ? '' : `, from ${from}`}`;
}

/** One line for all that was brought down; `undefined` when nothing was. */
export const notesInWords = (notes: readonly Note[]): string | undefined =>
  notes.length === 0
    ? undefined
    : `Simplified: ${notes.map(({ what, count }) => (count === 1 ? what : `${what} (${count} times)`)).join('; ')}`;
