import { toBase64 } from '@exodus/bytes/base64.js';
import * as v from 'valibot';
import type { Media } from '../content/index.ts';
import { snippetSchema } from './schema.ts';
import type { Snippet } from './snippet.ts';

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

export function exportSnippets(snippets: readonly Snippet[], media: Media): Exported {
  return {
    format: 'drawer-snippets',
    version: 1,
    snippets,
    media: Object.fromEntries([...media].map(([hash, bytes]) => [hash, toBase64(bytes)])),
  };
}
