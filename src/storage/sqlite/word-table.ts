import { type Findable, findable, foldWords, type Query, type Snippet } from '../../drawer/index.ts';
import { FullTextIndex } from './full-text-index.ts';
import type { RowCache } from './row-cache.ts';
import { type Prepare, unlessDamaged } from './snippet-row.ts';

/** Limits of the snippets kept in memory until they are indexed: their number, and bytes of each. */
const fresh = { most: 10_000, largest: 4_096 } as const;

/**
 * The full-text index of rows. New rows at the end are indexed later, many at once; until then they are found by reading them. Other
 * rows are indexed and removed at once.
 */
export class WordTable {
  readonly #prepare: Prepare;
  readonly #known: RowCache;
  readonly #finder: FullTextIndex;
  readonly #get: (id: string) => Snippet;

  /** `get` reads a snippet. */
  constructor(prepare: Prepare, known: RowCache, get: (id: string) => Snippet) {
    this.#prepare = prepare;
    this.#known = known;
    this.#finder = new FullTextIndex(prepare);
    this.#get = get;
  }

  add(row: number, snippet: Snippet): void {
    if (this.#isIndexed(row)) return this.#finder.add(row, findable(snippet));
    this.#known.change('waiting', (waiting) => waiting + 1);
    this.#known.forget('newer');
    const kept = this.#known.of('fresh', () => new Map());
    if (kept.size < fresh.most && snippet.facts.bytes <= fresh.largest) kept.set(row, snippet);
  }

  /** Removes a row that held this snippet. */
  remove(row: number, snippet: Snippet): void {
    if (this.#isIndexed(row)) this.#finder.remove(row, findable(snippet));
  }

  /** Updates the index for a changed row. */
  change(row: number, before: Snippet, after: Snippet): void {
    if (!this.#isIndexed(row)) return;
    this.#finder.remove(row, findable(before));
    this.#finder.add(row, findable(after));
  }

  /** Erases the words of a row and of removed rows from the file. */
  forget(row: number, words: string): void {
    if (this.#isIndexed(row)) this.#finder.forget(foldWords(words));
  }

  /** Matching rows with their match tiers; at most `limit` (see `FullTextIndex`). */
  search(query: Query, limit: number): ReadonlyMap<number, number> {
    return this.#finder.search(query, limit, this.#newer());
  }

  /** Empties the index; rows up to this one are indexed at once. */
  clear(upTo: number): void {
    this.#finder.clear();
    this.#setIndexedTo(upTo);
  }

  /** Writes pending entries before the commit. */
  settle(): void {
    this.#finder.settle();
  }

  /** Discards state after a rollback. */
  drop(): void {
    this.#finder.drop();
  }

  /** Number of snippets not indexed yet. */
  waiting(): number {
    const sql = 'SELECT count(*) AS count FROM snippet WHERE row > ?';
    return this.#known.of('waiting', () => (this.#prepare(sql).get(this.#indexedTo()) as { count: number }).count);
  }

  /** The same as last known, without reading. */
  waitingSeen(): number {
    return this.#known.peek('waiting') ?? 0;
  }

  /** Indexes the oldest of them, at most `most`. */
  catchUp(most: number): void {
    const rows = this.#newerThan(this.#indexedTo(), most);
    for (const { row, found } of rows) if (found) this.#finder.add(row, found);
    this.settle();
    this.#known.change('waiting', (waiting) => waiting - rows.length);
    this.#setIndexedTo(rows.at(-1)?.row ?? this.#indexedTo());
    for (const { row } of rows) for (const name of ['fresh', 'newer'] as const) this.#known.peek(name)?.delete(row);
  }

  /** Searchable text of the rows behind this one; none for damaged rows, which `check` reports. */
  #newerThan(after: number, most = -1): { readonly row: number; readonly found: Findable | undefined }[] {
    const sql = 'SELECT row, id FROM snippet WHERE row > ? ORDER BY row LIMIT ?';
    const rows = this.#prepare(sql).all(after, most) as { row: number; id: string }[];
    const [kept, newer] = [this.#known.peek('fresh'), this.#known.peek('newer')];
    return rows.map(({ row, id }) => ({
      row,
      found: newer?.get(row) ?? unlessDamaged(() => findable(kept?.get(row) ?? this.#get(id))),
    }));
  }

  #newer(): ReadonlyMap<number, Findable> {
    if (this.waiting() === 0) return new Map();
    return this.#known.of('newer', () => {
      const kept = this.#known.peek('fresh');
      if (kept?.size === this.waiting()) return newestFirst(kept);
      const rows = this.#newerThan(this.#indexedTo()).reverse();
      return new Map(rows.flatMap(({ row, found }) => (found ? [[row, found]] : [])));
    });
  }

  #indexedTo(): number {
    return this.#known.of('indexedTo', () => (this.#prepare('SELECT "to" FROM indexed').get() as { to: number }).to);
  }

  #setIndexedTo(row: number): void {
    this.#prepare('UPDATE indexed SET "to" = ?').run(row);
    this.#known.change('indexedTo', () => row);
  }

  #isIndexed(row: number): boolean {
    return row <= this.#indexedTo();
  }
}

/** Searchable text of snippets, highest rows first. */
const newestFirst = (snippets: ReadonlyMap<number, Snippet>): Map<number, Findable> =>
  new Map([...snippets].sort(([one], [other]) => other - one).map(([row, snippet]) => [row, findable(snippet)]));
