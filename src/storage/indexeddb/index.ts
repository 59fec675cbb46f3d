import { type IDBPDatabase, openDB } from 'idb';
import type { Storage } from '../../drawer/index.ts';
import { WorkQueue } from '../queue.ts';
import { IndexedDbRows, type Tables, type Transaction, tableNames } from './rows.ts';

/** Rises with every change of the tables. */
const version = 2;

/**
 * A drawer in the browser's database of that name. A change is kept when its promise is fulfilled (durability `strict`).
 */
export async function indexedDbStorage(name = 'drawer'): Promise<Storage> {
  const database = await openDB<Tables>(name, version, { upgrade });
  const queue = new WorkQueue();
  const inside = <T>(mode: IDBTransactionMode, work: (rows: IndexedDbRows) => Promise<T>): Promise<T> =>
    queue.add(async () => {
      // Only works that were handed writable rows write, so one type serves both modes.
      const transaction = database.transaction(tableNames, mode as 'readwrite', { durability: 'strict' });
      try {
        const result = await work(new IndexedDbRows(transaction));
        await transaction.done;
        return result;
      } catch (error) {
        await abort(transaction);
        throw error;
      }
    });
  return {
    read: (work) => inside('readonly', work),
    write: (work) => inside('readwrite', work),
    close: () => queue.add(async () => database.close()),
  };
}

function upgrade(database: IDBPDatabase<Tables>, from: number): void {
  if (from < 2) database.createObjectStore('settings');
  if (from > 0) return;
  database.createObjectStore('heads', { keyPath: 'id' }).createIndex('order', 'order', { unique: true });
  database.createObjectStore('contents', { keyPath: 'id' });
  database.createObjectStore('media', { keyPath: 'hash' });
  database.createObjectStore('actions', { keyPath: 'number' });
}

async function abort(transaction: Transaction): Promise<void> {
  try {
    transaction.abort();
    await transaction.done;
  } catch {
    // it is aborted, or was; the fault that matters is being thrown already
  }
}
