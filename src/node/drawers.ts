import { readdir } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { drawerFolder, ending } from './default-path.ts';

/** The names of the user's drawers, sorted. */
export async function drawers(): Promise<readonly string[]> {
  const names = await readdir(drawerFolder()).catch((): string[] => []);
  return names
    .filter((name) => name.endsWith(ending))
    .map((name) => name.slice(0, -ending.length))
    .sort();
}

/**
 * The copies that stay beside a drawer: from before it was brought up to a newer version, or before it was rescued. They are as
 * the drawer was then, whatever is locked or erased in it now.
 * @returns names of files, sorted
 */
export async function copiesBeside(path: string): Promise<readonly string[]> {
  const name = basename(path);
  const beside = await readdir(dirname(path)).catch((): string[] => []);
  const isCopy = (each: string): boolean => /^\.(?:version-\d+|damaged(?:-\d+)?)$/.test(each.slice(name.length));
  return beside.filter((each) => each.startsWith(name) && isCopy(each)).sort();
}
