import * as v from 'valibot';
import type { Content } from './model.ts';
import { notPlainlyValid } from './plainly-valid.ts';
import { contentSchema } from './schema.ts';

/** Content that a reader made, and how many things of it no snippet can hold were left out or changed. */
export interface Cleaned {
  readonly content: Content;
  readonly cleaned: number;
}

type Json = Record<string | number, unknown>;

/**
 * Makes content valid whatever a file says: control characters go out of words, and so do sizes, names, colours, links and the
 * like that the model does not have; what cannot be without them goes too. Valid content is given back with nothing changed in it.
 */
export function cleanContent(content: Content): Cleaned {
  const rest = notPlainlyValid(content);
  const read = v.safeParse(contentSchema, rest, { abortEarly: true });
  // The schema takes an empty list for an object without members: that has to be one.
  if (read.success && JSON.stringify(read.output) === JSON.stringify(rest)) return { content, cleaned: 0 };
  const value = unshared(content) as Json;
  let cleaned = 0;
  // Each round mends one level. The next round finds what was wrong inside a mended object.
  for (;;) {
    const result = v.safeParse(contentSchema, value);
    if (result.success) return { content: result.output, cleaned };
    const gone = new Map<unknown[], Set<unknown>>();
    const mended = result.issues.filter((issue) => mend(value, keysOf(issue), gone)).length;
    for (const [array, elements] of gone)
      array.splice(0, array.length, ...array.filter((element) => !elements.has(element)));
    if (mended === 0) return { content: { shape: 'blocks', blocks: [] }, cleaned: cleaned + 1 };
    cleaned += mended;
  }
}

/** A copy in which no object stands in two places, as merged cells or the blank paragraphs of a reader may: mending one is not to touch another. */
function unshared(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(unshared);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, unshared(inner)]));
}

const keysOf = ({
  path = [],
}: {
  readonly path?: readonly { readonly key?: unknown }[] | undefined;
}): (string | number)[] => path.flatMap(({ key }) => (typeof key === 'string' || typeof key === 'number' ? [key] : []));

/** What an object cannot be without: it goes as a whole. */
const required = new Set([
  'type',
  'shape',
  'text',
  'value',
  'media',
  'mediaType',
  'picture',
  'ordered',
  'before',
  'count',
]);
/** What an object has to have, and may have none of. */
const lists = new Set(['blocks', 'inlines', 'items', 'rows', 'cells']);

/** Mends one thing; what is to leave a list is told in `gone`. `false` where nothing can be done. */
function mend(root: Json, keys: readonly (string | number)[], gone: Map<unknown[], Set<unknown>>): boolean {
  const [parent, key] = [at(root, keys.slice(0, -1)), keys.at(-1)];
  if (key === undefined || typeof parent !== 'object' || parent === null) return false;
  if (Array.isArray(parent))
    return typeof key === 'number' ? leave(parent, parent[key], gone) : mend(root, keys.slice(0, -1), gone);
  const owner = parent as Json;
  const found = owner[key];
  if (typeof found === 'string' && withoutControls(found) !== found && withoutControls(found) !== '')
    owner[key] = withoutControls(found);
  else if (key === 'level') owner[key] = Math.min(6, Math.max(1, Math.round(Number(found)) || 1));
  else if (lists.has(String(key)) && !Array.isArray(found)) owner[key] = [];
  else if (key === 'href') return mend(root, keys.slice(0, -1), gone);
  else if (key === 'value' && typeof found === 'number') toText(owner);
  else if (required.has(String(key)) && !(key === 'value' && typeof found === 'object'))
    return mend(root, keys.slice(0, -1), gone);
  else delete owner[key];
  return true;
}

/** A number that is none is the words that stand for it. */
function toText(cell: Json): void {
  const { text, format: _, ...look } = cell;
  for (const name of Object.keys(cell)) delete cell[name];
  Object.assign(cell, look, { type: 'text', value: typeof text === 'string' ? text : '' });
}

const at = (root: unknown, keys: readonly (string | number)[]): unknown =>
  keys.reduce((value, key) => (typeof value === 'object' && value !== null ? (value as Json)[key] : undefined), root);

function leave(array: unknown[], element: unknown, gone: Map<unknown[], Set<unknown>>): boolean {
  const elements = gone.get(array) ?? new Set();
  gone.set(array, elements.add(element));
  return true;
}

/** Line ends are spaces within a paragraph. */
const withoutControls = (words: string): string =>
  words.replace(/[\n\r\v\f\u0085\u2028\u2029]+/g, ' ').replace(/[\u0000-\u0008\u000e-\u001f\u007f-\u009f]/g, '');
