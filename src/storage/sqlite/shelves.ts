import type Database from 'libsql';

/** A shelf with more snippets is parted in two. */
const most = 1024;

interface Shelf {
  readonly first: string;
  readonly snippets: number;
}

type Statements = (sql: string) => Database.Statement;

/** Positions of snippets by the counts of shelves: what they cost hardly grows with the drawer. */
export class Shelves {
  readonly #prepare: Statements;

  constructor(prepare: Statements) {
    this.#prepare = prepare;
  }

  count(): number {
    return (this.#prepare('SELECT coalesce(sum(snippets), 0) AS sum FROM shelf').get() as { sum: number }).sum;
  }

  /** How many order keys are lower than each of these. */
  countsBefore(orders: readonly string[]): readonly number[] {
    const rows = this.#prepare(
      `SELECT (SELECT coalesce(sum(snippets), 0) FROM shelf WHERE first < start)
            + (SELECT count(*) FROM snippet WHERE "order" >= start AND "order" < wanted) AS count
       FROM (SELECT key, value AS wanted, (SELECT max(first) FROM shelf WHERE first <= value) AS start FROM json_each(?))
       ORDER BY key`,
    ).all(JSON.stringify(orders)) as { count: number }[];
    return rows.map(({ count }) => count);
  }

  /** The shelf where position `offset` (from 0) is, and how many snippets stand on it before that; `undefined` past the end. */
  find(offset: number): { readonly first: string; readonly rest: number } | undefined {
    // All counts as one text: sums over rows in SQL, or a row each, take several times as long.
    const { counts } = this.#prepare(
      'SELECT group_concat(snippets) AS counts FROM (SELECT snippets FROM shelf ORDER BY first)',
    ).get() as { counts: string };
    let rest = offset;
    for (const [index, count] of counts.split(',').entries()) {
      if (rest < Number(count)) {
        const sql = 'SELECT first FROM shelf ORDER BY first LIMIT 1 OFFSET ?';
        return { first: (this.#prepare(sql).get(index) as { first: string }).first, rest };
      }
      rest -= Number(count);
    }
    return undefined;
  }

  /** Parts the shelf on which this key stands when it has become too long. */
  part(order: string): void {
    const { first, snippets } = this.#shelfOf(order);
    if (snippets <= most) return;
    const kept = snippets >> 1;
    const middle = this.#prepare(
      'SELECT "order" FROM snippet WHERE "order" >= ? ORDER BY "order" LIMIT 1 OFFSET ?',
    ).get(first, kept) as { order: string };
    this.#prepare('UPDATE shelf SET snippets = ? WHERE first = ?').run(kept, first);
    this.#prepare('INSERT INTO shelf VALUES (?, ?)').run(middle.order, snippets - kept);
  }

  #shelfOf(order: string): Shelf {
    return this.#prepare('SELECT first, snippets FROM shelf WHERE first <= ? ORDER BY first DESC LIMIT 1').get(
      order,
    ) as Shelf;
  }
}
