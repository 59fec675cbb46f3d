import { type Content, type Message, parseWith } from '../../content/index.ts';
import {
  type Action,
  compareOrder,
  type Facts,
  findable,
  getSnippet,
  hashesOf,
  lookOf,
  noSnippet,
  picturesOf,
  type Query,
  readActionName,
  type Snippet,
  type SnippetSummary,
  type SortKey,
  type StoredNote,
  snippetSchema,
  summarySchema,
  type TrimResult,
  type WritableRows,
} from '../../drawer/index.ts';
import { associatedData, readRow } from '../encryption.ts';
import { plaintext, type ValueEncryption } from './encryption.ts';
import { OrderIndex } from './order-index.ts';
import type { SummaryRow, Transaction } from './tables.ts';
import type { WordTable } from './word-table.ts';

/** The rows of one transaction. A transaction ends by itself when it has no requests, so callers must not wait for anything else. */
export class IndexedDbRows implements WritableRows {
  #transaction: Transaction;
  readonly #sealing: ValueEncryption;
  readonly #words: WordTable | undefined;
  #shelves: OrderIndex;
  readonly #reopen: (() => Transaction) | undefined;
  #bytesAdded = 0;
  #countBefore: ((key: SortKey) => number) | undefined;
  /** Snippets whose words may have changed. */
  readonly touched = new Set<string>();

  /** @param reopen - begins another transaction if the first one has ended */
  constructor(
    transaction: Transaction,
    sealing: ValueEncryption = plaintext,
    words?: WordTable,
    reopen?: () => Transaction,
  ) {
    this.#reopen = reopen;
    this.#transaction = transaction;
    this.#sealing = sealing;
    this.#words = words;
    this.#shelves = new OrderIndex(transaction);
  }

  /** The drawer's lock as JSON. */
  async findLock(): Promise<string | undefined> {
    return (await this.#store('settings').get('lock')) as string | undefined;
  }

  async putLock(lock: string | undefined): Promise<void> {
    if (lock === undefined) await this.#store('settings').delete('lock');
    else await this.#store('settings').put(lock, 'lock');
  }

  /** Writes the counts; called at the end of each transaction that changes anything. */
  async finish(): Promise<void> {
    await this.#shelves.finish();
    if (this.#bytesAdded === 0) return;
    await this.#store('settings').put(await this.bytes(), 'bytes');
    this.#bytesAdded = 0;
  }

  #store<N extends 'heads' | 'contents' | 'finds' | 'media' | 'actions' | 'settings' | 'notes'>(name: N) {
    return this.#transaction.objectStore(name);
  }

  count(): Promise<number> {
    return this.#shelves.count();
  }

  async summaries(offset: number, limit: number): Promise<readonly SnippetSummary[]> {
    if (limit <= 0) return [];
    const found: SnippetSummary[] = [];
    for (const row of await this.#shelves.rowsFrom(Math.max(0, offset), limit)) found.push(this.#toSummary(row));
    return found;
  }

  countsBefore(keys: readonly SortKey[]): Promise<readonly number[]> {
    return Promise.all(keys.map((key) => this.countBefore(key)));
  }

  async countBefore(key: SortKey): Promise<number> {
    // The index of the last search knows, until something changes.
    return this.#countBefore && this.touched.size === 0 ? this.#countBefore(key) : this.#shelves.countBefore(key);
  }

  async bytes(): Promise<number> {
    return (((await this.#store('settings').get('bytes')) as number | undefined) ?? 0) + this.#bytesAdded;
  }

  /** Searches an index in memory, which is built with the first search. */
  async search(query: Query, limit: number): Promise<readonly SnippetSummary[]> {
    if (this.#reopen && this.#words && !this.#words.isReady) {
      // It is built outside of this transaction, in portions, so that the page stays responsive.
      await this.#words.readIn(this.#reopen);
      this.#transaction = this.#reopen();
      this.#shelves = new OrderIndex(this.#transaction);
    }
    const found = await this.#words?.search(this, this.#transaction, query, limit);
    this.#countBefore = found?.countBefore;
    const rows = await Promise.all((found?.ids ?? []).map((id) => this.#store('heads').get(id)));
    return rows.flatMap((row) => (row ? [this.#toSummary(row)] : []));
  }

  async duplicates(facts: readonly Facts[]): Promise<readonly SnippetSummary[]> {
    const index = this.#store('heads').index('alike');
    const looks = [...new Set(facts.map((each) => this.#sealing.digest(lookOf(each))))];
    const rows = (await Promise.all(looks.map((look) => index.getAll(look)))).flat();
    return rows.map((row) => this.#toSummary(row)).sort(compareOrder);
  }

  async expired(now: string, limit?: number): Promise<readonly SnippetSummary[]> {
    const rows = await this.#store('heads').index('expiresAt').getAll(IDBKeyRange.upperBound(now), limit);
    return rows.map((row) => this.#toSummary(row));
  }

  #toSummary({ id, head }: SummaryRow): SnippetSummary {
    return readRow(() =>
      parseWith(summarySchema, this.#sealing.open(head, associatedData('heads', 'head', id)), 'snippet'),
    );
  }

  async actions(): Promise<readonly Action[]> {
    const rows = await this.#store('actions').getAll();
    const all = rows.map(({ number, action }) => this.#toAction(number, action));
    return [...all.filter(({ state }) => state === 'done').reverse(), ...all.filter(({ state }) => state === 'undone')];
  }

  #toAction(number: number, action: unknown): Action {
    const stored = this.#sealing.open(action, associatedData('actions', 'action', number)) as Action;
    return { ...stored, name: readActionName(stored.name) };
  }

  async mediaHashes(): Promise<readonly string[]> {
    return this.#store('media').getAllKeys();
  }

  async showsMedia(hash: string): Promise<boolean> {
    for (const id of await this.ids()) if (picturesOf((await getSnippet(this, id)).content).has(hash)) return true;
    return false;
  }

  /** The ids of all snippets. */
  ids(): Promise<readonly string[]> {
    return this.#store('heads').getAllKeys();
  }

  async faults(): Promise<readonly Message[]> {
    const [summaries, contents, counted] = await Promise.all([
      this.#store('heads').count(),
      this.#store('contents').count(),
      this.#shelves.count(),
    ]);
    return [
      ...(summaries === contents ? [] : [{ kind: 'fault.contents', params: { found: contents, count: summaries } }]),
      ...(summaries === counted ? [] : [{ kind: 'fault.count', params: { found: summaries, count: counted } }]),
    ];
  }

  async findLast(): Promise<SnippetSummary | undefined> {
    const cursor = await this.#store('heads').index('order').openCursor(null, 'prev');
    return cursor ? this.#toSummary(cursor.value) : undefined;
  }

  async findSnippet(id: string): Promise<Snippet | undefined> {
    const [row, stored] = await Promise.all([this.#store('heads').get(id), this.#store('contents').get(id)]);
    if (!row || !stored) return undefined;
    const summary = this.#sealing.open(row.head, associatedData('heads', 'head', id)) as object;
    const content = this.#sealing.open(stored.content, associatedData('contents', 'content', id));
    return readRow(() => parseWith(snippetSchema, { ...summary, content }, 'snippet'));
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const stored = await this.#store('media').get(hash);
    return stored && this.#sealing.openBytes(stored.bytes, associatedData('media', 'bytes', hash));
  }

  async findSettings(): Promise<string | undefined> {
    const stored = await this.#store('settings').get('drawer');
    return stored === undefined
      ? undefined
      : (this.#sealing.open(stored, associatedData('settings', 'value', 'drawer')) as string);
  }

  async putSettings(json: string): Promise<void> {
    await this.#store('settings').put(
      this.#sealing.seal(json, associatedData('settings', 'value', 'drawer')),
      'drawer',
    );
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const [state, direction] = which === 'last done' ? (['done', 'prev'] as const) : (['undone', 'next'] as const);
    const cursor = await this.#store('actions').index('state').openCursor(state, direction);
    return cursor ? this.#toAction(cursor.value.number, cursor.value.action) : undefined;
  }

  async findNote(name: string): Promise<string | undefined> {
    const row = await this.#store('notes').get(name);
    return row && (this.#sealing.open(row.value, associatedData('notes', 'value', name)) as string);
  }

  async notes(from: string, to: string, limit: number): Promise<readonly StoredNote[]> {
    if (from >= to) return [];
    const rows = await this.#store('notes').getAll(IDBKeyRange.bound(from, to, false, true), limit);
    return rows.map(({ name, value }) => ({
      name,
      value: this.#sealing.open(value, associatedData('notes', 'value', name)) as string,
    }));
  }

  async putNote(name: string, value: string | undefined): Promise<void> {
    const store = this.#store('notes');
    if (value === undefined) await store.delete(name);
    else await store.put({ name, value: this.#sealing.seal(value, associatedData('notes', 'value', name)) });
  }

  async insert({ content, ...summary }: Snippet): Promise<void> {
    const { id } = summary;
    await Promise.all([
      this.#store('contents').add({
        id,
        content: this.#sealing.seal(content, associatedData('contents', 'content', id)),
      }),
      this.#store('heads').add(this.#summaryRow(summary)),
      this.#putFind(summary, content),
    ]);
    await this.#shelves.add(summary.order);
    this.#bytesAdded += summary.facts.bytes;
  }

  /** Rewrites an existing snippet unchanged. */
  async rewrite({ content, ...summary }: Snippet): Promise<void> {
    const { id } = summary;
    await this.#store('contents').put({
      id,
      content: this.#sealing.seal(content, associatedData('contents', 'content', id)),
    });
    await this.#store('heads').put(this.#summaryRow(summary));
    if (this.#sealing.isSealed) await this.#store('finds').delete(id);
    else await this.#putFind(summary, content);
  }

  #summaryRow(summary: SnippetSummary): SummaryRow {
    const { id, order, facts, expiresAt } = summary;
    return {
      id,
      order,
      alike: this.#sealing.digest(lookOf(facts)),
      bytes: facts.bytes,
      ...(expiresAt !== undefined && { expiresAt }),
      head: this.#sealing.seal(summary, associatedData('heads', 'head', id)),
    };
  }

  /** Searchable text is not stored while the drawer is encrypted. */
  async #putFind(summary: SnippetSummary, content: Content): Promise<void> {
    const { id, takenAt, order } = summary;
    this.touched.add(id);
    if (!this.#sealing.isSealed)
      await this.#store('finds').put({ id, takenAt, order, found: findable({ ...summary, content }) });
  }

  async remove(id: string): Promise<void> {
    const row = await this.#store('heads').get(id);
    if (!row) throw noSnippet(id);
    await this.#store('heads').delete(id);
    await this.#store('contents').delete(id);
    await this.#store('finds').delete(id);
    await this.#shelves.remove(row.order);
    this.#bytesAdded -= row.bytes;
    this.touched.add(id);
  }

  erase(id: string): Promise<void> {
    return this.remove(id);
  }

  async removeMedia(hash: string): Promise<void> {
    this.#bytesAdded -= (await this.#store('media').get(hash))?.bytes.length ?? 0;
    await this.#store('media').delete(hash);
  }

  async forgetAction(number: number): Promise<void> {
    await this.#store('actions').delete(number);
  }

  async setSummary(summary: SnippetSummary): Promise<void> {
    const before = await this.#store('heads').get(summary.id);
    if (!before) throw noSnippet(summary.id);
    await this.#store('heads').put(this.#summaryRow(summary));
    this.#bytesAdded += summary.facts.bytes - before.bytes;
    if (before.order !== summary.order) {
      await this.#shelves.remove(before.order);
      await this.#shelves.add(summary.order);
    }
    await this.#putFind(summary, (await getSnippet(this, summary.id)).content);
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    if ((await this.#store('media').getKey(hash)) !== undefined) return;
    const stored = this.#sealing.sealBytes(bytes, associatedData('media', 'bytes', hash));
    this.#bytesAdded += stored.length;
    await this.#store('media').put({ hash, bytes: stored });
  }

  async putAction(action: Action): Promise<void> {
    const { number, state } = action;
    const stored = this.#sealing.seal(action, associatedData('actions', 'action', number));
    await this.#store('actions').put({ number, state, action: stored });
  }

  /** Undone actions have the highest numbers. */
  async trimActions(depth: number): Promise<TrimResult> {
    const store = this.#store('actions');
    const last = (await store.index('state').openKeyCursor('done', 'prev'))?.primaryKey ?? 0;
    const forgotten: Action[] = [];
    for (const range of [IDBKeyRange.lowerBound(last, true), IDBKeyRange.upperBound(last - depth)]) {
      const actions = (await store.getAll(range)).map(({ number, action }) => this.#toAction(number, action));
      forgotten.push(...actions.filter((action) => hashesOf(action).length > 0));
      if (actions.length > 0) await store.delete(range);
    }
    return { last, forgotten };
  }
}
