import { type Content, describe, findLanguage, measure, picturesIn, plainText, preview } from '../content/index.ts';
import { memoize } from './call-order.ts';
import type { Facts, Origin } from './snippet.ts';

/** Works out the facts of content; `language` decides where words end and how dates are written. */
export type FactsOf = (content: Content, language?: string) => Facts;

const tools = memoize(() => Promise.all([import('./traits.ts'), import('./dates.ts')]));

/**
 * What tells traits is large and not needed to look things over, so it is loaded only to keep something; what reads dates,
 * only for the languages of what is kept.
 */
export async function loadFacts(languages: Iterable<string | undefined> = []): Promise<FactsOf> {
  const [{ traitsOf }, { loadDates }] = await tools();
  for (const language of new Set(languages)) await loadDates(language);
  return (content, tag) => {
    const language = findLanguage(tag); // pages say all kinds of things
    const traits = traitsOf(content, language);
    return {
      shape: content.shape,
      what: describe(content),
      preview: preview(content),
      ...measure(content, language),
      ...(traits.length > 0 && { traits }),
    };
  };
}

/** Finds the day that words of a language name, as ISO 8601; loaded only to sort by it. */
export async function loadDateFinder(language?: string): Promise<(words: string) => string | undefined> {
  const { findDate, loadDates } = await import('./dates.ts');
  await loadDates(language);
  return (words) => findDate(words, findLanguage(language));
}

/** The same for snippets that look the same in a list. */
export const lookOf = ({ shape, characters, bytes, preview: begins }: Facts): string =>
  JSON.stringify([shape, characters, bytes, begins]);

/** Whether there is nothing to see in it: no word and no picture. */
export function isBlank(content: Content): boolean {
  if (!picturesIn(content).next().done) return false;
  return plainText(content).trim() === '';
}

/** An origin without the parts that are `undefined` or empty; words are cut at 4,096 characters. */
export const originOf = (parts: { readonly [K in keyof Origin]: Origin[K] | undefined }): Origin =>
  Object.fromEntries(
    Object.entries(parts).flatMap(([key, value]) =>
      value ? [[key, typeof value === 'string' ? value.slice(0, 4096) : value]] : [],
    ),
  );
