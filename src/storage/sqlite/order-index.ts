import type { SortKey } from '../../drawer/index.ts';
import type { RowCache } from './row-cache.ts';
import type { Prepare } from './snippet-row.ts';

/** A shelf with more snippets than `most` is split into shelves of `parted`. */
const [most, parted] = [1024, 512];

/** Finds positions by counting snippets per shelf, a run of consecutive order keys, so that the cost hardly grows with the drawer. */
export class OrderIndex {
  readonly #prepare: Prepare;
  readonly #known: RowCache;

  constructor(prepare: Prepare, known: RowCache) {
    this.#prepare = prepare;
    this.#known = known;
  }

  count(): number {
    return this.#sum('snippets', 'count(*)');
  }

  /** The size of all snippets in bytes. */
  bytes(): number {
    return this.#sum('bytes', 'sum(bytes)');
  }

  /** The sum over the counted shelves and the open one. */
  #sum(column: string, inTheOpen: string): number {
    const sql = `SELECT (SELECT coalesce(sum(${column}), 0) FROM shelf)
                      + (SELECT coalesce(${inTheOpen}, 0) FROM snippet WHERE "order" >= (SELECT max(first) FROM shelf)) AS sum`;
    return (this.#prepare(sql).get() as { sum: number }).sum;
  }

  /** Counts an added (1) or removed (-1) snippet. The open shelf has no counts; its snippets are counted when needed. */
  change(order: string, bytes: number, by: 1 | -1): void {
    if (order >= this.#openFrom()) return;
    this.#prepare(
      `UPDATE shelf SET snippets = snippets + ?, bytes = bytes + ?
       WHERE first = (SELECT max(first) FROM shelf WHERE first <= ?)`,
    ).run(by, by * bytes, order);
  }

  #openFrom(): string {
    return this.#known.of(
      'openFrom',
      () => (this.#prepare('SELECT max(first) AS first FROM shelf').get() as { first: string }).first,
    );
  }

  /** The number of snippets before each of these places. A shelf has all snippets with the same order key. */
  countsBefore(keys: readonly SortKey[]): readonly number[] {
    const rows = this.#prepare(
      `SELECT (SELECT coalesce(sum(snippets), 0) FROM shelf WHERE first < start)
            + (SELECT count(*) FROM snippet WHERE "order" >= start AND "order" < wanted)
            + (SELECT count(*) FROM snippet WHERE "order" = wanted AND snippet.id < wantedId) AS count
       FROM (SELECT number, wanted, wantedId, (SELECT max(first) FROM shelf WHERE first <= wanted) AS start
             FROM (SELECT key AS number, value ->> 0 AS wanted, value ->> 1 AS wantedId FROM json_each(?)))
       ORDER BY number`,
    ).all(JSON.stringify(keys.map(({ order, id }) => [order, id]))) as { count: number }[];
    return rows.map(({ count }) => count);
  }

  /** The shelf of position `offset` (from 0), and the number of snippets before it on that shelf. */
  find(offset: number): { readonly first: string; readonly rest: number } {
    if (offset === 0) return { first: '', rest: 0 };
    // All counts come as one text, which is several times faster than a row each or sums in SQL.
    const { counts } = this.#prepare(
      'SELECT group_concat(snippets) AS counts FROM (SELECT snippets FROM shelf ORDER BY first)',
    ).get() as { counts: string | null };
    let rest = offset;
    let index = 0;
    for (const count of counts?.split(',') ?? []) {
      if (rest < Number(count)) break;
      rest -= Number(count);
      index++;
    }
    const sql = 'SELECT first FROM shelf ORDER BY first LIMIT 1 OFFSET ?';
    return { first: (this.#prepare(sql).get(index) as { first: string }).first, rest };
  }

  /** Splits shelves that have become too long; the last one stays open. */
  part(): void {
    const long = this.#prepare('SELECT first, snippets FROM shelf WHERE snippets > ?').all(most) as {
      first: string;
      snippets: number;
    }[];
    for (const { first, snippets } of long) this.#partAt(first, snippets);
    const open = this.#prepare(
      `SELECT first, (SELECT count(*) FROM snippet WHERE "order" >= first) AS snippets FROM shelf WHERE snippets IS NULL`,
    ).get() as { first: string; snippets: number };
    if (open.snippets <= most) return;
    this.#partAt(open.first, open.snippets, 'open');
    this.#known.forget('openFrom');
  }

  #partAt(first: string, snippets: number, end?: 'open'): void {
    const shelves = this.#prepare(
      `SELECT min("order") AS first, count(*) AS snippets, sum(bytes) AS bytes
       FROM (SELECT "order", bytes, dense_rank() OVER (ORDER BY "order") - 1 AS number FROM snippet
             WHERE "order" >= ? ORDER BY "order" LIMIT ?)
       GROUP BY number / ${parted} ORDER BY first`,
    ).all(first, snippets) as { first: string; snippets: number; bytes: number }[];
    const put = this.#prepare('INSERT OR REPLACE INTO shelf (first, snippets, bytes) VALUES (?, ?, ?)');
    for (const [index, shelf] of shelves.entries()) {
      const isOpen = end === 'open' && index === shelves.length - 1;
      put.run(index === 0 ? first : shelf.first, isOpen ? null : shelf.snippets, isOpen ? null : shelf.bytes);
    }
  }
}
