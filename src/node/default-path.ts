import { readdir } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import envPaths from 'env-paths';

const ending = '.drawer';

/** The folder for data of the user's system, where drawers are that have a name only. */
const drawerFolder = (): string => envPaths('drawer', { suffix: '' }).data;

/** Where a user's drawer is when nothing else is said. */
export const defaultDrawerPath = (): string => join(drawerFolder(), `default${ending}`);

/** A name alone means a drawer in the user's own folder; anything with a dot or slash is a path. */
export const drawerPath = (nameOrPath: string): string =>
  /^[\p{L}\p{N}_ -]+$/u.test(nameOrPath) ? join(drawerFolder(), `${nameOrPath}${ending}`) : resolve(nameOrPath);

/** The names of the user's drawers, sorted. */
export async function drawers(): Promise<readonly string[]> {
  const names = await readdir(drawerFolder()).catch((): string[] => []);
  return names
    .filter((name) => name.endsWith(ending))
    .map((name) => name.slice(0, -ending.length))
    .sort();
}
