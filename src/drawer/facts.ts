import {
  asBlocks,
  blocksText,
  type Content,
  describe,
  inlineText,
  measure,
  picturesIn,
  plural,
  preview,
} from '../content/index.ts';
import type { Facts, Origin } from './snippet.ts';

/** The facts of content; `language` decides where words end. */
export function factsOf(content: Content, language?: string): Facts {
  return { shape: content.shape, what: describe(content), preview: preview(content), ...measure(content, language) };
}

/** Whether there is nothing to see in it: no word and no picture. */
export function isBlank(content: Content): boolean {
  if (!picturesIn(content).next().done) return false;
  return (content.shape === 'run' ? inlineText(content.inlines) : blocksText(asBlocks(content))).trim() === '';
}

/** `a` without what is `undefined` in it: how optional parts of an origin are left out. */
export const originOf = (parts: { readonly [K in keyof Origin]: Origin[K] | undefined }): Origin =>
  Object.fromEntries(Object.entries(parts).flatMap(([key, value]) => (value ? [[key, value.slice(0, 4096)]] : [])));

/** What it is and how long, in words: `section, 212 words`, `table, 4 × 3`, `12 words`. */
export function sizeInWords({ shape, what, words: wordCount }: Facts): string {
  if (shape === 'run') return plural(wordCount, 'word');
  return /^(table|list|picture|cell|rule|nothing)/.test(what) ? what : `${what}, ${plural(wordCount, 'word')}`;
}
