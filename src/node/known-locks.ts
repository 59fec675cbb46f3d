import { mkdir, realpath, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { hashOf, type Storage } from '../drawer/index.ts';
import { drawerFolder } from './default-path.ts';
import { exists } from './files.ts';

/** Which drawers were locked when this person used them last: one small file for each, by its path, which it holds. */
const record = async (path: string): Promise<{ readonly file: string; readonly drawer: string }> => {
  const folder = await realpath(dirname(path)).catch(() => dirname(path));
  const drawer = join(folder, basename(path));
  return { drawer, file: join(drawerFolder(), 'locked', hashOf(new TextEncoder().encode(drawer))) };
};

/**
 * @throws DrawerError `refused` for a drawer that is not locked, or not there, and was locked when it was used last: somebody
 *   may have put another in its place, to which secrets would go in the clear
 */
export async function checkKnownLock(path: string, isLocked: boolean): Promise<void> {
  if (isLocked || !(await exists((await record(path)).file))) return;
  throw new DrawerError('refused/drawer-lock-gone', {}, { where: path });
}

/** Keeps in mind whether it is locked. A folder that cannot be written is no reason to leave a drawer closed. */
export async function keepInMind(path: string, isLocked: boolean): Promise<void> {
  const { file, drawer } = await record(path);
  if (!isLocked) return rm(file, { force: true });
  if (await exists(file)) return;
  try {
    await mkdir(dirname(file), { recursive: true, mode: 0o700 });
    await writeFile(file, drawer, { mode: 0o600 });
  } catch {
    // it is asked for its passphrase all the same
  }
}

/** A storage whose locking and unlocking is kept in mind. */
export const remembered = (path: string, storage: Storage): Storage => ({
  ...storage,
  ...(storage.lock && {
    lock: async (passphrase: string) => {
      await storage.lock?.(passphrase);
      await keepInMind(path, true);
    },
  }),
  ...(storage.unlock && {
    unlock: async () => {
      await storage.unlock?.();
      await keepInMind(path, false);
    },
  }),
});
