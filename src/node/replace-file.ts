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
import { codeOf, exists, syncFolder, whileClaimed, writeNewFile, writeProblem, writeSynced } from './files.ts';
import { sign } from './own-mark.ts';

/**
 * Replaces a file by one that was written beside it and synced, so that at any moment the old or the new one is there,
 * whole; its rights stay, and on Linux its access lists and extended attributes. A link stays one: what it leads to is
 * replaced.
 * @param was - what it held when it was read; it is looked at once more at the very end
 * @returns how many other names (hard links) it had: they still lead to what it was
 * @throws DrawerError `write-failed`; then the file is as it was.
 */
export async function replaceFile(path: string, bytes: Uint8Array, was: Uint8Array): Promise<number> {
  let temporary: string | undefined;
  try {
    const target = await realpath(path);
    const { mode, uid, gid, nlink } = await stat(target);
    await (await open(target, 'r+')).close(); // whoever may not write it may not replace it either
    temporary = `${target}.${process.pid}-${crypto.randomUUID().slice(0, 8)}.part`;
    await writeSynced(temporary, bytes, 0o600); // its rights come when it is whole
    await chown(temporary, uid, gid).catch(() => {}); // only the system's owner may give files away
    await copyAttributes(target, temporary);
    await chmod(temporary, mode);
    if (!sameBytes(await readFile(target), was)) throw fileChanged(path);
    await rename(temporary, target);
    temporary = undefined;
    await syncFolder(dirname(target));
    return nlink - 1;
  } catch (error) {
    throw writeProblem(error, path);
  } finally {
    if (temporary !== undefined) await rm(temporary, { force: true }).catch(() => {});
  }
}

/** Node has no way to them; the system's own `cp` has, where it knows this. They are not worth a change that fails. */
async function copyAttributes(from: string, to: string): Promise<void> {
  if (process.platform !== 'linux') return;
  const copying = spawn('cp', ['--attributes-only', '--preserve=mode,xattr', '--', from, to], { stdio: 'ignore' });
  await new Promise<void>((done) => {
    copying.on('error', () => done());
    copying.on('close', () => done());
  });
}

/** The files of this computer, for drawers; what replaces one tells of its other names. */
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
    if (isBesidePicture(path)) await rmdir(dirname(path)).catch(() => {}); // others are still in it
  },
};

/**
 * Whether a file may be changed, or made where there is none. Office programs leave a file beside one that they have open.
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
