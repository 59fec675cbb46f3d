import { spawn } from 'node:child_process';
import { constants } from 'node:fs';
import {
  access,
  chmod,
  chown,
  mkdir,
  open,
  readdir,
  readFile,
  realpath,
  rename,
  rm,
  rmdir,
  stat,
} from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { type FileSystem, fileChanged, sameBytes } from '../drawer/index.ts';
import { isBesidePicture } from './beside-pictures.ts';
import { codeOf, exists, flushFolder, whileClaimed, writeNewFile, writeProblem, writeSynced } from './files.ts';
import { sign } from './own-mark.ts';

/**
 * Replaces a file by one written beside it and synced, so that the old or the new file is there completely at any moment. Its
 * permissions stay, on Linux also its access lists and extended attributes. If the path is a link, its target is replaced.
 * @param was - the bytes that were read; checked once more at the very end
 * @returns the number of its other names (hard links), which keep the old content
 * @throws DrawerError `write-failed`; then the file is unchanged
 */
export async function replaceFile(path: string, bytes: Uint8Array, was: Uint8Array): Promise<number> {
  let temporary: string | undefined;
  try {
    const target = await realpath(path);
    const { mode, uid, gid, nlink } = await stat(target);
    await (await open(target, 'r+')).close(); // replacing needs the permission to write
    temporary = `${target}.${process.pid}-${crypto.randomUUID().slice(0, 8)}.part`;
    await writeSynced(temporary, bytes, 0o600); // permissions follow when it is complete
    await chown(temporary, uid, gid).catch(() => {}); // usually only root may change owners
    await copyAttributes(target, temporary);
    await chmod(temporary, mode);
    if (!sameBytes(await readFile(target), was)) throw fileChanged(path);
    await rename(temporary, target);
    temporary = undefined;
    await flushFolder(dirname(target));
    return nlink - 1;
  } catch (error) {
    throw writeProblem(error, path);
  } finally {
    if (temporary !== undefined) await rm(temporary, { force: true }).catch(() => {});
  }
}

/** Copies access lists and extended attributes with `cp`, since Node cannot. A failure is ignored. */
async function copyAttributes(from: string, to: string): Promise<void> {
  if (process.platform !== 'linux') return;
  const copying = spawn('cp', ['--attributes-only', '--preserve=mode,xattr', '--', from, to], { stdio: 'ignore' });
  await new Promise<void>((done) => {
    copying.on('error', () => done());
    copying.on('close', () => done());
  });
}

/** The file system for drawers; `replace` also returns the number of other names. */
export const fileSystem: Omit<FileSystem, 'replace'> & { replace: typeof replaceFile } = {
  read: (path) =>
    readFile(path).then(
      (bytes) => new Uint8Array(bytes),
      (error: unknown) => {
        if (codeOf(error) === 'ENOENT' || codeOf(error) === 'ENOTDIR') return undefined;
        throw writeProblem(error, path);
      },
    ),
  check: checkWritable,
  claim: whileClaimed,
  sign,
  replace: replaceFile,
  async create(path, bytes) {
    if (isBesidePicture(path)) await mkdir(dirname(path), { recursive: true });
    await writeNewFile(path, bytes);
  },
  async remove(path) {
    await rm(path).catch((error: unknown) => Promise.reject(writeProblem(error, path)));
    if (isBesidePicture(path)) await rmdir(dirname(path)).catch(() => {}); // it may contain other pictures
  },
};

/**
 * Checks that a file can be changed or created. Office programs put a lock file beside an open one.
 * @throws DrawerError `write-failed`
 */
export async function checkWritable(path: string): Promise<void> {
  const name = basename(path);
  const beside = await readdir(dirname(path)).catch((): string[] => []);
  const locks = [`.~lock.${name}#`, `~$${name}`, `~$${name.slice(2)}`];
  if (beside.some((each) => locks.includes(each)))
    throw new DrawerError('write-failed/file-open-elsewhere', {}, { where: path });
  if (!(await exists(path))) {
    const folder = dirname(path);
    const isMadeToo = isBesidePicture(path) && !(await exists(folder));
    await access(isMadeToo ? dirname(folder) : folder, constants.W_OK).catch((error: unknown) =>
      Promise.reject(writeProblem(error, path)),
    );
    return;
  }
  await access(path, constants.W_OK).catch((cause: unknown) => {
    throw new DrawerError('write-failed/file-read-only', {}, { where: path, cause });
  });
}
