import { setImmediate, setTimeout } from 'node:timers/promises';
import type Database from 'libsql';
import { WorkQueue } from '../work-queue.ts';
import { busyTimeout, fileReplaced, identityOf, isBusy, newerVersion, storageProblem } from './file.ts';
import { lockChanged } from './lock.ts';
import type { SqliteRows } from './rows.ts';
import { schemaVersion } from './schema.ts';

/** Maximum duration of a shared commit in milliseconds; later writes wait for the next one, so that other programs get a turn. */
const longest = 20;
/** Interval in milliseconds for checking whether another program has finished writing. */
const pause = 1;
/** Number of transactions after which the event loop gets a turn; otherwise a burst of calls would block it and hold memory. */
const turn = 64;

/** An open drawer file. */
export interface OpenFile {
  readonly database: Database.Database;
  readonly path: string;
  /** The identity of the file (`identityOf`). */
  readonly file: string | undefined;
}

/** The rows to read and write, and the current lock as JSON. */
export interface Held {
  readonly rows: SqliteRows;
  readonly lock: string | undefined;
}

type Work<T> = (rows: SqliteRows) => Promise<T>;

/** A waiting write. */
interface Waiting {
  /** Runs it; the result reports success, to be called once it is on disk. */
  run(rows: SqliteRows): Promise<() => void>;
  fail(error: unknown): void;
}

/**
 * Runs transactions on a file in order, each completely or not at all. Writes that wait at the same time share a commit, because a
 * commit takes longer than most writes. Each is reported after it is on disk.
 */
export class WriteQueue {
  readonly #open: OpenFile;
  readonly #written: () => void;
  readonly #queue = new WorkQueue();
  #held: Held;
  /** Whether the journal could not be emptied and may still contain erased data. */
  #hasErasedInVain = false;
  #added = 0;
  /** The file as it was opened. */
  #timeout: number = busyTimeout;
  /** The last batch of writes, while it can still be joined. */
  #joined: Waiting[] | undefined;

  /** @param written - called after every commit of writes, before they are reported */
  constructor(open: OpenFile, held: Held, written: () => void) {
    this.#open = open;
    this.#held = held;
    this.#written = written;
  }

  get held(): Held {
    return this.#held;
  }

  read<T>(work: Work<T>): Promise<T> {
    return this.#add(() => this.#inside('BEGIN', work));
  }

  write<T>(work: Work<T>): Promise<T> {
    return new Promise((fulfil, fail) => {
      const run = async (rows: SqliteRows) => {
        const result = await work(rows);
        return () => fulfil(result);
      };
      this.#join({ run, fail });
    });
  }

  /** Writes in a separate transaction without notifying watchers; `next` returns the new state held. */
  writeAlone<T>(work: Work<T>, next?: (result: T) => Held): Promise<T> {
    return this.#add(() => this.#inside('BEGIN IMMEDIATE', work, next));
  }

  /** Runs work on the whole file, and erases the previous contents from the journal. */
  cleanUp(work: () => void): Promise<void> {
    return this.#add(async () => {
      this.#waitAtMost(busyTimeout);
      work();
      this.#held.rows.erased = true;
      await this.#emptyJournal(busyTimeout);
    });
  }

  /** Closes the file after all waiting transactions. With `hasWritten`, the journal is merged into the file first. */
  end(hasWritten: boolean): Promise<void> {
    this.#joined = undefined;
    return this.#queue.end(async () => {
      if (hasWritten) await this.#emptyJournal(this.#held.rows.erased ? busyTimeout : 0);
      this.#open.database.close();
    });
  }

  #add<T>(work: () => Promise<T>): Promise<T> {
    this.#joined = undefined;
    this.#added++;
    if (this.#added % turn !== 0) return this.#queue.add(work);
    return this.#queue.add(async () => {
      await setImmediate();
      return work();
    });
  }

  #join(write: Waiting): void {
    if (this.#joined) {
      this.#joined.push(write);
      return;
    }
    const joined = [write];
    this.#add(() => this.#writeAll(joined)).catch((error: unknown) => {
      this.#letNoneJoin(joined);
      for (const { fail } of joined) fail(error);
    });
    this.#joined = joined;
  }

  #letNoneJoin(joined: readonly Waiting[]): void {
    if (this.#joined === joined) this.#joined = undefined;
  }

  async #writeAll(waiting: Waiting[]): Promise<void> {
    await this.#writeSome(waiting);
    while (waiting.length > 0) {
      await setTimeout(pause);
      await this.#writeSome(waiting);
    }
    this.#letNoneJoin(waiting);
  }

  /** Runs the first waiting writes in one transaction. */
  async #writeSome(waiting: Waiting[]): Promise<void> {
    const inIt: Waiting[] = [];
    const tell: (() => void)[] = [];
    try {
      await this.#inside('BEGIN IMMEDIATE', async (rows) => {
        const until = performance.now() + longest;
        do {
          const write = waiting.shift();
          if (!write) break;
          inIt.push(write);
          tell.push(inIt.length === 1 ? await write.run(rows) : await this.#beside(rows, write));
        } while (performance.now() < until);
      });
    } catch (error) {
      // If no transaction could begin, the others have waited as long and fail too.
      for (const { fail } of inIt.length > 0 ? inIt : waiting.splice(0)) fail(error);
      return;
    }
    this.#written();
    for (const each of tell) each();
  }

  /** Runs a write that rolls back alone if it fails; the result reports success or failure. */
  async #beside(rows: SqliteRows, write: Waiting): Promise<() => void> {
    const { database } = this.#open;
    rows.settle();
    database.exec('SAVEPOINT beside');
    try {
      const done = await write.run(rows);
      rows.settle();
      database.exec('RELEASE beside');
      return done;
    } catch (error) {
      if (!database.inTransaction) throw error; // the whole transaction was rolled back
      database.exec('ROLLBACK TO beside; RELEASE beside');
      rows.drop();
      const problem = this.#problem(error);
      return () => write.fail(problem);
    }
  }

  async #inside<T>(begin: 'BEGIN' | 'BEGIN IMMEDIATE', work: Work<T>, next?: (result: T) => Held): Promise<T> {
    const { rows, lock } = this.#held;
    const { database, path, file } = this.#open;
    try {
      await this.#begin(begin);
      rows.begin();
      if (identityOf(path) !== file) throw fileReplaced(path);
      if (rows.version() > schemaVersion) throw newerVersion(path);
      if (rows.findLock() !== lock) throw lockChanged();
      rows.checkWhole();
      const result = await work(rows);
      rows.finish();
      database.exec('COMMIT');
      if (next) this.#held = next(result);
      if (rows.erased) await this.#emptyJournal(this.#hasErasedInVain ? 0 : busyTimeout);
      return result;
    } catch (error) {
      if (database.inTransaction) database.exec('ROLLBACK');
      rows.drop();
      throw this.#problem(error);
    }
  }

  #problem(error: unknown): unknown {
    const { path, file } = this.#open;
    return identityOf(path) === file ? storageProblem(error, path) : fileReplaced(path);
  }

  /** Waits for other writing programs without blocking this one. */
  async #begin(begin: 'BEGIN' | 'BEGIN IMMEDIATE'): Promise<void> {
    const until = performance.now() + busyTimeout;
    this.#waitAtMost(begin === 'BEGIN' ? busyTimeout : 0);
    for (;;) {
      try {
        // Not as a cached statement: one that finds the file busy would block others.
        return void this.#open.database.exec(begin);
      } catch (error) {
        if (!isBusy(error) || performance.now() > until) throw error;
        await setTimeout(pause);
      }
    }
  }

  /** Sets how long SQLite itself waits for others, in milliseconds; this thread is blocked meanwhile. */
  #waitAtMost(milliseconds: number): void {
    if (this.#timeout === milliseconds) return;
    this.#open.database.exec(`PRAGMA busy_timeout = ${milliseconds}`);
    this.#timeout = milliseconds;
  }

  /**
   * Moves the write-ahead log into the file, where erased data is overwritten, and truncates the log, which may still contain
   * it. Readers prevent this, so it is tried for `wait` milliseconds, and again after every write.
   */
  async #emptyJournal(wait: number): Promise<void> {
    const until = performance.now() + wait;
    this.#waitAtMost(0);
    while (!this.#cutJournal()) {
      this.#hasErasedInVain = performance.now() > until;
      if (this.#hasErasedInVain) return;
      await setTimeout(pause);
    }
    this.#hasErasedInVain = false;
    this.#held.rows.erased = false;
  }

  /** Whether the log was truncated; committed data is safe either way. */
  #cutJournal(): boolean {
    try {
      const row = this.#open.database.prepare('PRAGMA wal_checkpoint(TRUNCATE)').get() as { busy: number } | undefined;
      return row?.busy === 0;
    } catch {
      return false;
    }
  }
}
