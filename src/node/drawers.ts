import { readdir } from 'node:fs/promises';
import { drawerFolder, ending } from './default-path.ts';

/** The names of the user's drawers, sorted. */
export async function drawers(): Promise<readonly string[]> {
  const names = await readdir(drawerFolder()).catch((): string[] => []);
  return names
    .filter((name) => name.endsWith(ending))
    .map((name) => name.slice(0, -ending.length))
    .sort();
}
