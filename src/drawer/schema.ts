import * as v from 'valibot';
import {
  contentSchema,
  type Description,
  DrawerError,
  descriptionKinds,
  type Media,
  parseWith,
  shapes,
} from '../content/index.ts';
import type { Change, FileChange, Sequence } from './change.ts';
import { readDescription } from './older-words.ts';
import {
  type Facts,
  type Json,
  type Meta,
  type Origin,
  type Snippet,
  type SnippetInput,
  type SnippetSummary,
  type Travelling,
  traits,
} from './snippet.ts';

export const words = v.pipe(
  v.string(),
  v.minLength(1, 'must not be empty'),
  v.maxLength(4096, 'must not be longer than 4,096 characters'),
);
const count = v.pipe(v.number(), v.integer(), v.minValue(0));

/** Of all data of applications in one place, as JSON text, in UTF-16 units. */
const mostMeta = 65_536;

const isJson = (value: unknown): value is Json =>
  value === null ||
  typeof value === 'boolean' ||
  Number.isFinite(value) ||
  (typeof value === 'string' && value.isWellFormed()) ||
  (Array.isArray(value) && value.every(isJson)) ||
  (isRecord(value) && Object.entries(value).flat().every(isJson));

/** A plain object of any realm: its prototype, if it has one, has none. */
const isRecord = (value: unknown): value is object =>
  typeof value === 'object' &&
  value !== null &&
  !Object.getPrototypeOf(Object.getPrototypeOf(value) ?? Object.prototype);

export const metaSchema: v.GenericSchema<Meta> = v.pipe(
  v.record(
    v.pipe(v.string(), v.regex(/^[\w-]+[.:][\w.:/-]+$/, 'must begin with a domain, such as "example.org/reader"')),
    v.any(),
  ),
  v.check((meta) => isJson(meta), 'must be values of JSON'),
  v.transform((meta) => JSON.stringify(meta)),
  v.maxLength(mostMeta, 'must not be longer than 65,536 characters of JSON'),
  v.transform((json): Meta => JSON.parse(json)),
);

export const originSchema: v.GenericSchema<Origin> = v.strictObject({
  file: v.exactOptional(words),
  place: v.exactOptional(words),
  piece: v.exactOptional(v.strictObject({ number: count, of: count })),
  title: v.exactOptional(words),
  url: v.exactOptional(words),
  program: v.exactOptional(words),
  meta: v.exactOptional(metaSchema),
});

export const patterns = {
  moment: /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,3})?Z$/,
  order: /^[A-Za-z][0-9A-Za-z]*$/,
  language: /^[A-Za-z]{2,8}(?:-[A-Za-z0-9]{1,8}){0,8}$/,
} as const;

export const moment = v.pipe(v.string(), v.regex(patterns.moment, 'must be a date and time in UTC'));

const descriptionSchema: v.GenericSchema<unknown, Description> = v.pipe(
  v.unknown(),
  v.transform(readDescription),
  v.strictObject({
    kind: v.picklist(descriptionKinds),
    params: v.exactOptional(v.record(v.string(), v.number())),
  }),
);

export const factsSchema: v.GenericSchema<unknown, Facts> = v.strictObject({
  shape: v.picklist(shapes),
  what: descriptionSchema,
  preview: v.string(),
  characters: count,
  words: count,
  lines: count,
  bytes: count,
  traits: v.exactOptional(v.array(v.picklist(traits))),
});

const summary = {
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(64)),
  order: v.pipe(v.string(), v.regex(patterns.order, 'must be an order key')),
  origin: originSchema,
  takenAt: moment,
  facts: factsSchema,
  language: v.exactOptional(v.pipe(v.string(), v.regex(patterns.language, 'must be a language tag'))),
  label: v.exactOptional(words),
  held: v.exactOptional(v.literal(true)),
  secret: v.exactOptional(v.union([v.literal(true), v.literal('once')])),
  expiresAt: v.exactOptional(moment),
  parts: v.exactOptional(v.array(v.strictObject({ origin: originSchema, takenAt: moment, what: descriptionSchema }))),
  meta: v.exactOptional(metaSchema),
};

const { id: _, order: __, takenAt: ___, facts: ____, ...optional } = summary;
const travelling = { ...optional, takenAt: v.exactOptional(moment) };

/** What a snippet brings along when it comes from another drawer; anything else in it is passed over. */
export const travellingSchema: v.GenericSchema<unknown, Travelling> = v.object(travelling);

/** Bytes of pictures by their SHA-256, as they are handed over. */
const isMedia = (value: unknown): value is Media =>
  value instanceof Map &&
  [...value].every(([hash, bytes]) => /^[0-9a-f]{64}$/.test(String(hash)) && ArrayBuffer.isView(bytes));

export const mediaSchema: v.GenericSchema<Media> = v.custom(isMedia, 'must be a map of bytes by their SHA-256');

/** What is handed over to be kept. */
export const gatheredSchema = v.object({
  ...travelling,
  origin: v.optional(originSchema, {}),
  content: contentSchema,
  media: v.optional(mediaSchema),
  language: v.optional(v.string()),
}) as v.GenericSchema<unknown, CheckedInput>;

export const summarySchema: v.GenericSchema<unknown, SnippetSummary> = v.strictObject(summary);
export const snippetSchema: v.GenericSchema<unknown, Snippet> = v.strictObject({ ...summary, content: contentSchema });

export const sequenceSchema: v.GenericSchema<Sequence> = v.strictObject({
  after: v.string(),
  id: v.exactOptional(v.string()),
  into: v.exactOptional(v.string()),
  across: v.exactOptional(v.literal(true)),
});

export const changesSchema: v.GenericSchema<unknown, readonly Change[]> = v.array(
  v.variant('type', [
    v.strictObject({ type: v.literal('insert'), snippet: snippetSchema }),
    v.strictObject({ type: v.literal('remove'), id: v.string() }),
    v.strictObject({
      type: v.literal('update'),
      id: v.string(),
      set: v.strictObject({
        label: v.exactOptional(v.nullable(v.string())),
        held: v.exactOptional(v.nullable(v.literal(true))),
        secret: v.exactOptional(v.nullable(v.union([v.literal(true), v.literal('once')]))),
        expiresAt: v.exactOptional(v.nullable(moment)),
        facts: v.exactOptional(factsSchema),
      }),
    }),
    v.strictObject({ type: v.literal('reorder'), id: v.string(), order: v.string() }),
    v.strictObject({
      type: v.literal('rewrite'),
      snippet: snippetSchema,
      secrecy: v.exactOptional(v.literal(true)),
    }),
    v.strictObject({ type: v.literal('sequence'), sequence: v.nullable(sequenceSchema) }),
    v.strictObject({ type: v.literal('settings'), set: v.record(v.string(), v.unknown()) }),
    v.strictObject({
      type: v.literal('elsewhere'),
      drawer: v.string(),
      from: v.number(),
      to: v.number(),
      mark: v.exactOptional(v.string()),
    }),
  ]),
);

const size = v.pipe(v.number(), v.integer(), v.minValue(0));

export const fileChangesSchema: v.GenericSchema<readonly FileChange[]> = v.array(
  v.strictObject({
    path: v.string(),
    from: v.string(),
    to: v.string(),
    start: size,
    end: size,
    between: v.string(),
    mark: v.exactOptional(v.string()),
  }),
);

/**
 * What callers hand over is looked at before anything is done with it: a program in plain JavaScript may hand over anything, and
 * nothing may come into a drawer that could not be read again.
 */

/** Something to keep that was checked. */
export type CheckedInput = SnippetInput & Pick<Snippet, 'origin'>;

/** A copy of what is right; the same content is the same JSON then. @throws DrawerError `invalid`, with which of them and the path of the first thing wrong. */
export function parseGathered(gathered: OneOrMany<SnippetInput>): readonly CheckedInput[] {
  const all = isMany(gathered) ? gathered : [gathered];
  return all.map((each, index) =>
    parseWith(gatheredSchema, each, all.length === 1 ? 'snippet' : `snippet ${index + 1}`),
  );
}

/** One thing, or a list of them. */
export type OneOrMany<T> = T | readonly T[];

export const isMany = <T>(value: OneOrMany<T>): value is readonly T[] => Array.isArray(value);

/** @throws DrawerError `argument-not-list`, or `argument-empty` for one of nothing where `least` says that it may not be. */
export function checkList(value: readonly unknown[], argument: string, least: 0 | 1 = 0): void {
  if (!Array.isArray(value)) throw new DrawerError('invalid/argument-not-list', { argument });
  if (value.length < least) throw new DrawerError('invalid/argument-empty', { argument });
}

/** One id, name or reference, or several, as a list. @throws DrawerError as `checkList` and `checkText` do */
export function listOfTexts(value: OneOrMany<string>, argument: string, least: 0 | 1 = 0): readonly string[] {
  if (typeof value === 'string') return [value];
  checkList(value, argument, least);
  for (const [index, each] of value.entries()) checkText(each, `${argument}[${index}]`);
  return value;
}

/** @throws DrawerError `argument-not-text` */
export function checkText(value: string, argument: string): void {
  if (typeof value !== 'string') throw new DrawerError('invalid/argument-not-text', { argument });
}

/** Minimum length of a passphrase in characters: whoever has the file can make unlimited attempts. */
const shortest = 8;

/** A passphrase that is chosen anew. @throws DrawerError `passphrase-short` */
export function checkPassphrase(value: string): void {
  checkText(value, 'passphrase');
  if ([...value].length < shortest) throw new DrawerError('usage/passphrase-short', { least: shortest });
}

/** A number of things, or of one among them. @throws DrawerError `argument-not-whole` */
export function checkWhole(value: number, argument: string, least: 0 | 1): void {
  if (!Number.isSafeInteger(value) || value < least)
    throw new DrawerError('invalid/argument-not-whole', { argument, least });
}

/** @throws DrawerError `invalid`, with the path of the first thing wrong. */
export function checkOptional<T>(schema: v.GenericSchema<unknown, T>, value: T | undefined, kind: string): void {
  if (value !== undefined) parseWith(schema, value, kind);
}

/** @throws DrawerError `argument-not-object` */
export function checkObject<T extends object>(value: T, argument: string): T {
  if (typeof value !== 'object' || value === null) throw new DrawerError('invalid/argument-not-object', { argument });
  return value;
}

/** @throws DrawerError `argument-not-function` */
export function checkFunction(value: unknown, argument: string): void {
  if (typeof value !== 'function') throw new DrawerError('invalid/argument-not-function', { argument });
}

/** Any realm's signal will do. @throws DrawerError `argument-not-signal` */
export function checkSignal(value: AbortSignal | undefined): void {
  if (value !== undefined && typeof value?.throwIfAborted !== 'function')
    throw new DrawerError('invalid/argument-not-signal', { argument: 'signal' });
}

/** For calls that may take a while. */
export interface CallOptions {
  /** Ends the call, which then rejects with the signal's reason and has changed nothing. */
  readonly signal?: AbortSignal | undefined;
  /** Hears how much of it is done, such as how many snippets of how many. */
  readonly onProgress?: ((done: number, all: number) => void) | undefined;
}

/** The options of a call that begins now. @throws DrawerError `invalid`; the reason of a signal that has ended it already */
export function checkOptions<T extends object>(options: T): T {
  const { signal, ...others }: CallOptions = checkObject(options, 'options');
  checkSignal(signal);
  for (const [name, value] of Object.entries(others))
    if (/^on[A-Z]/.test(name) && value !== undefined) checkFunction(value, name);
  signal?.throwIfAborted();
  return options;
}
