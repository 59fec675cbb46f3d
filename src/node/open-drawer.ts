import { DrawerError } from '../content/index.ts';
import { type Drawer, type FileSystem, type Storage, StoredDrawer } from '../drawer/index.ts';
import { identityOf, type Rescue, rescueDrawer, type SqliteOptions, sqliteStorage } from '../storage/sqlite/index.ts';
import { exists, whileClaimed } from './files.ts';
import { checkKnownLock, keepInMind, remembered } from './known-locks.ts';

/**
 * Gives the passphrase of a drawer that is locked, by its file. It is told what stands in the way, and what was tried before;
 * to give up, it throws.
 */
export type PassphraseOf = (file: string, problem: DrawerError, tried: string | undefined) => Promise<string>;

/** How a drawer is opened. */
export interface OpenOptions extends SqliteOptions {
  /** Asked for the passphrase of a locked drawer where `passphrase` is not given or not right, until it is. */
  readonly passphraseOf?: PassphraseOf | undefined;
  /** With it, what can be read of a damaged drawer is rescued, and told; without it, opening one fails. */
  onRescued?(rescue: Rescue): void;
  /** It may be in the clear, or not there, though it was locked when this person used it last. */
  readonly mayBeUnlocked?: boolean;
  /** It is only here for a moment: nobody is to remember whether it is locked. */
  readonly isCopy?: boolean;
  /** Hears of a file that was replaced and had other names (hard links), and how many: they still lead to what it was. */
  onOtherNames?(path: string, names: number): void;
}

/**
 * The drawer in a file, made when it does not exist. Without a path it is the user's own, at `defaultDrawerPath()`.
 * @throws DrawerError `storage`; `damaged`; `newer`; `locked` when it needs a passphrase, or another one; `refused` when it was
 *   locked when it was used last, and is not now.
 */
export async function openDrawer(path?: string, options: OpenOptions = {}): Promise<Drawer> {
  const place = path ?? (await import('./default-path.ts')).defaultDrawerPath();
  return new StoredDrawer(await asRemembered(place, options), {
    clock: () => new Date(),
    generateId: () => crypto.randomUUID(),
    files: {
      ...files,
      replace: async (path, bytes, was) => {
        const names = await (await tool()).replace(path, bytes, was);
        if (names > 0) options.onOtherNames?.(path, names);
      },
      turnDrawer: async (...turning) => (await import('./undo-drawer.ts')).turnDrawer(options, ...turning),
    },
  });
}

/** The files of this computer; what reads and writes them is loaded when one is. */
const files: Omit<FileSystem, 'replace'> = {
  check: async (path) => (await tool()).check?.(path),
  read: async (path) => (await tool()).read(path),
  claim: whileClaimed,
  sign: async (words) => (await import('./own-mark.ts')).sign(words),
  create: async (path, bytes) => (await tool()).create(path, bytes),
  remove: async (path) => (await tool()).remove(path),
};
const tool = async () => (await import('./replace-file.ts')).fileSystem;

/** The storage, unless its file may be another than the one that was locked. */
async function asRemembered(path: string, options: OpenOptions): Promise<Storage> {
  if (options.isCopy) return unlocked(path, options);
  const check = (isLocked: boolean): Promise<void> | undefined =>
    options.mayBeUnlocked ? undefined : checkKnownLock(path, isLocked);
  if (!(await exists(path))) await check(false);
  const storage = await unlocked(path, options);
  const isLocked = storage.isLocked?.() ?? false;
  try {
    await check(isLocked);
  } catch (error) {
    await storage.close();
    throw error;
  }
  if (isLocked || options.mayBeUnlocked) await keepInMind(path, isLocked);
  return remembered(path, storage);
}

async function unlocked(path: string, { passphraseOf, ...options }: OpenOptions): Promise<Storage> {
  for (let { passphrase } = options; ; )
    try {
      return await opened(path, { ...options, passphrase });
    } catch (error) {
      if (!passphraseOf || !DrawerError.is(error) || error.code !== 'locked') throw error;
      passphrase = await passphraseOf(path, error, passphrase);
    }
}

async function opened(path: string, { onRescued, ...options }: Omit<OpenOptions, 'passphraseOf'>): Promise<Storage> {
  const file = identityOf(path);
  try {
    return sqliteStorage(path, options);
  } catch (error) {
    if (!onRescued || !DrawerError.is(error) || error.code !== 'damaged') throw error;
    // A disk may fail once: a drawer is not given up for that.
    const again = await secondLook(path, options);
    if (again) return again;
    const rescue = await rescueDrawer(path, { ...options, file });
    if (rescue) onRescued(rescue);
    return sqliteStorage(path, options);
  }
}

/** The drawer after all, a moment later; `undefined` where it is damaged still. */
async function secondLook(path: string, options: SqliteOptions): Promise<Storage | undefined> {
  await new Promise((resolve) => setTimeout(resolve, 200));
  try {
    return sqliteStorage(path, options);
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'damaged') return undefined;
    throw error;
  }
}
