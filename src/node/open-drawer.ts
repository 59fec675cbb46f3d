import { Drawer } from '../drawer/index.ts';
import { type SqliteOptions, sqliteStorage } from '../storage/sqlite/index.ts';
import { fileTool } from './replace-file.ts';

/**
 * The drawer in a file, made when it does not exist. Without a path it is the user's own, at `defaultDrawerPath()`.
 * @throws DrawerError `storage`; `locked` when it needs a passphrase, or another one.
 */
export async function openDrawer(path?: string, options?: SqliteOptions): Promise<Drawer> {
  const place = path ?? (await import('./default-path.ts')).defaultDrawerPath();
  return new Drawer(sqliteStorage(place, options), {
    now: () => new Date(),
    newId: () => crypto.randomUUID(),
    files: fileTool,
  });
}
