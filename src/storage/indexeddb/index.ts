import { type IDBPDatabase, openDB } from 'idb';
import { DrawerError, type ProblemName } from '../../content/index.ts';
import { getSnippet, type Storage } from '../../drawer/index.ts';
import { lockChanged, noPassphrase, parseLock } from '../encryption.ts';
import { Watchers, WorkQueue } from '../work-queue.ts';
import { plaintext, type ValueEncryption } from './encryption.ts';
import type { newSharedLock, openSharedLock } from './lock.ts';
import { IndexedDbRows } from './rows.ts';
import { type Tables, type Transaction, tableNames, upgrade, version } from './tables.ts';
import { WordTable } from './word-table.ts';

/** Options for opening a drawer in the browser. */
export interface IndexedDbOptions {
  /** The passphrase of a locked drawer. */
  readonly passphrase?: string | undefined;
}

/**
 * A drawer in the browser's database of that name. A change is durable when its promise is fulfilled (durability `strict`), and
 * other windows see it at once.
 * @throws DrawerError `locked` without the right passphrase; `newer` for a drawer of a newer version; `storage` if the browser
 *   stores nothing
 */
export async function indexedDbStorage(name = 'drawer', { passphrase }: IndexedDbOptions = {}): Promise<Storage> {
  const database = await open(name);
  const lock = (await database.get('settings', 'lock')) as string | undefined;
  return new IndexedDbStorage(name, database, lock, await sealingOf(database, lock, passphrase));
}

/** The locks of what a drawer in a browser shares with other devices; loaded when they are needed. */
export const sharedLocks = async (): Promise<SharedLocks> => import('./lock.ts');

interface SharedLocks {
  readonly newSharedLock: typeof newSharedLock;
  readonly openSharedLock: typeof openSharedLock;
}

class IndexedDbStorage implements Storage {
  readonly #database: IDBPDatabase<Tables>;
  readonly #queue = new WorkQueue();
  readonly #watchers = new Watchers();
  readonly #reads = new Set<Promise<unknown>>();
  /** Carries the notices of other windows that changed something. */
  readonly #channel: BroadcastChannel;
  #lock: string | undefined;
  #sealing: ValueEncryption;
  #words: WordTable;

  constructor(name: string, database: IDBPDatabase<Tables>, lock: string | undefined, sealing: ValueEncryption) {
    this.#database = database;
    this.#lock = lock;
    this.#sealing = sealing;
    this.#words = new WordTable(sealing.isSealed);
    this.#channel = new BroadcastChannel(`drawer:${name}`);
    this.#channel.onmessage = ({ data }: MessageEvent<unknown>) => {
      // Any script of the page can post here.
      if (Array.isArray(data) && data.every((id) => typeof id === 'string')) this.#words.touch(data);
      else this.#words.forget();
      this.#watchers.tell();
    };
  }

  /** Starts after earlier writes. Reads do not wait for one another; each sees one state. */
  async read<T>(work: (rows: IndexedDbRows) => Promise<T>): Promise<T> {
    const { reading } = await this.#queue.add(async () => {
      const reading = this.#readNow(work);
      this.#reads.add(reading);
      return { reading };
    });
    return reading.finally(() => this.#reads.delete(reading));
  }

  async #readNow<T>(work: (rows: IndexedDbRows) => Promise<T>): Promise<T> {
    try {
      const begin = (): Transaction => this.#begin('readonly');
      const rows = new IndexedDbRows(begin(), this.#sealing, this.#words, begin);
      if ((await rows.findLock()) !== this.#lock) throw lockChanged();
      return await work(rows);
    } catch (error) {
      throw storageProblem(error);
    }
  }

  async write<T>(work: (rows: IndexedDbRows) => Promise<T>): Promise<T> {
    const result = await this.#queue.add(() => this.#writeNow(work));
    this.#watchers.tell();
    return result;
  }

  async #writeNow<T>(work: (rows: IndexedDbRows) => Promise<T>): Promise<T> {
    const transaction = this.#begin('readwrite');
    const rows = new IndexedDbRows(transaction, this.#sealing, this.#words);
    try {
      if ((await rows.findLock()) !== this.#lock) throw lockChanged();
      const result = await work(rows);
      await rows.finish();
      await transaction.done;
      this.#words.touch(rows.touched);
      this.#channel.postMessage([...rows.touched]);
      return result;
    } catch (error) {
      this.#words.touch(rows.touched); // the index may contain what was rolled back
      await abort(transaction);
      throw storageProblem(error);
    }
  }

  /** One type serves both modes, because only callers that asked for writable rows write. */
  #begin(mode: IDBTransactionMode): Transaction {
    try {
      return this.#database.transaction(tableNames, mode as 'readwrite', { durability: 'strict' });
    } catch (error) {
      throw storageProblem(error);
    }
  }

  watch(changed: () => void): () => void {
    return this.#watchers.add(changed);
  }

  isLocked(): boolean {
    return this.#lock !== undefined;
  }

  async lock(passphrase: string): Promise<void> {
    const { newLock } = await import('./lock.ts');
    const made = await newLock(passphrase);
    await this.#reseal(made.sealing, made.lock);
  }

  unlock(): Promise<void> {
    return this.#reseal(plaintext, undefined);
  }

  /** Rewrites everything under another encryption. */
  #reseal(next: ValueEncryption, lock: string | undefined): Promise<void> {
    return this.#queue.add(async () => {
      const transaction = this.#begin('readwrite');
      try {
        await resealAll(transaction, this.#sealing, next, lock);
        await transaction.done;
      } catch (error) {
        await abort(transaction);
        throw storageProblem(error);
      }
      [this.#sealing, this.#lock, this.#words] = [next, lock, new WordTable(next.isSealed)];
      this.#channel.postMessage(undefined);
      this.#watchers.tell();
    });
  }

  close(): Promise<void> {
    this.#watchers.end();
    return this.#queue.end(async () => {
      await Promise.allSettled(this.#reads);
      this.#channel.close(); // writes that waited have told others
      this.#database.close();
    });
  }
}

/** @throws DrawerError `storage` */
async function open(name: string): Promise<IDBPDatabase<Tables>> {
  try {
    return await openDB<Tables>(name, version, {
      upgrade: (database, from, _, transaction) => upgrade(database, from, transaction),
      // A window with a newer version is waiting to migrate the drawer, so this one closes it.
      blocking: (_, __, event) => (event.target as IDBDatabase | null)?.close(),
    });
  } catch (cause) {
    const isNewer = (cause as Partial<Error> | undefined)?.name === 'VersionError';
    throw new DrawerError(isNewer ? 'newer/drawer-newer' : 'storage/browser-keeps-nothing', {}, { cause });
  }
}

async function sealingOf(
  database: IDBPDatabase<Tables>,
  lock: string | undefined,
  passphrase: string | undefined,
): Promise<ValueEncryption> {
  if (lock === undefined) return plaintext;
  try {
    if (passphrase === undefined) throw noPassphrase();
    const { openLock } = await import('./lock.ts');
    return await openLock(parseLock(lock), passphrase);
  } catch (error) {
    database.close();
    throw error;
  }
}

async function resealAll(
  transaction: Transaction,
  before: ValueEncryption,
  after: ValueEncryption,
  lock: string | undefined,
): Promise<void> {
  const [read, write] = [new IndexedDbRows(transaction, before), new IndexedDbRows(transaction, after)];
  const [settings, actions] = [await read.findSettings(), await read.actions()];
  if (settings !== undefined) await write.putSettings(settings);
  for (const action of actions) await write.putAction(action);
  for (const hash of await read.mediaHashes()) {
    const bytes = await read.findMedia(hash);
    await write.removeMedia(hash);
    if (bytes) await write.putMedia(hash, bytes);
  }
  for (const { name, value } of await read.notes('', '\uffff', 2 ** 31 - 1)) await write.putNote(name, value);
  for (const id of await read.ids()) await write.rewrite(await getSnippet(read, id));
  await write.putLock(lock);
  await write.finish();
}

/** Problems by the name of a DOMException (Web IDL, section 2.8.1). */
const reasonOf: Readonly<Record<string, ProblemName>> = {
  QuotaExceededError: 'storage/browser-full',
  InvalidStateError: 'storage/browser-closed',
};

/** Converts an error of the browser, such as a full disk. */
function storageProblem(error: unknown): unknown {
  if (DrawerError.is(error) || !(error instanceof DOMException)) return error;
  return new DrawerError(reasonOf[error.name] ?? 'storage/browser-failed', { detail: error.name }, { cause: error });
}

async function abort(transaction: Transaction): Promise<void> {
  try {
    transaction.abort();
    await transaction.done;
  } catch {
    // it was aborted already; the error that matters is being thrown
  }
}
