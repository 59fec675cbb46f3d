import { statfsSync } from 'node:fs';
import { dirname } from 'node:path';
import { DrawerError, type ProblemCode } from '../../content/index.ts';

export const noDrawer = (path: string): DrawerError =>
  new DrawerError({
    code: 'storage',
    what: 'The file is not a drawer',
    where: path,
    next: 'Name a drawer’s file, or one that does not exist yet, with --drawer; nothing was changed',
  });

/** Older programs would not write all that belongs to it. */
export const newerVersion = (path: string): DrawerError =>
  new DrawerError({
    code: 'newer',
    what: 'The drawer was made, or brought up meanwhile, by a newer version of Drawer',
    where: path,
    next: 'Install that version to open it; nothing was changed',
  });

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
  if (problem?.notDrawer) return noDrawer(path);
  return new DrawerError(
    {
      code: problem?.code ?? 'storage',
      what: problem?.what ?? `The drawer could not be used (${message})`,
      where: path,
      next: problem?.next ?? 'Nothing was changed',
    },
    { cause: error },
  );
}

const problems: readonly {
  readonly codes: RegExp;
  readonly what?: string;
  readonly next?: string;
  readonly notDrawer?: true;
  readonly code?: ProblemCode;
}[] = [
  { codes: /SQLITE_NOTADB|not a database/, notDrawer: true },
  {
    codes: /SQLITE_(BUSY|LOCKED)|database is locked/,
    what: 'Another program keeps the drawer busy',
    next: 'Try again in a moment; nothing was changed',
  },
  {
    codes: /SQLITE_FULL|ENOSPC|EDQUOT|disk is full/,
    what: 'The disk is full',
    next: 'Make room and try again; nothing was changed',
  },
  {
    codes: /SQLITE_READONLY|EACCES|EPERM|EROFS|readonly/,
    what: 'The drawer may not be written there',
    next: 'Choose another place with --drawer',
  },
  {
    codes: /SQLITE_CANTOPEN|ENOTDIR|EISDIR|ENOENT|EEXIST|unable to open/,
    what: 'The drawer could not be opened',
    next: 'Check the path, or choose another with --drawer',
  },
  {
    codes: /SQLITE_CORRUPT|malformed|no such (?:table|column)/,
    what: 'The drawer’s file is damaged',
    next: 'drawer check rescues what can be read of it; nothing was changed',
    code: 'damaged',
  },
  {
    codes: /SQLITE_IOERR/,
    what: 'The disk did not take or give what was asked',
    next: 'It may be full or failing; what the drawer held is still in it',
  },
];
