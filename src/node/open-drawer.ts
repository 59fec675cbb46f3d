import { DrawerError } from '../content/index.ts';
import { type Drawer, type FileSystem, type Storage, StoredDrawer } from '../drawer/index.ts';
import { identityOf, type Rescue, rescueDrawer, type SqliteOptions, sqliteStorage } from '../storage/sqlite/index.ts';
import { stampedStorage } from '../sync/index.ts';
import { exists, whileClaimed } from './files.ts';
import { checkKnownLock, keepInMind, remembered } from './known-locks.ts';

/**
 * Returns the passphrase of a locked drawer file. Receives the problem and the previous attempt. Throws to give up.
 */
export type PassphraseOf = (file: string, problem: DrawerError, tried: string | undefined) => Promise<string>;

/** Options of `openDrawer`. */
export interface OpenOptions extends SqliteOptions {
  /** Called for the passphrase of a locked drawer until it is right, if `passphrase` is missing or wrong. */
  readonly passphraseOf?: PassphraseOf | undefined;
  /** Receives the result of rescuing a damaged drawer. Without it, opening a damaged one fails. */
  onRescued?: ((rescue: Rescue) => void) | undefined;
  /** Whether it may be unlocked or missing, although it was locked when this user opened it last. */
  readonly mayBeUnlocked?: boolean;
  /** Whether it is a temporary copy; then it is not remembered whether it is locked. */
  readonly isCopy?: boolean;
  /** Receives a replaced file that has other names (hard links), and their number; they keep the old content. */
  onOtherNames?(path: string, names: number): void;
}

/**
 * Opens the drawer in a file, creating it if necessary.
 * @param path - default: the user's own drawer at `defaultDrawerPath()`
 * @throws DrawerError `storage`; `damaged`; `newer`; `locked` without the right passphrase; `refused` if it was locked when it was
 *   used last and is not now
 */
export async function openDrawer(path?: string, options: OpenOptions = {}): Promise<Drawer> {
  const place = path ?? (await import('./default-path.ts')).defaultDrawerPath();
  return new StoredDrawer(stampedStorage(await asRemembered(place, options), Date.now), {
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

/** The file system; its code is loaded on first use. */
const files: Omit<FileSystem, 'replace'> = {
  check: async (path) => (await tool()).check?.(path),
  read: async (path) => (await tool()).read(path),
  claim: whileClaimed,
  sign: async (words) => (await import('./own-mark.ts')).sign(words),
  create: async (path, bytes) => (await tool()).create(path, bytes),
  remove: async (path) => (await tool()).remove(path),
};
const tool = async () => (await import('./replace-file.ts')).fileSystem;

/** Opens the storage of a drawer as `openDrawer` does. @throws DrawerError like that */
export const openDrawerStorage = (path: string, options: OpenOptions = {}): Promise<Storage> =>
  asRemembered(path, options);

/** Opens the storage, unless its file may have been exchanged for an unlocked one. */
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
    // A disk may fail once, so it is tried again.
    const again = await secondLook(path, options);
    if (again) return again;
    const rescue = await rescueDrawer(path, { ...options, file });
    if (rescue) onRescued(rescue);
    return sqliteStorage(path, options);
  }
}

/** Opens the drawer a moment later; `undefined` if it is still damaged. */
async function secondLook(path: string, options: SqliteOptions): Promise<Storage | undefined> {
  await new Promise((resolve) => setTimeout(resolve, 200));
  try {
    return sqliteStorage(path, options);
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'damaged') return undefined;
    throw error;
  }
}
