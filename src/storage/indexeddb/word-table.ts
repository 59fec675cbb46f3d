import { findable, getSnippet, type Query, type SortKey } from '../../drawer/index.ts';
import { compareAge, type Entry, WordIndex } from '../word-index.ts';
import type { IndexedDbRows } from './rows.ts';
import type { Transaction } from './tables.ts';

/** Rows read at once; the page can respond in between. */
const portion = 100;
/** With more changed snippets than this, the index is rebuilt. */
const mostStale = 5_000;

/** The matches of a search, and positions at that moment. */
interface Found {
  readonly ids: readonly string[];
  countBefore(key: SortKey): number;
}

/** The full-text index of a drawer, in memory and in step with the database. */
export class WordTable {
  #index: WordIndex | undefined;
  #reading: Promise<void> | undefined;
  readonly #stale = new Set<string>();
  readonly #isSealed: boolean;

  constructor(isSealed: boolean) {
    this.#isSealed = isSealed;
  }

  /** Whether it is built; for encrypted drawers, it is built within the first search. */
  get isReady(): boolean {
    return this.#index !== undefined || this.#isSealed;
  }

  /** Notes snippets that were added, removed or changed. */
  touch(ids: Iterable<string>): void {
    if (!this.#index && !this.#reading) return;
    for (const id of ids) this.#stale.add(id);
    if (this.#index && this.#stale.size > mostStale) this.forget();
  }

  /** Discards the index, because anything may have changed. */
  forget(): void {
    this.#index = undefined;
    this.#reading = undefined;
    this.#stale.clear();
  }

  /** Builds the index, once for all callers. */
  async readIn(begin: () => Transaction): Promise<void> {
    this.#reading ??= this.#readPortions(begin);
    await this.#reading;
  }

  async #readPortions(begin: () => Transaction): Promise<void> {
    const index = new WordIndex();
    let last: Entry | undefined;
    /** Snippets gathered at the same moment, such as an import. They come in another order than the index has, so they are sorted. */
    let together: Entry[] = [];
    const putTogether = async (): Promise<void> => {
      if (together.length > 1) together.sort(compareAge);
      for (const [at, entry] of together.entries()) {
        index.put(entry);
        if (at % portion === portion - 1) await pause();
      }
      together = [];
    };
    for (;;) {
      const after: IDBKeyRange | null = last ? IDBKeyRange.lowerBound([last.takenAt, last.id], true) : null;
      const read = await begin().objectStore('finds').index('age').getAll(after, portion);
      for (const entry of read) {
        if (together[0] && together[0].takenAt !== entry.takenAt) await putTogether();
        together.push(entry);
      }
      last = read.at(-1);
      if (read.length < portion) break;
      await pause();
    }
    await putTogether();
    this.#index ??= index;
    this.#reading = undefined;
  }

  /** The ids of the matches, best first. */
  async search(rows: IndexedDbRows, transaction: Transaction, query: Query, limit: number): Promise<Found> {
    const index = await this.#inStep(rows, transaction);
    return { ids: index.search(query, limit), countBefore: (key) => index.countBefore(key) };
  }

  async #inStep(rows: IndexedDbRows, transaction: Transaction): Promise<WordIndex> {
    this.#index ??= new WordIndex();
    const index = this.#index;
    for (const id of rows.touched) this.#stale.add(id);
    // Encrypted drawers, and searches within a writing transaction, build it here.
    if (index.size === 0) for (const id of await rows.ids()) this.#stale.add(id);
    for (const id of this.#stale) {
      const entry = await this.#entry(rows, transaction, id);
      if (entry) index.put(entry);
      else index.remove(id);
    }
    this.#stale.clear();
    return index;
  }

  async #entry(rows: IndexedDbRows, transaction: Transaction, id: string): Promise<Entry | undefined> {
    if (!this.#isSealed) return transaction.objectStore('finds').get(id);
    if ((await transaction.objectStore('heads').getKey(id)) === undefined) return undefined;
    const snippet = await getSnippet(rows, id);
    return { id, takenAt: snippet.takenAt, order: snippet.order, found: findable(snippet) };
  }
}

/** Lets waiting keys, clicks and drawing go first. */
const pause = (): Promise<void> =>
  'scheduler' in globalThis
    ? globalThis.scheduler.postTask(() => {}, { priority: 'background' })
    : new Promise((next) => setTimeout(next));
