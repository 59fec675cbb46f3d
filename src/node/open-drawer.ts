import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import envPaths from 'env-paths';
import { Drawer } from '../drawer/index.ts';
import { sqliteStorage } from '../storage/sqlite/index.ts';

/** Where a user's drawer is when nothing else is said: in the folder for data of the user's system. */
export const defaultDrawerPath = (): string => join(envPaths('drawer', { suffix: '' }).data, 'default.drawer');

/**
 * The drawer in a file, made when it does not exist.
 * @throws DrawerError `storage`
 */
export const openDrawer = (path = defaultDrawerPath()): Drawer =>
  new Drawer(sqliteStorage(path), { now: () => new Date(), newId: randomUUID });
