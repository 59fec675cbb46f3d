import type { Origin, SnippetHead } from './snippet.ts';

/** `costs.xlsx, Timber!B2:D5`; the empty string when nothing is known. */
export const originInWords = ({ file, place, title, url, program }: Origin): string =>
  [file ?? title ?? url ?? program, place].filter((part) => part !== undefined).join(', ');

/** All places that a snippet is from, as they can be searched for. */
export const originsOf = ({ origin, parts }: Pick<SnippetHead, 'origin' | 'parts'>): readonly Origin[] =>
  parts?.map((part) => part.origin) ?? [origin];
