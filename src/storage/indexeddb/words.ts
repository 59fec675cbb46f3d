import { findable, type Query } from '../../drawer/index.ts';
import { type Entry, WordIndex } from '../word-index.ts';
import type { IndexedDbRows } from './rows.ts';
import type { Transaction } from './tables.ts';

/** How many rows are read in at once, so that the page goes on in between. */
const portion = 2_000;
/** From how many changed snippets on the index is read in anew. */
const mostStale = 5_000;

/** The index of words of a drawer, kept in memory and in step with the database. */
export class Words {
  #index: WordIndex | undefined;
  readonly #stale = new Set<string>();
  readonly #isSealed: boolean;

  constructor(isSealed: boolean) {
    this.#isSealed = isSealed;
  }

  /** These snippets came, went or changed. */
  touch(ids: Iterable<string>): void {
    if (!this.#index) return;
    for (const id of ids) this.#stale.add(id);
    if (this.#stale.size > mostStale) this.forget();
  }

  /** Everything may have changed. */
  forget(): void {
    this.#index = undefined;
    this.#stale.clear();
  }

  /** The ids of what fits, the best first. */
  async search(rows: IndexedDbRows, transaction: Transaction, query: Query, limit: number): Promise<string[]> {
    const index = await this.#inStep(rows, transaction);
    return index.search(query, limit);
  }

  async #inStep(rows: IndexedDbRows, transaction: Transaction): Promise<WordIndex> {
    this.touch(rows.touched);
    if (!this.#index) return this.#readIn(rows, transaction);
    for (const id of this.#stale) {
      const entry = await this.#entry(rows, transaction, id);
      if (entry) this.#index.put(entry);
      else this.#index.remove(id);
    }
    this.#stale.clear();
    return this.#index;
  }

  async #readIn(rows: IndexedDbRows, transaction: Transaction): Promise<WordIndex> {
    const index = new WordIndex();
    if (this.#isSealed)
      for (const id of await rows.ids()) {
        const entry = await this.#entry(rows, transaction, id);
        if (entry) index.put(entry);
      }
    else {
      const entries: Entry[] = [];
      const store = transaction.objectStore('finds');
      for (let from: IDBKeyRange | null = null; ; ) {
        const read = await store.getAll(from, portion);
        entries.push(...read);
        const last = read.at(-1);
        if (!last || read.length < portion) break;
        from = IDBKeyRange.lowerBound(last.id, true);
      }
      index.putAll(entries);
    }
    this.#index = index;
    this.#stale.clear();
    return index;
  }

  async #entry(rows: IndexedDbRows, transaction: Transaction, id: string): Promise<Entry | undefined> {
    if (!this.#isSealed) return transaction.objectStore('finds').get(id);
    if ((await transaction.objectStore('heads').getKey(id)) === undefined) return undefined;
    const snippet = await rows.get(id);
    return { id, takenAt: snippet.takenAt, order: snippet.order, found: findable(snippet) };
  }
}
