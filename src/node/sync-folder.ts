import { randomBytes } from 'node:crypto';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { hashOf } from '../drawer/index.ts';
import { type Encryption, newLock, openLock, parseLock } from '../storage/sqlite/index.ts';
import { writeProblem } from './files.ts';
import { SyncLog } from './sync-log.ts';

/** The file of a folder that says how it is sealed. */
const folderFile = 'drawer-sync.json';
const logName = /^([0-9a-z]{12})\.log$/;
/** Minimum length of a passphrase in characters: whoever has the folder can make unlimited attempts. */
const shortest = 8;

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
        if ([...passphrase].length < shortest) throw new DrawerError('usage/passphrase-short', { least: shortest });
        const { lock } = newLock(passphrase);
        await writeWhole(path, Buffer.from(JSON.stringify({ format: 1, lock: JSON.stringify(lock) })));
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

  async hasPicture(hash: string): Promise<boolean> {
    return stat(this.#picturePath(hash)).then(
      () => true,
      () => false,
    );
  }

  writePicture(hash: string, bytes: Uint8Array): Promise<void> {
    return writeWhole(this.#picturePath(hash), this.#sealing.seal(bytes, `picture\n${hash}`));
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

/** Writes a new file that is there whole or not at all. */
async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const begun = `${path}.${randomBytes(4).toString('hex')}.part`;
  try {
    const file = await open(begun, 'wx', 0o600);
    try {
      await file.writeFile(bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(begun, path);
  } finally {
    await rm(begun, { force: true });
  }
}
