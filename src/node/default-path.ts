import { join, resolve } from 'node:path';
import envPaths from 'env-paths';

export const ending = '.drawer';

/** The folder for data of the user's system, where drawers are that have a name only. */
export const drawerFolder = (): string => envPaths('drawer', { suffix: '' }).data;

/** Where a user's drawer is when nothing else is said. */
export const defaultDrawerPath = (): string => join(drawerFolder(), `default${ending}`);

/** A name alone means a drawer in the user's own folder; anything with a dot or slash is a path. */
export const drawerPath = (nameOrPath: string): string =>
  /^[\p{L}\p{N}_ -]+$/u.test(nameOrPath) ? join(drawerFolder(), `${nameOrPath}${ending}`) : resolve(nameOrPath);
