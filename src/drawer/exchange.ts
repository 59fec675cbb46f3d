import { toBase64 } from '@exodus/bytes/base64.js';
import * as v from 'valibot';
import { type Content, eachOf, type Media, parseWith } from '../content/index.ts';
import { originOf } from './facts.ts';
import { type CheckedInput, snippetSchema, travellingSchema } from './schema.ts';
import type { Snippet, SnippetInput } from './snippet.ts';

/** Snippets as one JSON value, for transfer between drawers and programs. */
export interface Exported {
  readonly format: 'drawer-snippets';
  readonly version: 1;
  readonly snippets: readonly Snippet[];
  /** Picture bytes in Base64 (RFC 4648, section 4), by their SHA-256. */
  readonly media: Readonly<Record<string, string>>;
}

export const exportedSchema: v.GenericSchema<unknown, Exported> = v.strictObject({
  format: v.literal('drawer-snippets'),
  version: v.literal(1),
  snippets: v.array(snippetSchema),
  media: v.record(v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)), v.pipe(v.string(), v.regex(/^[A-Za-z0-9+/]*={0,2}$/))),
});

/** Exports snippets with the bytes of their pictures as one JSON value. @see docs/snippets.schema.json */
export function exportSnippets(snippets: readonly Snippet[], media: Media): Exported {
  return {
    format: 'drawer-snippets',
    version: 1,
    snippets,
    media: Object.fromEntries([...media].map(([hash, bytes]) => [hash, toBase64(bytes)])),
  };
}

/** The result of reading a file, as far as it matters for keeping. */
export interface Extracted {
  readonly content: Content;
  readonly media: Media;
  readonly place?: string;
  readonly title?: string;
  readonly url?: string;
  readonly program?: string;
  readonly language?: string;
  /** Whether the source marks it as a secret. */
  readonly secret?: true;
  /** Unchecked metadata of a snippet from another drawer. */
  readonly brings?: Readonly<Record<string, unknown>>;
  /** Several results that stay separate. */
  readonly separate?: readonly Extracted[];
}

/** Converts the result of reading a file to inputs for `keep`, usually one. @param fileName - the empty string for no file */
export function gatheredFrom(fileName: string, taken: Extracted): CheckedInput[] {
  if (taken.separate) return taken.separate.flatMap((each) => gatheredFrom(fileName, each));
  const { content, media, place, title, url, program, language, secret, brings } = taken;
  if (brings) return [{ ...parseWith(travellingSchema, brings, place ?? 'snippet'), content, media }];
  const origin = originOf({ file: fileName, place, title, url, program });
  return [{ content, media, origin, ...(language !== undefined && { language }), ...(secret && { secret }) }];
}

/** Splits an input into its rows, items, paragraphs or cells. */
export function eachGathered(gathered: SnippetInput): CheckedInput[] {
  const contents = eachOf(gathered.content);
  return contents.map((content, index) => ({
    ...gathered,
    content,
    origin: { ...gathered.origin, piece: { number: index + 1, of: contents.length } },
  }));
}
