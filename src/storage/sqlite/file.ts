import {
  closeSync,
  existsSync,
  fchmodSync,
  fstatSync,
  mkdirSync,
  openSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
} from 'node:fs';
import { dirname } from 'node:path';
import Database from 'libsql';
import { DrawerError, type ProblemName } from '../../content/index.ts';

/** Says which file it is that has a name now; `undefined` where none can be seen. */
export function identityOf(path: string): string | undefined {
  try {
    const { dev, ino } = statSync(path);
    return `${dev}:${ino}`;
  } catch {
    return undefined;
  }
}

/** What is written to a file that is no longer there would be lost. */
export const fileReplaced = (path: string): DrawerError =>
  new DrawerError('storage/drawer-replaced', {}, { where: path });

/** How long to wait for another process that is writing, in milliseconds. */
export const busyTimeout = 15_000;

/** Keeps the whole program waiting, for so many milliseconds. */
export const waitSync = (milliseconds: number): void =>
  void Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, milliseconds);

/** Reads a pragma of a single number. */
export const numberOf = (database: Database.Database, pragma: string): number => {
  const row = database.prepare(`PRAGMA ${pragma}`).get() as Record<string, number> | undefined;
  return row?.[pragma] ?? 0;
};

/** Which tables a drawer's file has; 0 where it is new. */
export const versionOf = (database: Database.Database): number => numberOf(database, 'user_version');

/** SQLite would make the file readable by all; its journals take the file's own rights. */
export function createFile(path: string): void {
  if (existsSync(path) || finishRescue(path)) return;
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  closeSync(openSync(path, 'a', 0o600));
}

/** What this program has claimed: a second lock of the same program would not be kept out by the first. */
const mine = new Set<string>();

/**
 * Claims a name for one piece of work alone, by a lock that ends with the program, however that ends. The file of that name is
 * there only meanwhile.
 * @param mode - the rights of that file: whoever may not write it cannot claim the name either
 * @returns what ends the claim; `undefined` while somebody else has it
 */
export function tryClaim(name: string, mode = 0o600): (() => void) | undefined {
  if (mine.has(name)) return undefined;
  const file = openClaim(name, mode);
  const { dev, ino } = fstatSync(file);
  const claimed = new Database(name, { timeout: 0 });
  // Our own handle stays open as long: no other file gets the number of this one meanwhile, and a lock goes with any handle.
  const end = (): void => {
    claimed.close();
    closeSync(file);
  };
  try {
    claimed.exec('PRAGMA journal_mode = MEMORY; BEGIN EXCLUSIVE'); // no journal of its own beside it
    // Whoever had it takes its file away at the end: what was opened may have lost its name to another.
    if (identityOf(name) === `${dev}:${ino}`) {
      mine.add(name);
      return () => {
        rmSync(name, { force: true });
        end();
        mine.delete(name);
      };
    }
  } catch (error) {
    const isGone = identityOf(name) !== `${dev}:${ino}`;
    if (!isGone && !isBusy(error) && !/^SQLITE_IOERR/.test(codeOf(error))) {
      end();
      throw error;
    }
  }
  end();
  return undefined;
}

/** Opens the file of a name, which another program may make or take away at any moment. */
function openClaim(name: string, mode: number): number {
  for (;;) {
    try {
      const file = openSync(name, 'ax', mode);
      fchmodSync(file, mode); // whatever rights new files get otherwise
      return file;
    } catch (error) {
      if (codeOf(error) !== 'EEXIST') throw error;
    }
    try {
      return openSync(name, 'r+');
    } catch (error) {
      if (codeOf(error) !== 'ENOENT') throw error;
    }
  }
}

/** A database and its journals. */
export const filesOf = (path: string): readonly string[] => ['', '-wal', '-shm'].map((ending) => path + ending);

/** Where a new drawer is made of a damaged one. */
export const rescuedName = (path: string): string => `${path}.rescue`;

/** Waits until no other program rescues the same drawer. A claim ends with its program. @throws DrawerError `storage` */
export function claim(path: string): () => void {
  for (const until = Date.now() + busyTimeout; Date.now() < until; waitSync(20)) {
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

export const noDrawer = (path: string): DrawerError => new DrawerError('storage/drawer-not-one', {}, { where: path });

/** Older programs would not write all that belongs to it. */
export const newerVersion = (path: string): DrawerError => new DrawerError('newer/drawer-newer', {}, { where: path });

export const codeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';

export const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));

/** SQLite calls it an input or output error when there is no room for its journal. */
function isDiskFull(path: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(dirname(path));
    return bavail * bsize < 64 * 1024;
  } catch {
    return false; // not known
  }
}

/** What went wrong below, in words for the drawer's owner. */
export function storageProblem(error: unknown, path: string): unknown {
  if (DrawerError.is(error)) return error;
  const code = codeOf(error);
  const message = error instanceof Error ? error.message : '';
  if (/SQLITE_IOERR/.test(code) && isDiskFull(path))
    return storageProblem(Object.assign(new Error(message), { code: 'ENOSPC' }), path);
  const problem = problems.find(({ codes }) => codes.test(code) || codes.test(message));
  if (!problem && !code.startsWith('SQLITE')) return error;
  return new DrawerError(
    problem?.reason ?? 'storage/drawer-failed',
    { detail: message },
    { where: path, cause: error },
  );
}

const problems: readonly { readonly codes: RegExp; readonly reason: ProblemName }[] = [
  { codes: /SQLITE_NOTADB|not a database/, reason: 'storage/drawer-not-one' },
  { codes: /SQLITE_(BUSY|LOCKED)|database is locked/, reason: 'storage/drawer-busy' },
  { codes: /SQLITE_FULL|ENOSPC|EDQUOT|database or disk is full/, reason: 'storage/drawer-disk-full' },
  { codes: /SQLITE_READONLY|EACCES|EPERM|EROFS|readonly/, reason: 'storage/drawer-read-only' },
  { codes: /SQLITE_CANTOPEN|ENOTDIR|EISDIR|ENOENT|EEXIST|unable to open/, reason: 'storage/drawer-not-opened' },
  { codes: /SQLITE_CORRUPT|malformed|no such table|no such column/, reason: 'damaged/drawer-damaged' },
  { codes: /SQLITE_IOERR/, reason: 'storage/drawer-disk-failed' },
];
