import * as v from 'valibot';
import {
  asBlocks,
  blocksText,
  type Content,
  contentSchema,
  describe,
  inlineText,
  measure,
  picturesIn,
  plural,
  preview,
  type Shape,
  shapes,
} from '../content/index.ts';

/** Where a snippet came from; what is not known is left out. */
export interface Origin {
  /** A file's name, without its folders. */
  readonly file?: string;
  /** The place in people's words: `Hull condition`, `Timber!B2:D5`. */
  readonly place?: string;
  readonly title?: string;
  readonly url?: string;
  /** The program it was copied in. */
  readonly program?: string;
}

/** What lists show of the content, worked out once. */
export interface Facts {
  readonly shape: Shape;
  /** In a word or two: `section`, `table, 4 × 3`. */
  readonly what: string;
  /** How it begins, on one line. */
  readonly preview: string;
  readonly characters: number;
  readonly words: number;
  readonly lines: number;
  /** Of its plain text in UTF-8. */
  readonly bytes: number;
}

/** A snippet without its content: all that a list needs. */
export interface SnippetHead {
  readonly id: string;
  /** Sorts snippets: a fractional index key, compared by code units. */
  readonly order: string;
  readonly origin: Origin;
  /** When it was gathered: ISO 8601 in UTC. */
  readonly takenAt: string;
  readonly facts: Facts;
  readonly label?: string;
  /** Held snippets are not let go to make room. */
  readonly held?: true;
}

export interface Snippet extends SnippetHead {
  readonly content: Content;
}

const words = v.pipe(v.string(), v.minLength(1), v.maxLength(4096));
const count = v.pipe(v.number(), v.integer(), v.minValue(0));

export const originSchema: v.GenericSchema<Origin> = v.strictObject({
  file: v.exactOptional(words),
  place: v.exactOptional(words),
  title: v.exactOptional(words),
  url: v.exactOptional(words),
  program: v.exactOptional(words),
});

const head = {
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(64)),
  order: v.pipe(v.string(), v.regex(/^[A-Za-z][0-9A-Za-z]*$/, 'must be an order key')),
  origin: originSchema,
  takenAt: v.pipe(
    v.string(),
    v.regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,3})?Z$/, 'must be a date and time in UTC'),
  ),
  facts: v.strictObject({
    shape: v.picklist(shapes),
    what: v.string(),
    preview: v.string(),
    characters: count,
    words: count,
    lines: count,
    bytes: count,
  }),
  label: v.exactOptional(words),
  held: v.exactOptional(v.literal(true)),
};

export const headSchema: v.GenericSchema<SnippetHead> = v.strictObject(head);
export const snippetSchema: v.GenericSchema<Snippet> = v.strictObject({ ...head, content: contentSchema });

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
