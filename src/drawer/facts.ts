import { type Content, describe, findLanguage, measure, picturesIn, plainText, preview } from '../content/index.ts';
import { memoize } from './call-order.ts';
import type { Facts, Origin } from './snippet.ts';

/** Computes the facts of content. @param language - decides word breaks and date formats */
export type FactsOf = (content: Content, language?: string) => Facts;

const tools = memoize(() => Promise.all([import('./traits.ts'), import('./dates.ts')]));

/**
 * Loads the code for facts. Detecting traits needs large packages, so it is loaded only for keeping, and dates only in the languages
 * of the kept content.
 */
export async function loadFacts(languages: Iterable<string | undefined> = []): Promise<FactsOf> {
  const [{ traitsOf }, { loadDates }] = await tools();
  for (const language of new Set(languages)) await loadDates(language);
  return (content, tag) => {
    const language = findLanguage(tag); // pages declare invalid tags, too
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

/** Loads a function that finds the day named by words of a language, as ISO 8601. */
export async function loadDateFinder(language?: string): Promise<(words: string) => string | undefined> {
  const { findDate, loadDates } = await import('./dates.ts');
  await loadDates(language);
  return (words) => findDate(words, findLanguage(language));
}

/** A key that is equal for snippets that look alike in a list. */
export const lookOf = ({ shape, characters, bytes, preview: begins }: Facts): string =>
  JSON.stringify([shape, characters, bytes, begins]);

/** Whether content has neither words nor pictures. */
export function isBlank(content: Content): boolean {
  if (!picturesIn(content).next().done) return false;
  return plainText(content).trim() === '';
}

/** Builds an origin without undefined and empty parts; words are cut at 4,096 characters. */
export const originOf = (parts: { readonly [K in keyof Origin]: Origin[K] | undefined }): Origin =>
  Object.fromEntries(
    Object.entries(parts).flatMap(([key, value]) =>
      value ? [[key, typeof value === 'string' ? value.slice(0, 4096) : value]] : [],
    ),
  );
