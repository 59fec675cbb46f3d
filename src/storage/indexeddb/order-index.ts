import type { SortKey } from '../../drawer/index.ts';
import type { ShelfRow, SummaryRow, Transaction } from './tables.ts';

/** A shelf with more snippets than this is split in two. */
const most = 1024;

/**
 * Finds positions by counting snippets per shelf, a run of consecutive order keys, so that the cost hardly grows with the drawer.
 * Shelves are read once per transaction, and the changed ones are written at its end.
 */
export class OrderIndex {
  readonly #transaction: Transaction;
  #shelves: ShelfRow[] | undefined;
  readonly #changed = new Set<string>();

  constructor(transaction: Transaction) {
    this.#transaction = transaction;
  }

  async #all(): Promise<ShelfRow[]> {
    this.#shelves ??= await this.#transaction.objectStore('shelves').getAll();
    return this.#shelves;
  }

  #index() {
    return this.#transaction.objectStore('heads').index('order');
  }

  async count(): Promise<number> {
    return (await this.#all()).reduce((sum, { snippets }) => sum + snippets, 0);
  }

  /** The number of snippets before a place. A shelf has all snippets with the same order key. */
  async countBefore({ order, id }: SortKey): Promise<number> {
    const shelves = await this.#all();
    const at = shelfOf(shelves, order);
    const before = shelves.slice(0, at).reduce((sum, { snippets }) => sum + snippets, 0);
    const first = shelves[at]?.first ?? '';
    const range = IDBKeyRange.bound([first], [order, id], false, true);
    return order < first ? before : before + (await this.#index().count(range));
  }

  /** The summaries from position `offset` (from 0) on. */
  async rowsFrom(offset: number, limit: number): Promise<readonly SummaryRow[]> {
    const shelves = await this.#all();
    let before = 0;
    for (const { first, snippets } of shelves) {
      if (before + snippets <= offset) {
        before += snippets;
        continue;
      }
      const start = await this.#keyAt(first, offset - before);
      if (start === undefined) return [];
      const count = Math.min(limit, 2 ** 31 - 1);
      return this.#index().getAll(IDBKeyRange.lowerBound(start), count);
    }
    return [];
  }

  /** The order key and id at an offset from the first of a shelf. */
  async #keyAt(first: string, rest: number): Promise<[string, string] | undefined> {
    const cursor = await this.#index().openKeyCursor(IDBKeyRange.lowerBound([first]));
    return (rest === 0 ? cursor : await cursor?.advance(rest))?.key;
  }

  async add(order: string): Promise<void> {
    const shelves = await this.#all();
    const at = shelfOf(shelves, order);
    const { first, snippets } = shelves[at] ?? { first: '', snippets: 0 };
    shelves[at] = { first, snippets: snippets + 1 };
    this.#changed.add(first);
    if (snippets + 1 > most) await this.#part(shelves, at);
  }

  async remove(order: string): Promise<void> {
    const shelves = await this.#all();
    const at = shelfOf(shelves, order);
    const { first, snippets } = shelves[at] ?? { first: '', snippets: 1 };
    shelves[at] = { first, snippets: snippets - 1 };
    this.#changed.add(first);
  }

  async #part(shelves: ShelfRow[], at: number): Promise<void> {
    const { first, snippets } = shelves[at] as ShelfRow;
    const [middle] = (await this.#keyAt(first, snippets >> 1)) ?? [first];
    if (middle <= first) return;
    const kept = await this.#index().count(IDBKeyRange.bound([first], [middle], false, true));
    shelves.splice(at, 1, { first, snippets: kept }, { first: middle, snippets: snippets - kept });
    this.#changed.add(middle);
  }

  async finish(): Promise<void> {
    const store = this.#transaction.objectStore('shelves');
    for (const shelf of this.#shelves ?? []) if (this.#changed.has(shelf.first)) await store.put(shelf);
    this.#changed.clear();
  }
}

/** The index of the shelf that contains a key. */
function shelfOf(shelves: readonly ShelfRow[], order: string): number {
  let [low, high] = [0, shelves.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((shelves[middle]?.first ?? '') <= order) low = middle + 1;
    else high = middle;
  }
  return Math.max(0, low - 1);
}
