import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { checkPassphrase, hashOf } from '../drawer/index.ts';
import { type Encryption, newLock, openLock, parseLock } from '../storage/sqlite/index.ts';
import { exists, writeNewFile, writeProblem } from './files.ts';
import { SyncLog } from './sync-log.ts';

/** The file of a folder that says how it is sealed. */
const folderFile = 'drawer-sync.json';
const logName = /^([0-9a-z]{12})\.log$/;

const folderSchema = v.strictObject({ format: v.literal(1), lock: v.string() });

/** Whether a folder was begun for syncing, so that its passphrase is known to somebody. */
export async function isSyncFolder(folder: string): Promise<boolean> {
  return (await readdir(folder).catch(() => [] as string[])).includes(folderFile);
}

/** A folder that several devices see: a log of each, and the pictures of all, sealed under one key. */
export class SyncFolder {
  readonly path: string;
  /** Different for every folder. */
  readonly id: string;
  readonly #sealing: Encryption;

  private constructor(path: string, id: string, sealing: Encryption) {
    this.path = path;
    this.id = id;
    this.#sealing = sealing;
  }

  /**
   * Opens a folder, or begins it.
   * @throws DrawerError `locked/passphrase-wrong`; `usage/passphrase-short`; `damaged/sync-folder-unreadable`; `write-failed`
   */
  static async open(folder: string, passphrase: string): Promise<SyncFolder> {
    const path = join(folder, folderFile);
    return onDisk(folder, async () => {
      await mkdir(join(folder, 'pictures'), { recursive: true, mode: 0o700 });
      if (!(await isSyncFolder(folder))) {
        checkPassphrase(passphrase);
        const { lock } = newLock(passphrase);
        await writeOnce(path, Buffer.from(JSON.stringify({ format: 1, lock: JSON.stringify(lock) })));
      }
      const lock = parseFolder(await readFile(path, 'utf8'), path);
      return new SyncFolder(folder, lock.salt, openLock(lock, passphrase).sealing);
    });
  }

  /** The devices that have written a log. */
  async devices(): Promise<readonly string[]> {
    return (await readdir(this.path)).flatMap((name) => logName.exec(name)?.[1] ?? []).sort();
  }

  log(device: string): SyncLog {
    return new SyncLog(this.#logPath(device), device, this.#sealing);
  }

  async removeLog(device: string): Promise<void> {
    await rm(this.#logPath(device), { force: true });
  }

  #logPath(device: string): string {
    return join(this.path, `${device}.log`);
  }

  /** The bytes of a picture. @throws DrawerError `sync-picture-missing`; `picture-bytes-wrong` */
  async readPicture(hash: string): Promise<Uint8Array> {
    const where = this.#picturePath(hash);
    const sealed = await readFile(where).catch((cause: unknown) => {
      throw new DrawerError('storage/sync-picture-missing', {}, { where, cause });
    });
    const bytes = this.#sealing.open(sealed, `picture\n${hash}`);
    if (hashOf(bytes) !== hash) throw new DrawerError('invalid/picture-bytes-wrong', { hash }, { where });
    return bytes;
  }

  hasPicture(hash: string): Promise<boolean> {
    return exists(this.#picturePath(hash));
  }

  writePicture(hash: string, bytes: Uint8Array): Promise<void> {
    return writeOnce(this.#picturePath(hash), this.#sealing.seal(bytes, `picture\n${hash}`));
  }

  async removePicture(hash: string): Promise<void> {
    await rm(this.#picturePath(hash), { force: true });
  }

  /** Pictures are named by a keyed hash, so that the name says nothing. */
  #picturePath(hash: string): string {
    const name = Buffer.from(this.#sealing.digest(hash), 'base64').toString('base64url');
    return join(this.path, 'pictures', name);
  }
}

function parseFolder(text: string, where: string): ReturnType<typeof parseLock> {
  try {
    return parseLock(parseWith(folderSchema, JSON.parse(text), 'folder').lock);
  } catch (cause) {
    throw new DrawerError('damaged/sync-folder-unreadable', {}, { where, cause });
  }
}

/** Does work on files; what the system refuses becomes an error that says so. @throws DrawerError `write-failed` */
export async function onDisk<T>(where: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const isRefused = typeof error === 'object' && error !== null && 'syscall' in error;
    throw isRefused ? writeProblem(error, where) : error;
  }
}

/** Writes a new file, unless another device has written it meanwhile. */
async function writeOnce(path: string, bytes: Uint8Array): Promise<void> {
  await writeNewFile(path, bytes, 0o600).catch(async (error: unknown) => {
    if (!(await exists(path))) throw error;
  });
}
