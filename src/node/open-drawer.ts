import { DrawerError } from '../content/index.ts';
import { Drawer, type FileTool, type Storage } from '../drawer/index.ts';
import { identityOf, type Rescue, rescueDrawer, type SqliteOptions, sqliteStorage } from '../storage/sqlite/index.ts';

/** How a drawer is opened. */
export interface OpenOptions extends SqliteOptions {
  /** With it, what can be read of a damaged drawer is rescued, and told; without it, opening one fails. */
  onRescued?(rescue: Rescue): void;
}

/**
 * The drawer in a file, made when it does not exist. Without a path it is the user's own, at `defaultDrawerPath()`.
 * @throws DrawerError `storage`; `damaged`; `locked` when it needs a passphrase, or another one.
 */
export async function openDrawer(path?: string, { onRescued, ...options }: OpenOptions = {}): Promise<Drawer> {
  const place = path ?? (await import('./default-path.ts')).defaultDrawerPath();
  return new Drawer(await opened(place, options, onRescued), {
    now: () => new Date(),
    newId: () => crypto.randomUUID(),
    files,
  });
}

/** The files of this computer; what reads and writes them is loaded when one is. */
const files: FileTool = {
  read: async (path) => (await tool()).read(path),
  replace: async (path, bytes) => (await tool()).replace(path, bytes),
  create: async (path, bytes) => (await tool()).create(path, bytes),
  remove: async (path) => (await tool()).remove(path),
};
const tool = async (): Promise<FileTool> => (await import('./replace-file.ts')).fileTool;

async function opened(path: string, options: SqliteOptions, onRescued: OpenOptions['onRescued']): Promise<Storage> {
  const file = identityOf(path);
  try {
    return sqliteStorage(path, options);
  } catch (error) {
    if (!onRescued || !DrawerError.is(error) || error.code !== 'damaged') throw error;
    const rescue = await rescueDrawer(path, { ...options, file });
    if (rescue) onRescued(rescue);
    return sqliteStorage(path, options);
  }
}
