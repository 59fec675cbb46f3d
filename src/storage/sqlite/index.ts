import { closeSync, existsSync, openSync, rmSync, statfsSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import Database from 'libsql';
import { DrawerError, locate, type ProblemCode } from '../../content/index.ts';
import type { Storage } from '../../drawer/index.ts';
import { WorkQueue } from '../queue.ts';
import { Watchers } from '../watchers.ts';
import { createFile } from './create-file.ts';
import { lockedMeanwhile, newLock, openLock, parseLock, type Seal } from './lock.ts';
import type { Rescue } from './rescue.ts';
import { SqliteRows } from './rows.ts';
import { applicationId, schema, schemaVersion, upgrades } from './schema.ts';

export type { Rescue } from './rescue.ts';

/** Puts a new drawer of what can be read of a damaged one in its place. @throws DrawerError `storage` */
export const rescueDrawer = async (path: string): Promise<Rescue> => (await import('./rescue.ts')).rescueDrawer(path);

/** How long to wait for another process that is writing, in milliseconds. */
const patience = 5_000;

/**
 * A drawer in one SQLite file, made with its folder when it does not exist, readable by its owner only. Any number of
 * processes may use it at once. A change is on disk when its promise is fulfilled (journal in WAL mode, synchronous FULL).
 * @throws DrawerError `storage` when the file cannot be opened or is no drawer.
 */
export function sqliteStorage(path: string, { passphrase }: SqliteOptions = {}): Storage {
  const database = open(path);
  const queue = new WorkQueue();
  let lock = lockOf(database, path);
  const rows = new SqliteRows(database, unsealed(database, lock, passphrase, path));
  let hasWritten = false;
  const watchers = new Watchers(() => dataVersion(database));
  const inside = <T>(begin: string, work: (rows: SqliteRows) => Promise<T>): Promise<T> =>
    queue.add(async () => {
      try {
        database.exec(begin);
        if (rows.findLock() !== lock) throw lockedMeanwhile();
        const result = await work(rows);
        database.exec('COMMIT');
        if (rows.erased) emptyJournal(database, rows);
        return result;
      } catch (error) {
        if (database.inTransaction) database.exec('ROLLBACK');
        throw storageProblem(error, path);
      }
    });
  return {
    read: (work) => inside('BEGIN', work),
    write: async (work) => {
      const result = await inside('BEGIN IMMEDIATE', work);
      hasWritten = true;
      watchers.tell();
      return result;
    },
    watch: (changed) => watchers.add(changed),
    isLocked: () => lock !== undefined,
    lock: async (words) => {
      const made = newLock(words);
      const json = JSON.stringify(made.lock);
      await inside('BEGIN IMMEDIATE', async () => rows.reseal(made.seal, json));
      lock = json;
      await queue.add(async () => withoutTraces(database, path));
    },
    unlock: async () => {
      await inside('BEGIN IMMEDIATE', async () => rows.reseal(undefined, undefined));
      lock = undefined;
    },
    close: () => {
      watchers.end();
      return queue.add(async () => {
        if (hasWritten) tidyJournal(database);
        database.close();
      });
    },
  };
}

/** How a drawer's file is opened. */
export interface SqliteOptions {
  /** Of a drawer that is locked. */
  readonly passphrase?: string | undefined;
}

function lockOf(database: Database.Database, path: string): string | undefined {
  try {
    return new SqliteRows(database).findLock();
  } catch (error) {
    database.close();
    throw storageProblem(error, path);
  }
}

/** What seals and opens the rows of a locked drawer. @throws DrawerError `locked` */
function unsealed(
  database: Database.Database,
  lock: string | undefined,
  passphrase: string | undefined,
  path: string,
): Seal | undefined {
  if (lock === undefined) return undefined;
  try {
    if (passphrase !== undefined) return openLock(parseLock(lock), passphrase);
    throw new DrawerError({ code: 'locked', what: 'The drawer is locked', next: 'It opens with its passphrase only' });
  } catch (error) {
    database.close();
    throw locate(error, path);
  }
}

/** Nothing of what was in the clear stays: not in the file, its journal, or copies of older versions beside it. */
function withoutTraces(database: Database.Database, path: string): void {
  database.exec('PRAGMA temp_store = MEMORY; VACUUM');
  database.prepare('PRAGMA wal_checkpoint(TRUNCATE)').all();
  for (let version = 1; version < schemaVersion; version++) rmSync(copyOf(path, version), { force: true });
}

const copyOf = (path: string, version: number): string => `${path}.version-${version}`;

/** Rises when another connection has changed the file. */
const dataVersion = (database: Database.Database): number =>
  database.inTransaction ? Number.NaN : numberOf(database, 'data_version');

/** Moves what the journal holds into the file, as far as nobody else reads it, so that the file alone is the whole drawer. */
function tidyJournal(database: Database.Database): void {
  try {
    database.prepare('PRAGMA wal_checkpoint(PASSIVE)').all();
  } catch (error) {
    if (!isBusy(error)) throw error; // whoever is at it does it
  }
}

/** What was erased may still stand in the write-ahead log: it is moved into the file, where it is overwritten, and cut off. */
function emptyJournal(database: Database.Database, rows: SqliteRows): void {
  database.prepare('PRAGMA wal_checkpoint(TRUNCATE)').all();
  rows.erased = false;
}

function open(path: string): Database.Database {
  let database: Database.Database | undefined;
  try {
    createFile(path);
    database = new Database(path, { timeout: patience });
    database.exec(`PRAGMA busy_timeout = ${patience}`);
    prepare(database, path);
    return database;
  } catch (error) {
    database?.close();
    throw storageProblem(error, path);
  }
}

function prepare(database: Database.Database, path: string): void {
  const version = numberOf(database, 'user_version');
  const tables = database.prepare('SELECT count(*) AS count FROM sqlite_schema').get() as { count: number };
  if (tables.count > 0 && numberOf(database, 'application_id') !== applicationId) throw noDrawer(path);
  if (version > schemaVersion) {
    throw new DrawerError({
      code: 'storage',
      what: 'The drawer was made by a newer version of Drawer',
      where: path,
      next: 'Install that version to open it; nothing was changed',
    });
  }
  useJournal(database);
  database.exec('PRAGMA synchronous = FULL');
  database.exec('PRAGMA secure_delete = ON');
  // Every checkpoint costs two more fsyncs, so they are seldom; closing makes one.
  database.exec('PRAGMA wal_autocheckpoint = 4000');
  if (version > 0 && version < schemaVersion) keepCopy(database, path, version);
  if (version < schemaVersion) bringUp(database);
}

const numberOf = (database: Database.Database, pragma: string): number => {
  const row = database.prepare(`PRAGMA ${pragma}`).get() as Record<string, number> | undefined;
  return row?.[pragma] ?? 0;
};

/** Switching to the write-ahead log does not wait for other processes by itself. */
function useJournal(database: Database.Database): void {
  const until = Date.now() + patience;
  for (;;) {
    try {
      const row = database.prepare('PRAGMA journal_mode = WAL').get() as { journal_mode?: string } | undefined;
      if (row?.journal_mode === 'wal') return;
    } catch (error) {
      if (!isBusy(error)) throw error;
    }
    if (Date.now() > until)
      throw new DrawerError({
        code: 'storage',
        what: 'Another program keeps the drawer busy',
        next: 'Try again in a moment',
      });
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
  }
}

/** An older drawer stays beside the one that is made of it. */
function keepCopy(database: Database.Database, path: string, version: number): void {
  const copy = copyOf(path, version);
  if (existsSync(copy) && statSync(copy).size > 0) return;
  closeSync(openSync(copy, 'a', 0o600));
  database.prepare('VACUUM INTO ?').run(copy);
}

/** Makes the tables or brings older ones up. Several processes may come first at once: the first one does it. */
function bringUp(database: Database.Database): void {
  database.exec('BEGIN IMMEDIATE');
  try {
    if (numberOf(database, 'user_version') === 0) database.exec(schema);
    for (
      let upgrade = upgrades[numberOf(database, 'user_version')];
      upgrade;
      upgrade = upgrades[numberOf(database, 'user_version')]
    )
      database.exec(upgrade);
    moveRows(database);
    database.exec('COMMIT');
  } catch (error) {
    if (database.inTransaction) database.exec('ROLLBACK');
    throw error;
  }
}

/** Writes the snippets of an older version anew, with all that is kept beside them now. */
function moveRows(database: Database.Database): void {
  if (!database.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'snippet_2'").get()) return;
  const rows = new SqliteRows(database);
  const old = database.prepare('SELECT head, content FROM snippet_2 ORDER BY "order"').all() as {
    head: string;
    content: string;
  }[];
  for (const { head, content } of old) rows.add({ ...JSON.parse(head), content: JSON.parse(content) });
  database.exec('DROP TABLE snippet_2');
}

const noDrawer = (path: string): DrawerError =>
  new DrawerError({
    code: 'storage',
    what: 'The file is not a drawer',
    where: path,
    next: 'Name a drawer’s file, or one that does not exist yet, with --drawer; nothing was changed',
  });

const codeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';

const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));

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
function storageProblem(error: unknown, path: string): unknown {
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
    codes: /SQLITE_CORRUPT|malformed/,
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
