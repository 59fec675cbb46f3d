import { AsyncLocalStorage } from 'node:async_hooks';
import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { DrawerError } from '../content/index.ts';
import { tryClaim } from '../storage/sqlite/index.ts';
import { isBesidePicture } from './beside-pictures.ts';
import { writeProblem } from './files.ts';

/** How long to wait for others who change the same file, and how long until the next look, in milliseconds. */
const longest = 60_000;
const pause = 15;

/** The files that the work under way has claimed already. */
const claimed = new AsyncLocalStorage<ReadonlySet<string>>();

/**
 * Does a piece of work while nothing else of Drawer, in any program, changes the files it names: what is read in it is still so
 * when it is written. Files that are not there need no claim, since none is ever made twice; nor do pictures beside a text, which are named by
 * what they hold.
 * @param paths - as they were named; a link stands for what it leads to
 * @throws DrawerError `write-failed` where somebody else has claimed one of them for a minute
 */
export async function whileClaimed<T>(paths: readonly string[], work: () => Promise<T>): Promise<T> {
  const mine = claimed.getStore() ?? new Set<string>();
  const found = await Promise.all(paths.map((path) => realpath(path).catch(() => '')));
  const wanted = [...new Set(found)].filter((path) => path !== '' && !mine.has(path) && !isBesidePicture(path));
  const ends: (() => void)[] = [];
  try {
    for (const path of wanted.sort()) ends.push(await claim(path)); // all in one order, so that nobody waits in a circle
    return await claimed.run(new Set([...mine, ...wanted]), work);
  } finally {
    for (const end of ends) end();
  }
}

async function claim(path: string): Promise<() => void> {
  const name = join(dirname(path), `.${basename(path)}.drawer-claim`);
  for (const until = performance.now() + longest; performance.now() < until; await setTimeout(pause)) {
    const end = await claimNow(path, name);
    if (end) return end;
  }
  throw new DrawerError('write-failed/file-busy', {}, { where: path });
}

async function claimNow(path: string, name: string): Promise<(() => void) | undefined> {
  try {
    return tryClaim(name, (await stat(path)).mode & 0o666);
  } catch (error) {
    throw writeProblem(error, path);
  }
}
