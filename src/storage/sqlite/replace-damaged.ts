import { existsSync, renameSync } from 'node:fs';
import { tryClaim } from './claim.ts';
import { patience, waitSync } from './patience.ts';
import { storageProblem } from './problems.ts';

/** A database and its journals. */
export const filesOf = (path: string): readonly string[] => ['', '-wal', '-shm'].map((ending) => path + ending);

/** Where a new drawer is made of a damaged one. */
export const rescuedName = (path: string): string => `${path}.rescue`;

/** Waits until no other program rescues the same drawer. A claim ends with its program. @throws DrawerError `storage` */
export function claim(path: string): () => void {
  for (const until = Date.now() + patience; Date.now() < until; waitSync(20)) {
    const release = claimNow(path);
    if (release) return release;
  }
  throw storageProblem(Object.assign(new Error(), { code: 'SQLITE_BUSY' }), path);
}

function claimNow(path: string): (() => void) | undefined {
  try {
    return tryClaim(`${path}.rescuing`);
  } catch (error) {
    throw storageProblem(error, path);
  }
}

/**
 * Puts the new drawer in the place of the damaged one; gives where that is now. The database moves first and its journals
 * behind it, so that wherever this ends, `finishRescue` can go on: a new database beside an old journal would be damaged by it.
 */
export function replaceDamaged(path: string): string {
  const kept = keptNames(path).free;
  moveAll(path, kept);
  return kept;
}

/** Goes on where a program ended between taking the damaged drawer away and putting the new one there; `false` where none did. */
export function finishRescue(path: string): boolean {
  if (!existsSync(rescuedName(path))) return false;
  const release = claim(path);
  try {
    const { last } = keptNames(path);
    if (last !== undefined && !existsSync(path)) moveAll(path, last);
    return existsSync(path);
  } finally {
    release();
  }
}

function moveAll(path: string, kept: string): void {
  const names = filesOf(kept);
  for (const [index, name] of filesOf(path).entries()) move(name, names[index] as string);
  move(rescuedName(path), path);
}

/** Mostly there is no journal. */
function move(from: string, to: string): void {
  try {
    renameSync(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
}

/** The name under which the last damaged drawer was kept, and the first that is free. */
function keptNames(path: string): { readonly last: string | undefined; readonly free: string } {
  let last: string | undefined;
  let free = `${path}.damaged`;
  for (let number = 2; existsSync(free); number++) {
    last = free;
    free = `${path}.damaged-${number}`;
  }
  return { last, free };
}
