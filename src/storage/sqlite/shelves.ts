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

  /** How many order keys are lower. */
  countBefore(order: string): number {
    const { first } = this.#shelfOf(order);
    const { sum } = this.#prepare('SELECT coalesce(sum(snippets), 0) AS sum FROM shelf WHERE first < ?').get(first) as {
      sum: number;
    };
    const { count } = this.#prepare('SELECT count(*) AS count FROM snippet WHERE "order" >= ? AND "order" < ?').get(
      first,
      order,
    ) as { count: number };
    return sum + count;
  }

  /** The shelf where position `offset` (from 0) is, and how many snippets stand on it before that; `undefined` past the end. */
  find(offset: number): { readonly first: string; readonly rest: number } | undefined {
    const shelf = this.#prepare(
      `SELECT first, before FROM (
         SELECT first, snippets, sum(snippets) OVER (ORDER BY first) - snippets AS before FROM shelf
       ) WHERE before + snippets > ? ORDER BY first LIMIT 1`,
    ).get(offset) as { first: string; before: number } | undefined;
    return shelf && { first: shelf.first, rest: offset - shelf.before };
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
