import { rmSync } from 'node:fs';
import Database from 'libsql';
import { DrawerError, locate } from '../../content/index.ts';
import type { Storage } from '../../drawer/index.ts';
import { noPassphrase } from '../encryption.ts';
import { Watchers } from '../work-queue.ts';
import { DeferredIndexing } from './deferred-indexing.ts';
import {
  busyTimeout,
  createFile,
  identityOf,
  isBusy,
  newerVersion,
  noDrawer,
  numberOf,
  storageProblem,
  versionOf,
  waitSync,
} from './file.ts';
import { lockChanged, newLock, openLock, parseLock, plaintext, type ValueEncryption } from './lock.ts';
import { copyOf, migrate } from './migrate.ts';
import type { Rescue } from './rescue.ts';
import { reseal } from './reseal.ts';
import { SqliteRows } from './rows.ts';
import { applicationId, checkOwnSchema, schemaVersion } from './schema.ts';
import { type Held, WriteQueue } from './write-queue.ts';

export { identityOf, tryClaim } from './file.ts';
export { newLock, openLock, parseLock, type ValueEncryption } from './lock.ts';
export type { Rescue } from './rescue.ts';

/**
 * Rescues a damaged drawer: replaces it by a new one with everything that can be read. Returns `undefined` if another program has
 * done so meanwhile.
 * @throws DrawerError `storage`
 */
export const rescueDrawer = async (path: string, options: RescueOptions = {}): Promise<Rescue | undefined> =>
  (await import('./rescue.ts')).rescueDrawer(path, options);

/**
 * A storage in one SQLite file, created with its folder if necessary, readable by its owner only. Any number of processes may use
 * it at once. A change is on disk when its promise is fulfilled (WAL mode, synchronous FULL).
 * @throws DrawerError `storage` if the file cannot be opened or is no drawer; `newer`; `damaged`; `locked`
 */
export function sqliteStorage(path: string, { passphrase }: SqliteOptions = {}): Storage {
  const { database, file, ...opened } = open(path);
  const held = underLock(database, opened, passphrase, path);
  let { sealing } = held;
  let hasWritten = false;
  const watchers = new Watchers(() => (identityOf(path) === file ? dataVersion(database) : 'replaced'));
  const works = new WriteQueue({ database, path, file }, held, () => {
    hasWritten = true;
    catchingUp.wrote(works.held.rows.waitingSeen());
    watchers.tell();
  });
  const catchingUp = new DeferredIndexing((most) =>
    works.writeAlone(async (open) => {
      open.catchUp(most);
      return open.waiting();
    }),
  );
  const resealed = (next: ValueEncryption, nextLock: string | undefined): Promise<unknown> =>
    works.writeAlone(
      async () => reseal(database, sealing, next, nextLock),
      (made) => {
        sealing = next;
        return { rows: made, lock: nextLock };
      },
    );
  return {
    read: async (work) => {
      const result = await works.read(work);
      catchingUp.wasRead(works.held.rows.waitingSeen());
      return result;
    },
    write: (work) =>
      works.write(async (open) => {
        open.waiting(); // once known, it is counted on
        return work(open);
      }),
    watch: (changed) => watchers.add(changed),
    isLocked: () => works.held.lock !== undefined,
    lock: async (words) => {
      const made = newLock(words);
      await resealed(made.sealing, JSON.stringify(made.lock));
      await works.cleanUp(() => withoutTraces(database, path));
    },
    unlock: async () => void (await resealed(plaintext, undefined)),
    close: async () => {
      watchers.end();
      await catchingUp.end(hasWritten ? works.held.rows.waitingSeen() : 0);
      return works.end(hasWritten);
    },
  };
}

/** Options of `rescueDrawer`. */
export interface RescueOptions extends SqliteOptions {
  /** The identity of the damaged file (`identityOf`); another file in its place is left alone. */
  readonly file?: string | undefined;
}

/** Options of `sqliteStorage`. */
export interface SqliteOptions {
  /** The passphrase of a locked drawer. */
  readonly passphrase?: string | undefined;
}

/** Opens the rows under the drawer's lock. @throws DrawerError `locked`; `damaged` if anything but Drawer has changed it */
function underLock(
  database: Database.Database,
  { rows, lock }: Held,
  passphrase: string | undefined,
  path: string,
): Held & { readonly sealing: ValueEncryption } {
  if (lock === undefined) return { rows, lock, sealing: plaintext };
  try {
    if (passphrase === undefined) throw noPassphrase();
    const before = parseLock(lock);
    const { sealing, lock: after } = openLock(before, passphrase);
    const sealed = new SqliteRows(database, sealing);
    const kept = after === before ? lock : JSON.stringify(after);
    database.exec(kept === lock ? 'BEGIN' : 'BEGIN IMMEDIATE');
    if (rows.findLock() !== lock) throw lockChanged();
    if (kept === lock) sealed.checkWhole();
    else sealed.putLock(kept);
    database.exec('COMMIT');
    return { rows: sealed, lock: kept, sealing };
  } catch (error) {
    database.close();
    throw locate(error, path);
  }
}

/** Erases all plaintext from the file, and removes the copies of older versions beside it. */
function withoutTraces(database: Database.Database, path: string): void {
  database.exec('PRAGMA temp_store = MEMORY; VACUUM');
  for (let version = 1; version < schemaVersion; version++) rmSync(copyOf(path, version), { force: true });
}

/** A number that increases when another connection has changed the file. */
const dataVersion = (database: Database.Database): number =>
  database.inTransaction ? Number.NaN : numberOf(database, 'data_version');

/** An open database, the identity of its file, and its lock. */
interface Opened {
  readonly database: Database.Database;
  readonly file: string | undefined;
  readonly rows: SqliteRows;
  readonly lock: string | undefined;
}

/** Opens a file, again if another program rescues it meanwhile. */
function open(path: string): Opened {
  for (const until = Date.now() + busyTimeout; ; ) {
    let database: Database.Database | undefined;
    let file: string | undefined;
    try {
      createFile(path);
      file = identityOf(path);
      // It was there, and another is being put in its place.
      if (file === undefined && Date.now() < until) continue;
      database = new Database(path, { timeout: busyTimeout });
      prepare(database, path);
      const rows = new SqliteRows(database);
      const lock = rows.findLock();
      if (identityOf(path) === file) return { database, file, rows, lock };
      database.close();
    } catch (error) {
      database?.close();
      if (identityOf(path) === file) throw storageProblem(error, path);
    }
  }
}

function prepare(database: Database.Database, path: string): void {
  const version = versionOf(database);
  if (!isMarked(database) && hasTables(database) && !isMarked(database)) throw noDrawer(path); // one made meanwhile is marked
  if (version > schemaVersion) throw newerVersion(path);
  useJournal(database);
  // Every checkpoint costs two more fsyncs, so they are seldom; closing makes one. A drawer may come from anybody: what its
  // tables would do by themselves is not trusted.
  database.exec(
    `PRAGMA synchronous = FULL; PRAGMA secure_delete = ON; PRAGMA wal_autocheckpoint = 4000;
     PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON`,
  );
  if (version < schemaVersion) migrate(database, path);
  else checkOwnSchema(database);
}

const isMarked = (database: Database.Database): boolean => numberOf(database, 'application_id') === applicationId;

const hasTables = (database: Database.Database): boolean =>
  database.prepare('SELECT 1 FROM sqlite_schema').get() !== undefined;

/** Switches to the write-ahead log, waiting for other processes, which SQLite does not do here. */
function useJournal(database: Database.Database): void {
  const until = Date.now() + busyTimeout;
  for (;;) {
    try {
      const row = database.prepare('PRAGMA journal_mode = WAL').get() as { journal_mode?: string } | undefined;
      if (row?.journal_mode === 'wal') return;
    } catch (error) {
      if (!isBusy(error)) throw error;
    }
    if (Date.now() > until) throw new DrawerError('storage/drawer-busy');
    waitSync(20);
  }
}
