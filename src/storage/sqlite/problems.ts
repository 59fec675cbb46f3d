import { statfsSync } from 'node:fs';
import { dirname } from 'node:path';
import { DrawerError, type ProblemName } from '../../content/index.ts';

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
  { codes: /SQLITE_FULL|ENOSPC|EDQUOT|disk is full/, reason: 'storage/drawer-disk-full' },
  { codes: /SQLITE_READONLY|EACCES|EPERM|EROFS|readonly/, reason: 'storage/drawer-read-only' },
  { codes: /SQLITE_CANTOPEN|ENOTDIR|EISDIR|ENOENT|EEXIST|unable to open/, reason: 'storage/drawer-not-opened' },
  { codes: /SQLITE_CORRUPT|malformed|no such (?:table|column)/, reason: 'damaged/drawer-damaged' },
  { codes: /SQLITE_IOERR/, reason: 'storage/drawer-disk-failed' },
];
