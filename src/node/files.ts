import { access, type FileHandle, link, open, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { DrawerError, type ProblemName } from '../content/index.ts';
import type { Source } from '../formats/index.ts';

/** A file as a source; `close` it when done. */
export interface FileSource extends Source {
  close(): Promise<void>;
}

/** @throws DrawerError `not-found` or `unreadable`, with the path. */
export async function openFile(path: string): Promise<FileSource> {
  let handle: FileHandle | undefined;
  try {
    const found = await stat(path);
    if (found.isDirectory()) throw new DrawerError('unreadable/file-is-folder', {}, { where: path });
    if (!found.isFile()) throw new DrawerError('unreadable/file-is-device', {}, { where: path });
    handle = await open(path);
    const { size } = await handle.stat();
    return fileSource(handle, basename(path), size);
  } catch (error) {
    await handle?.close();
    throw readProblem(error, path);
  }
}

function fileSource(handle: FileHandle, name: string, size: number): FileSource {
  return {
    name,
    size,
    async read(start, end) {
      const bytes = new Uint8Array(end - start);
      let at = 0;
      while (at < bytes.length) {
        const { bytesRead } = await handle.read(bytes, at, bytes.length - at, start + at);
        if (bytesRead === 0) throw new DrawerError('unreadable/file-shrank');
        at += bytesRead;
      }
      return bytes;
    },
    close: () => handle.close(),
  };
}

/**
 * Writes a new file whole or not at all: to a temporary file beside it, synced, then linked to its name, which never
 * replaces another file.
 * @param mode - its rights; those of new files where none are given
 * @throws DrawerError `write-failed` when it exists already or cannot be written.
 */
export async function writeNewFile(path: string, bytes: Uint8Array, mode?: number): Promise<void> {
  if (await exists(path)) throw alreadyThere(path);
  const temporary = `${path}.${process.pid}-${crypto.randomUUID().slice(0, 8)}.part`;
  try {
    await writeSynced(temporary, bytes, mode);
    await giveName(temporary, path);
  } catch (error) {
    throw writeProblem(error, path);
  } finally {
    await rm(temporary, { force: true }).catch(() => {}); // what went wrong, if anything, is being thrown already
  }
}

/** `writeFile` goes on after a short write, as a nearly full disk makes them, until it is done or fails. */
export async function writeSynced(path: string, bytes: Uint8Array, mode?: number): Promise<void> {
  const file = await open(path, 'wx', mode);
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
}

/** Where there are no hard links, renaming has to do. */
async function giveName(temporary: string, path: string): Promise<void> {
  try {
    await link(temporary, path);
  } catch (error) {
    if (codeOf(error) === 'EEXIST') throw alreadyThere(path);
    await rename(temporary, path);
  }
  await flushFolder(dirname(path));
}

/** So that the new name outlasts a power cut; some systems cannot, and need not. */
export async function flushFolder(path: string): Promise<void> {
  const folder = await open(path).catch(() => undefined);
  await folder?.sync().catch(() => {});
  await folder?.close();
}

/** What is said of a new file's name that is taken. */
export const alreadyThere = (path: string): DrawerError =>
  new DrawerError('write-failed/file-exists', {}, { where: path });

/**
 * Does a piece of work while nothing else of Drawer, in any program, changes the files it names. What one part of the command
 * claims another has to know of, though each is bundled by itself: so that is loaded, and there once.
 * @throws DrawerError `write-failed` where somebody else has claimed one of them for a minute
 */
export const whileClaimed = async <T>(paths: readonly string[], work: () => Promise<T>): Promise<T> =>
  (await import('./claim-files.ts')).whileClaimed(paths, work);

/** Whether a file or folder exists. */
export const exists = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

/** The code of a system error, such as `ENOENT`; the empty string if it has none. */
export const codeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';

function readProblem(error: unknown, where: string): unknown {
  if (DrawerError.is(error)) return error;
  const detail = codeOf(error);
  const reason = readReasons[detail] ?? 'unreadable/file-read-failed';
  return new DrawerError(reason, { detail }, { where, cause: error });
}

const readReasons: Readonly<Record<string, ProblemName>> = {
  ENOENT: 'not-found/file-missing',
  ENOTDIR: 'not-found/file-missing',
  EACCES: 'unreadable/file-unreadable',
};

/** A system error from writing as a `DrawerError`. @param where - the path that could not be written */
export function writeProblem(error: unknown, where: string): DrawerError {
  if (DrawerError.is(error)) return error;
  const detail = codeOf(error);
  const reason = writeReasons[detail] ?? 'write-failed/file-write-failed';
  return new DrawerError(reason, { detail }, { where, cause: error });
}

const writeReasons: Readonly<Record<string, ProblemName>> = {
  ENOSPC: 'write-failed/disk-full',
  EDQUOT: 'write-failed/disk-full',
  EFBIG: 'write-failed/file-too-large-there',
  EACCES: 'write-failed/folder-read-only',
  EPERM: 'write-failed/folder-read-only',
  EROFS: 'write-failed/folder-read-only',
  ENOENT: 'write-failed/folder-missing',
  ENOTDIR: 'write-failed/folder-missing',
};
