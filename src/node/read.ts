import { realpath } from 'node:fs/promises';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { DrawerError, locate } from '../content/index.ts';
import { type FileWrite, gatheredFrom as gatheredFromExcerpt, type SnippetInput } from '../drawer/index.ts';
import {
  bounds,
  type Excerpt,
  type FormatEntry,
  formatOf,
  type Outline,
  type ReadTools,
  readAll,
  type Slot,
  type Source,
} from '../formats/index.ts';
import { type Place, parseFragment, whole } from '../places/index.ts';
import { isDrawerFile, outlineDrawerFile, readFromDrawerFile } from './drawer-file.ts';
import { openFile } from './files.ts';
import { nodeTools } from './inflate.ts';
import type { OtherDrawerOptions } from './read-drawer.ts';

/** Options for reading a file. */
export interface ReadOptions
  extends Pick<ReadTools, 'hidden' | 'csv' | 'address' | 'paragraphs' | 'columns'>,
    OtherDrawerOptions {
  /** The format; default: recognised by the bytes and the name. */
  readonly format?: FormatEntry;
  /** Receives how far the file has been read, in bytes. */
  onRead?(end: number, size: number): void;
}

/**
 * Reads a place of a file.
 * @throws DrawerError with the file in `where`
 */
export const readFromFile = ({ file, fragment }: Place, options: ReadOptions = {}): Promise<Excerpt> =>
  withFile(file, options, async (source) => {
    if (await isDrawerFile(source)) return readFromDrawerFile(file, fragment, options);
    return readFromSource(source, fragment, options, toolsFor(file, options));
  });

/** Reads a place of bytes without a file, such as standard input. */
export async function readFromSource(
  source: Source,
  fragment: Place['fragment'],
  { format }: ReadOptions,
  tools: ReadTools,
): Promise<Excerpt> {
  const { read, name } = await (format ?? (await formatOf(source))).load();
  if (!read) throw unreadable(name);
  return read(source, fragment, tools);
}

/** Outlines bytes without a file, such as standard input. */
export async function outlineSource(source: Source, options: ReadOptions = {}): Promise<Outline> {
  const format = await (options.format ?? (await formatOf(source))).load();
  if (!format.outline) throw unreadable(format.name);
  return format.outline(source, toolsFor('.', options));
}

/** Outlines a file. */
export const outlineFile = (file: string, options: ReadOptions = {}): Promise<Outline> =>
  withFile(file, options, async (source) => {
    if (await isDrawerFile(source)) return outlineDrawerFile(file, options);
    const format = await (options.format ?? (await formatOf(source))).load();
    if (!format.outline) throw unreadable(format.name);
    return format.outline(source, toolsFor(file, options));
  });

/** The fields of a form; none if the file is no form. */
export const fieldsOf = (file: string, options: ReadOptions = {}): Promise<readonly Slot[]> =>
  withFile(file, options, async (source) => {
    if (await isDrawerFile(source)) return [];
    const { slots } = await (options.format ?? (await formatOf(source))).load();
    return (await slots?.(source, toolsFor(file, options))) ?? [];
  });

/** The numbered entries of an outline, in order. */
export const numberedEntries = (entries: Outline['entries']): Outline['entries'] =>
  entries.filter(({ isExtra }) => !isExtra);

/**
 * Resolves numbers of a file's outline to places. Snippets of drawers and of snippet files are places already.
 * @throws DrawerError `not-found` if the outline is shorter
 */
export async function placesByNumber(place: Place, options: ReadOptions = {}): Promise<readonly Place[]> {
  const { file, fragment } = place;
  if (fragment.kind !== 'snippets') return [place];
  const holdsSnippets = await withFile(
    file,
    options,
    async (source) => (await isDrawerFile(source)) || (options.format ?? (await formatOf(source))).name === 'json',
  );
  if (holdsSnippets) return [place];
  const entries = numberedEntries((await outlineFile(file, options)).entries);
  return fragment.ranges.flatMap(({ from, to }) => {
    if (to > entries.length)
      throw new DrawerError('not-found/outline-number-unknown', { count: entries.length, number: to }, { where: file });
    return entries.slice(from - 1, to).map((entry) => ({ file, fragment: parseFragment(entry.place) }));
  });
}

/** A file before and after cutting places. */
export interface CutFile extends FileWrite {
  /** Notes about content that had to stay, or references that are broken now. */
  readonly notes: Excerpt['notes'];
}

/**
 * Plans cutting places of a file, all named by its present state. Writes nothing.
 * @throws DrawerError `unsupported` if it would damage the file
 */
export const cutFromFile = (
  file: string,
  fragments: readonly Place['fragment'][],
  options: ReadOptions = {},
): Promise<CutFile> =>
  withFile(file, options, async (source) => {
    const format = await (options.format ?? (await formatOf(source))).load();
    if (!format.remove) throw new DrawerError('unsupported/format-not-cut', { format: format.name });
    const before = await readAll(source);
    const { bytes: after, notes } = await format.remove(source, fragments, toolsFor(file, options));
    return { path: await realpath(file), before, after, notes };
  });

const toolsFor = (file: string, { hidden, csv, address, paragraphs, columns }: ReadOptions): ReadTools => ({
  ...nodeTools,
  relativeFile: relativeFileReader(dirname(file)),
  ...(hidden !== undefined && { hidden }),
  ...(csv && { csv }),
  ...(paragraphs && { paragraphs }),
  ...(columns && { columns }),
  ...(address !== undefined && { address }),
});

/** Reads files in or below a folder only, whatever links lead elsewhere. */
function relativeFileReader(folder: string): NonNullable<ReadTools['relativeFile']> {
  return async (path) => {
    try {
      const root = await realpath(resolve(folder));
      const target = await realpath(join(root, path));
      if (!target.startsWith(root.endsWith(sep) ? root : root + sep)) return undefined;
      const source = await openFile(target);
      try {
        return source.size > bounds.beside.most ? undefined : await readAll(source);
      } finally {
        await source.close();
      }
    } catch {
      return undefined; // missing or unreadable; its description remains
    }
  };
}

/** Converts the result of reading a file to inputs for `keep`, usually one. */
export const gatheredFrom = (file: string, taken: Excerpt): SnippetInput[] =>
  gatheredFromExcerpt(file === '' ? '' : basename(file), taken);

/** The place of a whole file. */
export const wholeOf = (file: string): Place => ({ file, fragment: whole });

async function withFile<T>(file: string, { onRead }: ReadOptions, work: (source: Source) => Promise<T>): Promise<T> {
  const source = await openFile(file);
  try {
    const told: Source = {
      name: source.name,
      size: source.size,
      read: (start, end) => {
        onRead?.(end, source.size);
        return source.read(start, end);
      },
    };
    return await work(onRead ? told : source);
  } catch (error) {
    throw locate(error, file);
  } finally {
    await source.close();
  }
}

const unreadable = (name: string): DrawerError => new DrawerError('unsupported/format-not-read', { format: name });
