import { toBase64 } from '@exodus/bytes/base64.js';
import * as v from 'valibot';
import { type Content, eachOf, type Media, parseWith } from '../content/index.ts';
import { originOf } from './facts.ts';
import { type CheckedInput, snippetSchema, travellingSchema } from './schema.ts';
import type { Snippet, SnippetInput } from './snippet.ts';

/** Snippets as one JSON value, to carry them between drawers and programs. */
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

/** Snippets with the bytes of their pictures as one JSON value. @see docs/snippets.schema.json */
export function exportSnippets(snippets: readonly Snippet[], media: Media): Exported {
  return {
    format: 'drawer-snippets',
    version: 1,
    snippets,
    media: Object.fromEntries([...media].map(([hash, bytes]) => [hash, toBase64(bytes)])),
  };
}

/** What a reader of files gives, as far as keeping it needs to know. */
export interface Extracted {
  readonly content: Content;
  readonly media: Media;
  readonly place?: string;
  readonly title?: string;
  readonly url?: string;
  readonly program?: string;
  readonly language?: string;
  /** The source says that it is to be kept as a secret. */
  readonly secret?: true;
  /** What a snippet of another drawer brings along, unchecked. */
  readonly brings?: Readonly<Record<string, unknown>>;
  /** Several things that stay apart. */
  readonly separate?: readonly Extracted[];
}

/** What was taken from a file of that name as things to keep: mostly one; the empty string is no file. */
export function gatheredFrom(fileName: string, taken: Extracted): CheckedInput[] {
  if (taken.separate) return taken.separate.flatMap((each) => gatheredFrom(fileName, each));
  const { content, media, place, title, url, program, language, secret, brings } = taken;
  if (brings) return [{ ...parseWith(travellingSchema, brings, place ?? 'snippet'), content, media }];
  const origin = originOf({ file: fileName, place, title, url, program });
  return [{ content, media, origin, ...(language !== undefined && { language }), ...(secret && { secret }) }];
}

/** Each row, item, paragraph or cell of something gathered by itself. */
export function eachGathered(gathered: SnippetInput): CheckedInput[] {
  const contents = eachOf(gathered.content);
  return contents.map((content, index) => ({
    ...gathered,
    content,
    origin: { ...gathered.origin, piece: { number: index + 1, of: contents.length } },
  }));
}
