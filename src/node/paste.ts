import { realpath } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { type Content, DrawerError, gapNotes, locate, type Message, type Note, type Param } from '../content/index.ts';
import type { FileWrite } from '../drawer/index.ts';
import {
  type FormatEntry,
  findFormatByName,
  formatOf,
  type Inserted,
  type Insertion,
  readAll,
  sourceOf,
} from '../formats/index.ts';
import { type Place, printFragment } from '../places/index.ts';
import { addressBeside, picturesBeside, picturesFolder } from './beside-pictures.ts';
import { exists, openFile } from './files.ts';
import { nodeTools } from './inflate.ts';
import { checkWritable } from './replace-file.ts';

/** A paste to plan. */
export interface PasteRequest {
  readonly place: Place;
  readonly insertion: Insertion;
}

/** The result of a planned paste. */
export interface PasteResult {
  readonly file: string;
  /** The position as a message, such as `landed.after` with a place, `landed.cells` or `landed.newFile`. */
  readonly where: Message;
  readonly replaced?: Param | undefined;
  readonly notes: readonly Note[];
  readonly isNew: boolean;
  /** In a sheet, the filled cells. */
  readonly cells?: string | undefined;
  /** The folder of its pictures beside it, if there are any. */
  readonly pictures?: string | undefined;
  /** The content of its bookmark, read from the new bytes. */
  readonly bookmarked?: { readonly name: string; readonly content: Content } | undefined;
}

/** The files that a paste writes, and the results. */
export interface PastePlan {
  readonly files: readonly FileWrite[];
  readonly landed: readonly PasteResult[];
}

/** Options of `planPaste`. */
export interface PasteSettings {
  /** The language of new files, a BCP 47 tag. */
  readonly language?: string;
}

/**
 * Plans pastes into files without writing anything. Several pastes into one file apply in order, each to the result of the one before.
 * @throws DrawerError with the file in `where`: `not-found`; `unsupported`; `write-failed` if it is open elsewhere or must not be
 *   written
 */
export async function planPaste(requests: readonly PasteRequest[], settings: PasteSettings = {}): Promise<PastePlan> {
  const files = new Map<string, FileWrite>();
  const landed: PasteResult[] = [];
  for (const { place, insertion: asked } of requests) {
    const path = await targetPath(place.file);
    const pointsToPictures = findFormatByName(path)?.name === 'markdown';
    const insertion = pointsToPictures ? { ...asked, pictureAddress: addressBeside(path, asked.media) } : asked;
    try {
      const known = files.get(path);
      const before = known ? known.before : await readTarget(path);
      const now = known?.after ?? before;
      const made = now ? await into(path, now, place, insertion) : await newFile(path, place, insertion, settings);
      const pictures = pointsToPictures ? await picturesBeside(path, insertion.content, insertion.media) : [];
      for (const picture of pictures) files.set(picture.path, picture);
      files.delete(path); // written after its pictures, so that its links always work
      files.set(path, { path, ...(before && { before }), after: made.bytes });
      landed.push({
        file: place.file,
        where: made.where,
        notes: made.notes,
        isNew: now === undefined,
        ...(made.replaced !== undefined && { replaced: made.replaced }),
        ...(made.cells !== undefined && { cells: made.cells }),
        ...(pictures.length > 0 && { pictures: picturesFolder(path) }),
        ...(insertion.bookmark !== undefined && { bookmarked: await bookmarkIn(path, made.bytes, insertion.bookmark) }),
      });
    } catch (error) {
      throw locate(error, place.file);
    }
  }
  return { files: [...files.values()], landed };
}

/** The path of a file, with links resolved. */
const targetPath = async (file: string): Promise<string> =>
  realpath(file).catch(async () =>
    join(await realpath(dirname(resolve(file))).catch(() => dirname(resolve(file))), basename(file)),
  );

async function readTarget(path: string): Promise<Uint8Array | undefined> {
  if (!(await exists(path))) return undefined;
  await checkWritable(path);
  const source = await openFile(path);
  try {
    return await readAll(source);
  } finally {
    await source.close();
  }
}

/** Reads the content of a bookmark. @throws DrawerError `not-found` */
async function bookmarkIn(path: string, bytes: Uint8Array, name: string): Promise<PasteResult['bookmarked']> {
  const source = sourceOf(bytes, basename(path));
  const { read } = await (await formatOf(source)).load();
  const taken = await read?.(source, { kind: 'bookmark', name }, nodeTools);
  return taken && { name, content: taken.content };
}

async function into(path: string, bytes: Uint8Array, { fragment }: Place, insertion: Insertion): Promise<Inserted> {
  const source = sourceOf(bytes, basename(path));
  const format = await entryFor(path, bytes);
  const { insert, name } = await format.load();
  if (insert) return insert(source, fragment, insertion, nodeTools);
  throw new DrawerError('unsupported/format-not-pasted', { format: name, endings: await endings('insert') });
}

/** The format of a file; of an empty one, by its name. */
async function entryFor(path: string, bytes: Uint8Array): Promise<FormatEntry> {
  if (bytes.length > 0) return formatOf(sourceOf(bytes, basename(path)));
  return findFormatByName(path) ?? formatOf(sourceOf(bytes, basename(path)));
}

/** Creates a new file; only a workbook can have a place in it. */
async function newFile(
  path: string,
  { file, fragment }: Place,
  insertion: Insertion,
  { language }: PasteSettings,
): Promise<Inserted> {
  const format = await findFormatByName(path)?.load();
  const isSheet = format?.create !== undefined;
  if (!format || !(format.write || format.create))
    throw new DrawerError('usage/format-not-written', { endings: await endings('write') });
  if (fragment.kind !== 'whole' && !isSheet)
    throw new DrawerError('not-found/file-missing-with-place', { file, place: printFragment(fragment) });
  if (format.create) return format.create(fragment, insertion);
  if (insertion.bookmark !== undefined) {
    const blank = (await format.write?.({ shape: 'blocks', blocks: [] }, {})) ?? new Uint8Array();
    return { ...(await into(path, blank, { file, fragment }, insertion)), where: { kind: 'landed.newFile' } };
  }
  const { content, media, pictureAddress } = insertion;
  const bytes = await format.write?.(content, {
    media,
    title: basename(path).replace(/\.[^.]*$/, ''),
    ...(language !== undefined && { language }),
    ...(pictureAddress && { pictureAddress }),
  });
  return { bytes: bytes ?? new Uint8Array(), notes: gapNotes(content), where: { kind: 'landed.newFile' } };
}

/** The usual endings of the formats that can be created, or pasted into. */
async function endings(what: 'write' | 'insert'): Promise<string[]> {
  const { formats } = await import('../formats/index.ts');
  const able = await Promise.all(
    formats.map(async (entry) => {
      const format = await entry.load();
      return (what === 'insert' ? format.insert : (format.write ?? format.create)) ? [entry.extensions[0] ?? ''] : [];
    }),
  );
  return able.flat();
}
