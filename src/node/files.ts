import { access, type FileHandle, open, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import writeFileAtomic from 'write-file-atomic';
import { DrawerError } from '../content/index.ts';
import type { Source } from '../formats/index.ts';

/** A file as a source; `close` it when done. */
export interface FileSource extends Source {
  close(): Promise<void>;
}

/** @throws DrawerError `not-found` or `unreadable`, with the path. */
export async function openFile(path: string): Promise<FileSource> {
  let handle: FileHandle | undefined;
  try {
    if ((await stat(path)).isDirectory())
      throw new DrawerError({ code: 'unreadable', what: 'This is a folder', where: path, next: 'Name a file in it' });
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
        if (bytesRead === 0)
          throw new DrawerError({
            code: 'unreadable',
            what: 'The file became shorter while it was read',
            next: 'Try again',
          });
        at += bytesRead;
      }
      return bytes;
    },
    close: () => handle.close(),
  };
}

/**
 * Writes a new file whole or not at all: to a temporary file beside it, synced, then renamed.
 * @throws DrawerError `write-failed` when it exists already or cannot be written.
 */
export async function writeNewFile(path: string, bytes: Uint8Array): Promise<void> {
  if (await exists(path))
    throw new DrawerError({
      code: 'write-failed',
      what: 'The file exists already',
      where: path,
      next: 'Name a new file: Drawer does not paste into existing ones yet',
    });
  try {
    await writeFileAtomic(path, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  } catch (error) {
    throw writeProblem(error, path);
  }
}

export const exists = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

const codeOf = (error: unknown): string => (error instanceof Error && 'code' in error ? String(error.code) : '');

function readProblem(error: unknown, where: string): unknown {
  if (DrawerError.is(error)) return error;
  const known: Readonly<Record<string, [code: 'not-found' | 'unreadable', what: string, next: string]>> = {
    ENOENT: ['not-found', 'There is no such file', 'Check the name and the folder'],
    ENOTDIR: ['not-found', 'There is no such file', 'Check the name and the folder'],
    EACCES: ['unreadable', 'The file may not be read', 'Ask its owner for the right to read it'],
  };
  const [code, what, next] = known[codeOf(error)] ?? [
    'unreadable',
    `The file could not be read (${codeOf(error)})`,
    'Try again, or copy it to another place',
  ];
  return new DrawerError({ code, what, where, next }, { cause: error });
}

function writeProblem(error: unknown, where: string): DrawerError {
  const known: Readonly<Record<string, [what: string, next: string]>> = {
    ENOSPC: ['The disk is full', 'Make room and try again'],
    EDQUOT: ['The disk is full', 'Make room and try again'],
    EFBIG: ['The file would be larger than files may be there', 'Choose another folder'],
    EACCES: ['The folder may not be written to', 'Choose another folder'],
    EPERM: ['The folder may not be written to', 'Choose another folder'],
    EROFS: ['The folder is read-only', 'Choose another folder'],
    ENOENT: ['There is no such folder', 'Make it first, or choose another'],
    ENOTDIR: ['There is no such folder', 'Choose another'],
  };
  const [what, next] = known[codeOf(error)] ?? [
    `The file could not be written (${codeOf(error)})`,
    'Choose another place',
  ];
  return new DrawerError({ code: 'write-failed', what, where, next: `${next}; nothing was written` }, { cause: error });
}
