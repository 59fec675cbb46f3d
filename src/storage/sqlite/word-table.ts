import { type Findable, findable, foldWords, type Query, type Snippet } from '../../drawer/index.ts';
import { FullTextIndex } from './full-text-index.ts';
import type { RowCache } from './row-cache.ts';
import { type Prepare, unlessDamaged } from './snippet-row.ts';

/** So many snippets at most, and none larger than so many bytes, are kept in memory until their words are in the index. */
const fresh = { most: 10_000, largest: 4_096 } as const;

/**
 * What rows are found by. The words of a row go into the index later, many at once, where it comes behind all that are in it;
 * until then it is found by reading it. Other rows go into it, and out, at once.
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

  /** `snippet` is what was added under this row. */
  remove(row: number, snippet: Snippet): void {
    if (this.#isIndexed(row)) this.#finder.remove(row, findable(snippet));
  }

  /** What is under this row is found otherwise now. */
  change(row: number, before: Snippet, after: Snippet): void {
    if (!this.#isIndexed(row)) return;
    this.#finder.remove(row, findable(before));
    this.#finder.add(row, findable(after));
  }

  /** Leaves no trace of words that a row had, nor of what was removed. */
  forget(row: number, words: string): void {
    if (this.#isIndexed(row)) this.#finder.forget(foldWords(words));
  }

  /** Rows that fit, the best first and among equals the newest, at most `limit`. */
  search(query: Query, limit: number): readonly number[] {
    return this.#finder.search(query, limit, this.#newer());
  }

  /** Begins anew: rows up to this one go into the index at once. */
  clear(upTo: number): void {
    this.#finder.clear();
    this.#setIndexedTo(upTo);
  }

  /** Writes what waits to be, before all is committed. */
  settle(): void {
    this.#finder.settle();
  }

  /** What was written was taken back with the transaction. */
  drop(): void {
    this.#finder.drop();
  }

  /** How many snippets can only be found by reading them, since their words are not in the index. */
  waiting(): number {
    const sql = 'SELECT count(*) AS count FROM snippet WHERE row > ?';
    return this.#known.of('waiting', () => (this.#prepare(sql).get(this.#indexedTo()) as { count: number }).count);
  }

  /** The same as far as it is known. */
  waitingSeen(): number {
    return this.#known.peek('waiting') ?? 0;
  }

  /** Puts the words of the oldest of those into the index, at most of so many. */
  catchUp(most: number): void {
    const rows = this.#newerThan(this.#indexedTo(), most);
    for (const { row, found } of rows) if (found) this.#finder.add(row, found);
    this.settle();
    this.#known.change('waiting', (waiting) => waiting - rows.length);
    this.#setIndexedTo(rows.at(-1)?.row ?? this.#indexedTo());
    for (const { row } of rows) for (const name of ['fresh', 'newer'] as const) this.#known.peek(name)?.delete(row);
  }

  /** What rows behind this one are found by; a damaged one by nothing, which `check` tells of. */
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

/** What snippets are found by, those with the highest rows first. */
const newestFirst = (snippets: ReadonlyMap<number, Snippet>): Map<number, Findable> =>
  new Map([...snippets].sort(([one], [other]) => other - one).map(([row, snippet]) => [row, findable(snippet)]));
