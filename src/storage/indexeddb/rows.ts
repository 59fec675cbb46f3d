import type { DBSchema, IDBPTransaction } from 'idb';
import { parseWith } from '../../content/index.ts';
import {
  type Action,
  type Facts,
  headSchema,
  lookOf,
  noSnippet,
  picturesOf,
  type Query,
  type Snippet,
  type SnippetHead,
  searchThrough,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';

/** Heads and contents stand apart, so that a list reads no content; heads are sorted by their order keys. */
export interface Tables extends DBSchema {
  heads: { key: string; value: SnippetHead; indexes: { order: string; preview: string; expiresAt: string } };
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

  countBefore(order: string): Promise<number> {
    return this.#transaction.objectStore('heads').index('order').count(IDBKeyRange.upperBound(order, true));
  }

  async bytes(): Promise<number> {
    let bytes = 0;
    for await (const { value } of this.#transaction.objectStore('heads')) bytes += value.facts.bytes;
    for await (const { value } of this.#transaction.objectStore('media')) bytes += value.bytes.length;
    return bytes;
  }

  /** There is no index of words in a browser yet: everything is read. */
  async search(query: Query, limit: number): Promise<readonly SnippetHead[]> {
    const snippets: Snippet[] = [];
    for await (const { value } of this.#transaction.objectStore('heads').index('order'))
      snippets.push(await this.get(value.id));
    return searchThrough(snippets, query, limit);
  }

  async alike(facts: Facts): Promise<readonly SnippetHead[]> {
    const heads = await this.#transaction.objectStore('heads').index('preview').getAll(facts.preview);
    return heads.filter((head) => lookOf(head.facts) === lookOf(facts));
  }

  due(now: string): Promise<readonly SnippetHead[]> {
    return this.#transaction.objectStore('heads').index('expiresAt').getAll(IDBKeyRange.upperBound(now));
  }

  async actions(): Promise<readonly Action[]> {
    const all = await this.#transaction.objectStore('actions').getAll();
    return [...all.filter(({ state }) => state === 'done').reverse(), ...all.filter(({ state }) => state === 'undone')];
  }

  async mediaHashes(): Promise<readonly string[]> {
    return this.#transaction.objectStore('media').getAllKeys();
  }

  async showsMedia(hash: string): Promise<boolean> {
    for await (const { value } of this.#transaction.objectStore('heads'))
      if (picturesOf((await this.get(value.id)).content).has(hash)) return true;
    return false;
  }

  async faults(): Promise<readonly string[]> {
    const [heads, contents] = await Promise.all(
      (['heads', 'contents'] as const).map((name) => this.#transaction.objectStore(name).count()),
    );
    return heads === contents ? [] : [`${contents} contents are kept for ${heads} snippets`];
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

  erase(id: string): Promise<void> {
    return this.remove(id);
  }

  async removeMedia(hash: string): Promise<void> {
    await this.#transaction.objectStore('media').delete(hash);
  }

  async forgetAction(number: number): Promise<void> {
    await this.#transaction.objectStore('actions').delete(number);
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
