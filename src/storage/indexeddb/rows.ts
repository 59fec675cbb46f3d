import type { DBSchema, IDBPTransaction } from 'idb';
import { parseWith } from '../../content/index.ts';
import {
  type Action,
  headSchema,
  noSnippet,
  type Snippet,
  type SnippetHead,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';

/** Heads and contents stand apart, so that a list reads no content; heads are sorted by their order keys. */
export interface Tables extends DBSchema {
  heads: { key: string; value: SnippetHead; indexes: { order: string } };
  contents: { key: string; value: { readonly id: string; readonly content: unknown } };
  media: { key: string; value: { readonly hash: string; readonly bytes: Uint8Array } };
  actions: { key: number; value: Action };
  settings: { key: string; value: string };
}

export const tableNames = ['heads', 'contents', 'media', 'actions', 'settings'] as const;
export type Transaction = IDBPTransaction<Tables, typeof tableNames, 'readwrite'>;

/** The rows seen by one transaction. It ends by itself when nothing is asked of it, so works wait for nothing else. */
export class IndexedDbRows implements WritableRows {
  readonly #transaction: Transaction;

  constructor(transaction: Transaction) {
    this.#transaction = transaction;
  }

  count(): Promise<number> {
    return this.#transaction.objectStore('heads').count();
  }

  async heads(offset: number, limit: number): Promise<readonly SnippetHead[]> {
    const found: SnippetHead[] = [];
    let cursor = await this.#transaction.objectStore('heads').index('order').openCursor();
    if (offset > 0) cursor = (await cursor?.advance(offset)) ?? null;
    while (cursor && found.length < limit) {
      found.push(parseWith(headSchema, cursor.value, 'snippet'));
      cursor = await cursor.continue();
    }
    return found;
  }

  async findLast(): Promise<SnippetHead | undefined> {
    const cursor = await this.#transaction.objectStore('heads').index('order').openCursor(null, 'prev');
    return cursor ? parseWith(headSchema, cursor.value, 'snippet') : undefined;
  }

  async get(id: string): Promise<Snippet> {
    const [head, stored] = await Promise.all([
      this.#transaction.objectStore('heads').get(id),
      this.#transaction.objectStore('contents').get(id),
    ]);
    if (!head || !stored) throw noSnippet(id);
    return parseWith(snippetSchema, { ...head, content: stored.content }, 'snippet');
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    return (await this.#transaction.objectStore('media').get(hash))?.bytes;
  }

  findSettings(): Promise<string | undefined> {
    return this.#transaction.objectStore('settings').get('drawer');
  }

  async putSettings(json: string): Promise<void> {
    await this.#transaction.objectStore('settings').put(json, 'drawer');
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const [direction, state] = which === 'last done' ? (['prev', 'done'] as const) : (['next', 'undone'] as const);
    let cursor = await this.#transaction.objectStore('actions').openCursor(null, direction);
    while (cursor && cursor.value.state !== state) cursor = await cursor.continue();
    return cursor?.value;
  }

  async insert({ content, ...head }: Snippet): Promise<void> {
    await this.#transaction.objectStore('heads').add(head);
    await this.#transaction.objectStore('contents').add({ id: head.id, content });
  }

  async remove(id: string): Promise<void> {
    await this.#transaction.objectStore('heads').delete(id);
    await this.#transaction.objectStore('contents').delete(id);
  }

  async setHead(head: SnippetHead): Promise<void> {
    await this.#transaction.objectStore('heads').put(head);
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    await this.#transaction.objectStore('media').put({ hash, bytes });
  }

  async putAction(action: Action): Promise<void> {
    await this.#transaction.objectStore('actions').put(action);
  }

  async trimActions(depth: number): Promise<void> {
    const last = await this.findAction('last done');
    const store = this.#transaction.objectStore('actions');
    for (const { number, state } of await store.getAll()) {
      if (state === 'undone' || number <= (last?.number ?? 0) - depth) await store.delete(number);
    }
  }
}
