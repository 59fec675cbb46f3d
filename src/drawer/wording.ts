import { clipped, type Note, plural } from '../content/index.ts';
import { sizeInWords } from './facts.ts';
import type { KeepResult } from './keep.ts';
import type { Origin, SnippetHead } from './snippet.ts';

/** `costs.xlsx, Timber!B2:D5`; the empty string when nothing is known. */
export const originInWords = ({ file, place, title, url, program }: Origin): string =>
  [file ?? title ?? url ?? program, place].filter((part) => part !== undefined).join(', ');

/** Where a snippet is from, and how many others with it: `survey.docx, Hull condition, and 2 more`. */
export function originsInWords({ origin, parts }: SnippetHead): string {
  const [first = origin, ...others] = (parts ?? []).map((part) => part.origin);
  const words = originInWords(first);
  if (others.length === 0) return words;
  return words === '' ? `${others.length + 1} places` : `${words}, and ${others.length} more`;
}

/** `Kept as 5: table, 4 × 3, from costs.xlsx, Timber!B2:D5`, and whatever else there is to know of it. */
export function keptInWords(result: KeepResult): string {
  if (result.kind === 'blank') {
    const from = originInWords(result.origin);
    return `Not kept, since there is nothing in it${from === '' ? '' : `: ${from}`}`;
  }
  if (result.kind === 'ignored') return `Not kept, since the drawer’s rules leave ${originInWords(result.origin)} out`;
  if (result.kind === 'repeat') return `Not kept again: it is ${result.position} already`;
  const { position, head, sameAs, room, letGo, nextToGo } = result;
  const from = originsInWords(head);
  const size = sizeInWords(head.facts);
  const fact = { kept: `Kept as ${position}`, moved: `Moved to ${position}`, appended: `Appended to ${position}, now` }[
    result.kind
  ];
  return [
    `${fact}: ${size}${from === '' ? '' : `, from ${from}`}`,
    ...(sameAs === undefined ? [] : [`the same as ${sameAs}`]),
    ...(letGo ? [`let go to make room: ${letGo.map(named).join(', ')} (drawer undo brings back)`] : []),
    ...(room === undefined
      ? []
      : [room <= 0 ? 'the drawer is now full' : `the drawer has room for ${plural(room, 'more', 'more')}`]),
    ...(nextToGo ? [`the next one lets go of ${named(nextToGo)}`] : []),
  ].join('; ');
}

const named = ({ label, facts }: SnippetHead): string => `“${clipped(label ?? facts.preview, 40)}”`;

/** One line for all that was brought down, or else is to be known; `undefined` when nothing is. */
export function notesInWords(notes: readonly Note[], lead: 'Simplified' | 'Note' = 'Simplified'): string | undefined {
  const counts = new Map<string, number>();
  for (const { what, count } of notes) counts.set(what, (counts.get(what) ?? 0) + count);
  if (counts.size === 0) return undefined;
  return `${lead}: ${[...counts].map(([what, count]) => (count === 1 ? what : `${what} (${count} times)`)).join('; ')}`;
}
