import { type Note, plural } from '../content/index.ts';
import { type Origin, type SnippetHead, sizeInWords } from '../drawer/index.ts';

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

const units = [
  ['year', 365 * 86_400],
  ['month', 30 * 86_400],
  ['week', 7 * 86_400],
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
] as const;

/** How long ago, as people say it: `just now`, `3 minutes ago`. Without `Intl`, which takes longer to load than a list. */
export function ageInWords(takenAt: string, now: Date): string {
  const seconds = Math.max(0, (now.getTime() - Date.parse(takenAt)) / 1000);
  const unit = units.find(([, length]) => seconds >= length);
  return unit ? `${plural(Math.floor(seconds / unit[1]), unit[0])} ago` : 'just now';
}
