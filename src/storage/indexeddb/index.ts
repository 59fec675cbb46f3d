import { type IDBPDatabase, type IDBPTransaction, openDB } from 'idb';
import type { Storage } from '../../drawer/index.ts';
import { WorkQueue } from '../queue.ts';
import { Watchers } from '../watchers.ts';
import { IndexedDbRows, type Tables, type Transaction, tableNames } from './rows.ts';

/** Rises with every change of the tables. */
const version = 3;

/**
 * A drawer in the browser's database of that name. A change is kept when its promise is fulfilled (durability `strict`).
 */
export async function indexedDbStorage(name = 'drawer'): Promise<Storage> {
  const database = await openDB<Tables>(name, version, { upgrade });
  const queue = new WorkQueue();
  const watchers = new Watchers();
  // Other windows say so when they have changed something.
  const channel = new BroadcastChannel(`drawer:${name}`);
  channel.onmessage = () => watchers.tell();
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
    write: async (work) => {
      const result = await inside('readwrite', work);
      watchers.tell();
      channel.postMessage('changed');
      return result;
    },
    watch: (changed) => watchers.add(changed),
    close: () => {
      channel.close();
      return queue.add(async () => database.close());
    },
  };
}

function upgrade(
  database: IDBPDatabase<Tables>,
  from: number,
  _: number | null,
  transaction: IDBPTransaction<Tables, ('heads' | 'contents' | 'media' | 'actions' | 'settings')[], 'versionchange'>,
): void {
  if (from < 2) database.createObjectStore('settings');
  const heads = from > 0 ? transaction.objectStore('heads') : database.createObjectStore('heads', { keyPath: 'id' });
  if (from > 0 && from < 3) heads.deleteIndex('order');
  if (from < 3) {
    // Not unique, since snippets that change places pass through each other's.
    heads.createIndex('order', 'order');
    heads.createIndex('preview', 'facts.preview');
    heads.createIndex('expiresAt', 'expiresAt');
  }
  if (from > 0) return;
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
