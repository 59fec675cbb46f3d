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

/** The identity of the file at a path; `undefined` if there is none. */
export function identityOf(path: string): string | undefined {
  try {
    const { dev, ino } = statSync(path);
    return `${dev}:${ino}`;
  } catch {
    return undefined;
  }
}

/** The error for a file that was replaced; writes to it would be lost. */
export const fileReplaced = (path: string): DrawerError =>
  new DrawerError('storage/drawer-replaced', {}, { where: path });

/** The maximum wait for another writing process, in milliseconds. */
export const busyTimeout = 15_000;

/** Blocks the whole program for some milliseconds. */
export const waitSync = (milliseconds: number): void =>
  void Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, milliseconds);

/** Reads a pragma of a single number. */
export const numberOf = (database: Database.Database, pragma: string): number => {
  const row = database.prepare(`PRAGMA ${pragma}`).get() as Record<string, number> | undefined;
  return row?.[pragma] ?? 0;
};

/** The version of a drawer's tables; 0 for a new file. */
export const versionOf = (database: Database.Database): number => numberOf(database, 'user_version');

/** Creates a file that only its owner can read. SQLite would make it readable by all; its journals inherit the permissions. */
export function createFile(path: string): void {
  if (existsSync(path) || finishRescue(path)) return;
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  closeSync(openSync(path, 'a', 0o600));
}

/** The names claimed by this program, because a lock does not exclude others of the same process. */
const mine = new Set<string>();

/**
 * Claims a name exclusively, by a lock that ends with the process, however that ends. The lock file exists only during the claim.
 * @param mode - the permissions of the lock file; claiming needs the permission to write it
 * @returns a function that ends the claim; `undefined` if the name is claimed already
 */
export function tryClaim(name: string, mode = 0o600): (() => void) | undefined {
  if (mine.has(name)) return undefined;
  const file = openClaim(name, mode);
  const { dev, ino } = fstatSync(file);
  const claimed = new Database(name, { timeout: 0 });
  // The handle stays open, so that no other file gets this inode number; closing any handle would release the lock.
  const end = (): void => {
    claimed.close();
    closeSync(file);
  };
  try {
    claimed.exec('PRAGMA journal_mode = MEMORY; BEGIN EXCLUSIVE'); // without a journal file
    // The previous owner removes the file at the end, so the opened file may no longer have this name.
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

/** Opens or creates a lock file, which other programs may create or remove at any moment. */
function openClaim(name: string, mode: number): number {
  for (;;) {
    try {
      const file = openSync(name, 'ax', mode);
      fchmodSync(file, mode); // independent of the umask
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

/** The endings of a database and its journals. */
export const filesOf = (path: string): readonly string[] => ['', '-wal', '-shm'].map((ending) => path + ending);

/** The path of the new drawer during a rescue. */
export const rescuedName = (path: string): string => `${path}.rescue`;

/** Claims the rescue of a drawer, waiting for other programs. @throws DrawerError `storage` */
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
 * Replaces the damaged drawer by the new one; returns the new path of the damaged one. The database moves before its journals, so
 * that `finishRescue` can continue from any point: a new database beside an old journal would be damaged.
 */
export function replaceDamaged(path: string): string {
  const kept = keptNames(path).free;
  moveAll(path, kept);
  return kept;
}

/** Completes an interrupted replacement of a damaged drawer; `false` if there is none. */
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

/** Renames a file if it exists; usually there is no journal. */
function move(from: string, to: string): void {
  try {
    renameSync(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
}

/** The path of the last damaged drawer kept, and the first free path. */
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

/** The error for a drawer of a newer version, which this version would not write completely. */
export const newerVersion = (path: string): DrawerError => new DrawerError('newer/drawer-newer', {}, { where: path });

export const codeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';

export const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));

/** Whether the disk is full. SQLite reports an I/O error if there is no room for its journal. */
function isDiskFull(path: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(dirname(path));
    return bavail * bsize < 64 * 1024;
  } catch {
    return false; // unknown
  }
}

/** Converts an error of SQLite or the file system. */
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
