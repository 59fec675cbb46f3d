import {
  type Content,
  checkedCall,
  DrawerError,
  locate,
  noMedia,
  parseContent,
  parseEnum,
  pasteStyles,
  type Reason,
} from '../content/index.ts';
import { type Fragment, parseFragment } from '../places/index.ts';
import type {
  Excerpt,
  Filled,
  Format,
  FormatName,
  Inflate,
  Inserted,
  Insertion,
  Outline,
  ReadTools,
  Removed,
  Slot,
  SlotValue,
  Source,
  WriteOptions,
} from './format.ts';
import { formatNames, sides, sourceOf, spreads } from './format.ts';
import { formatNamed, formatOf } from './registry.ts';

/** A file: its bytes, what somebody chose or dropped on a page, or a source that is read only where it is asked. */
export type FileBytes = Uint8Array | ArrayBuffer | Blob | Source;

/** How to treat a file. */
export interface FileOptions extends ReadTools {
  /** Its name, which tells the format where its bytes do not (`.csv`, `.md`); a `File` has its own. */
  readonly name?: string | undefined;
  /** Its format, where neither bytes nor name should say. */
  readonly format?: FormatName | undefined;
  /** Ends the call, which then rejects with the signal's reason. */
  readonly signal?: AbortSignal | undefined;
  /** Hears how far the file has been read, in bytes. */
  readonly onProgress?: ((done: number, all: number) => void) | undefined;
}

/** How content lands in a file; everything is optional. */
export type InsertOptions = FileOptions & Partial<Omit<Insertion, 'content'>>;

/** Of a new file. */
export interface NewFileOptions extends WriteOptions {
  readonly format: FormatName;
}

/**
 * What a place of a file holds.
 * @param place - as behind the `#` of a place: `section=Hull condition`, `Timber!B2:D5`; the whole file when not given
 * @throws DrawerError `unreadable`, `unsupported` for files that cannot be read; `not-found`, `ambiguous` for the place;
 *   `too-large`
 */
export const read = (file: FileBytes, place = '', options: FileOptions = {}): Promise<Excerpt> =>
  withFormat(file, options, 'read', (read, source, tools) => read(source, fragmentOf(place), tools));

/** The places that a file offers. @throws DrawerError `unreadable`, `unsupported`, `too-large` */
export const outline = (file: FileBytes, options: FileOptions = {}): Promise<Outline> =>
  withFormat(file, options, 'outline', (list, source, tools) => list(source, tools));

/**
 * The file with content at a place, all else in it as it was, byte for byte.
 * @param place - the end of the whole file where it is the empty string
 * @throws DrawerError as `read` does; `unsupported` where it cannot be done without harm; `invalid` for content that is none
 */
export const insert = (
  file: FileBytes,
  place: string,
  content: Content,
  options: InsertOptions = {},
): Promise<Inserted> =>
  withFormat(file, options, 'insert', async (put, source, tools) => {
    const { side, style = 'local', spread } = { ...options };
    if (side !== undefined) parseEnum('side', side, sides);
    parseEnum('style', style, pasteStyles);
    if (spread !== undefined) parseEnum('spread', spread, spreads);
    const insertion = { media: noMedia, ...options, style, content: parseContent(content) };
    return put(source, fragmentOf(place), insertion, tools);
  });

/**
 * Checks that a file may be changed at a place, so that this can be said before anybody writes in it.
 * @param place - as in `insert`
 * @throws DrawerError `unsupported` for a signed or protected file or sheet, and for formats that cannot be changed; as `read` does
 */
export const checkMayChange = (file: FileBytes, place = '', options: FileOptions = {}): Promise<void> =>
  withFormat(file, options, 'checkMayChange', (check, source, tools) => check(source, fragmentOf(place), tools));

/** The file without what places hold, all of them places of it as it is. @throws DrawerError as `insert` does */
export const remove = (
  file: FileBytes,
  places: string | readonly string[],
  options: FileOptions = {},
): Promise<Removed> =>
  withFormat(file, options, 'remove', async (cut, source, tools) => {
    const all = typeof places === 'string' ? [places] : places;
    if (!Array.isArray(all)) throw new DrawerError('invalid/argument-not-list', { argument: 'places' });
    return cut(source, all.map(fragmentOf), tools);
  });

/** The fields of a form; none where it is no form. @throws DrawerError `unreadable`, `unsupported` */
export const fields = async (file: FileBytes, options: FileOptions = {}): Promise<readonly Slot[]> =>
  withFormat(file, options, 'slots', (list, source, tools) => list(source, tools));

/**
 * The form with values in its fields, by their keys; all else in it as it was.
 * @throws DrawerError `not-found` for a key that no field has; `invalid` for a value that the field does not take
 */
export const fill = (
  file: FileBytes,
  values: Readonly<Record<string, SlotValue>> | ReadonlyMap<string, SlotValue>,
  options: FileOptions = {},
): Promise<Filled> =>
  withFormat(file, options, 'fill', (put, source, tools) =>
    put(source, values instanceof Map ? values : new Map(Object.entries(values)), tools),
  );

/**
 * The bytes of a new file.
 * @throws DrawerError `invalid` for content that is none; `unsupported` for a format that is not written
 */
export async function write(content: Content, given: NewFileOptions): Promise<Uint8Array> {
  const { format: name, ...options } = { ...given };
  const format = await entryNamed(name).load();
  if (!format.write) throw new DrawerError('usage/format-not-written');
  return format.write(content, options);
}

/** Why not, where a format lacks what is asked of it. */
const cannot = {
  read: 'format-not-read',
  outline: 'format-not-read',
  insert: 'format-not-pasted',
  checkMayChange: 'format-not-pasted',
  remove: 'format-not-cut',
  slots: 'format-without-fields',
  fill: 'format-without-fields',
} as const satisfies { readonly [A in keyof Format]?: Reason };
type Ability = keyof typeof cannot;

/** Does something with a file by its format. Errors name the file. @throws DrawerError `unsupported` where the format cannot */
const withFormat: typeof doneByFormat = (...given) => checkedCall(() => doneByFormat(...given));

async function doneByFormat<A extends Ability, T>(
  file: FileBytes,
  options: FileOptions,
  ability: A,
  work: (able: NonNullable<Format[A]>, source: Source, tools: ReadTools) => Promise<T>,
): Promise<T> {
  const { name, format: named, signal, onProgress, ...tools } = { ...options };
  signal?.throwIfAborted();
  if (name !== undefined) checkText(name, 'name');
  const source = heard(asSource(file, name), signal, onProgress);
  try {
    const format = await (named === undefined ? await formatOf(source) : entryNamed(named)).load();
    const able = format[ability];
    if (!able) throw new DrawerError(`unsupported/${cannot[ability]}`, { format: format.name });
    const result = await work(able as NonNullable<Format[A]>, source, { ...platformTools(), ...tools });
    signal?.throwIfAborted();
    return result;
  } catch (error) {
    signal?.throwIfAborted(); // whatever became of that on its way
    throw source.name === '' ? error : locate(error, source.name);
  }
}

function fragmentOf(place: string): Fragment {
  checkText(place, 'place');
  return parseFragment(place.replace(/^#/, ''));
}

function entryNamed(name: FormatName): ReturnType<typeof formatNamed> {
  return formatNamed(parseEnum('format', name, formatNames));
}

function checkText(value: string, argument: string): void {
  if (typeof value !== 'string') throw new DrawerError('invalid/argument-not-text', { argument });
}

function asSource(file: FileBytes, name?: string): Source {
  if (file instanceof Uint8Array) return sourceOf(file, name ?? '');
  if (file instanceof ArrayBuffer) return sourceOf(new Uint8Array(file), name ?? '');
  if (file instanceof Blob) return blobSource(file, name ?? (file instanceof File ? file.name : ''));
  if (typeof file?.read !== 'function' || typeof file.size !== 'number')
    throw new DrawerError('invalid/argument-not-bytes', { argument: 'file' });
  return name === undefined ? file : { ...file, name, read: (start, end) => file.read(start, end) };
}

/** A file that somebody chose or dropped, as a source; read only where it is asked. */
export const blobSource = (blob: Blob, name: string): Source => ({
  name,
  size: blob.size,
  read: async (start, end) => new Uint8Array(await blob.slice(start, end).arrayBuffer()),
});

/** The platform's own inflate (Compression Streams), two to three times as fast as one in JavaScript. */
export const streamInflate: Inflate = async function* (packed) {
  const reader = toStream(packed).pipeThrough(new DecompressionStream('deflate-raw')).getReader();
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) yield next.value;
  } finally {
    await reader.cancel().catch(() => {}); // a reader that stops early wants no more
  }
};

function toStream(chunks: AsyncIterable<Uint8Array>): ReadableStream<Uint8Array<ArrayBuffer>> {
  const iterator = chunks[Symbol.asyncIterator]();
  return new ReadableStream({
    async pull(controller) {
      const { done, value } = await iterator.next();
      if (done) controller.close();
      else controller.enqueue(value as Uint8Array<ArrayBuffer>);
    },
    cancel: async () => {
      await iterator.return?.();
    },
  });
}

const platformTools = (): ReadTools => ('DecompressionStream' in globalThis ? { inflate: streamInflate } : {});

/** A source that is heard being read, and can be stopped. */
function heard(source: Source, signal: AbortSignal | undefined, onProgress: FileOptions['onProgress']): Source {
  if (!signal && !onProgress) return source;
  let done = 0;
  return {
    name: source.name,
    size: source.size,
    read: async (start, end) => {
      signal?.throwIfAborted();
      const bytes = await source.read(start, end);
      done = Math.max(done, end);
      onProgress?.(done, source.size);
      return bytes;
    },
  };
}
