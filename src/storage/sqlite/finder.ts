import type Database from 'libsql';
import {
  type Findable,
  type Fit,
  fits,
  isPart,
  isSlip,
  leastLetters,
  type Phrase,
  type Query,
} from '../../drawer/index.ts';

/** More words than these are not tried in the place of one that is looked for. */
const mostAlternatives = 100;

/** The index of words: SQLite's own (FTS5), over words as the core compares them. */
export class Finder {
  readonly #prepare: (sql: string) => Database.Statement;

  constructor(prepare: (sql: string) => Database.Statement) {
    this.#prepare = prepare;
  }

  add(row: number, found: Findable): void {
    this.#prepare('INSERT INTO finder (rowid, label, words, origin, kind) VALUES (?, ?, ?, ?, ?)').run(
      row,
      ...columnsOf(found),
    );
    const insert = this.#prepare('INSERT OR IGNORE INTO word VALUES (?)');
    for (const word of new Set([...found.label, ...found.words, ...found.from])) insert.run(word);
  }

  /** `found` is what was added under this row. */
  remove(row: number, found: Findable): void {
    this.#prepare(
      "INSERT INTO finder (finder, rowid, label, words, origin, kind) VALUES ('delete', ?, ?, ?, ?, ?)",
    ).run(row, ...columnsOf(found));
  }

  /** Leaves no trace of what was removed: neither in the index, nor of words that are found nowhere any more. */
  forget(words: Iterable<string>): void {
    this.#prepare("INSERT INTO finder (finder) VALUES ('optimize')").run();
    for (const word of new Set(words))
      if (this.#rows(`{label words origin} : ${quoted([word])}`, 1).length === 0)
        this.#prepare('DELETE FROM word WHERE word = ?').run(word);
  }

  /** Rows that fit, the best first and among equals the newest, at most `limit`. */
  search(query: Query, limit: number): number[] {
    const found = new Set<number>();
    for (const fit of fits) {
      if (found.size >= limit) break;
      const expression = this.#expression(query, fit, found.size);
      // What fits better fits this too, so as many more are asked for as there are already.
      if (expression !== undefined)
        for (const row of this.#rows(expression, Math.min(limit + found.size, Number.MAX_SAFE_INTEGER)))
          if (found.size < limit) found.add(row);
    }
    return [...found];
  }

  #rows(expression: string, limit: number): number[] {
    return (
      this.#prepare('SELECT rowid AS row FROM finder WHERE finder MATCH ? ORDER BY rowid DESC LIMIT ?').all(
        expression,
        limit,
      ) as { row: number }[]
    ).map(({ row }) => row);
  }

  /** In FTS5's language; `undefined` where nothing can fit that way that does not fit better. */
  #expression({ words, from, label, is }: Query, fit: Fit, found: number): string | undefined {
    const narrowed = [
      ...is.map((kind) => `kind : ${quoted([kindToken(kind)])}`),
      ...from.map((phrase) => `origin : ${beginning(phrase)}`),
      ...label.map((phrase) => `label : ${beginning(phrase)}`),
    ];
    if (words.length === 0) return fit === 'beginning' ? narrowed.join(' AND ') : undefined;
    const wanted = this.#wanted(words, fit, found);
    return wanted && [...wanted, ...narrowed].join(' AND ');
  }

  #wanted(words: readonly Phrase[], fit: Fit, found: number): readonly string[] | undefined {
    const anywhere = (expression: string): string => `{label words origin} : ${expression}`;
    switch (fit) {
      case 'label':
        return words.map((phrase) => `label : ${beginning(phrase)}`);
      case 'whole':
        return words.map((phrase) => anywhere(quoted(phrase)));
      case 'beginning':
        return words.map((phrase) => anywhere(beginning(phrase)));
      case 'part':
        return this.#alternatives(words, (wanted) => this.#wordsWith(wanted))?.map(anywhere);
      case 'slip':
        return found > 0 ? undefined : this.#alternatives(words, (wanted) => this.#wordsLike(wanted))?.map(anywhere);
    }
  }

  /** Each phrase with other words in the place of its last; `undefined` when there are no others. */
  #alternatives(
    words: readonly Phrase[],
    othersFor: (word: string) => readonly string[],
  ): readonly string[] | undefined {
    let some = false;
    const wanted = words.map((phrase) => {
      const last = phrase.at(-1) ?? '';
      const others = othersFor(last);
      some ||= others.length > 0;
      return `(${[beginning(phrase), ...others.map((other) => quoted([...phrase.slice(0, -1), other]))].join(' OR ')})`;
    });
    return some ? wanted : undefined;
  }

  #wordsWith(part: string): readonly string[] {
    if (part.length < leastLetters.part) return [];
    return this.#words('SELECT word FROM word WHERE instr(word, ?) > 1 LIMIT ?', part).filter((word) =>
      isPart(part, word),
    );
  }

  #wordsLike(wanted: string): readonly string[] {
    if (wanted.length < leastLetters.slip) return this.#wordsWith(wanted);
    const near = (
      this.#prepare('SELECT word FROM word WHERE length(word) BETWEEN ? AND ?').all(
        wanted.length - 2,
        wanted.length + 2,
      ) as { word: string }[]
    ).map(({ word }) => word);
    return [...near.filter((word) => isSlip(wanted, word)), ...this.#wordsWith(wanted)].slice(0, mostAlternatives);
  }

  #words(sql: string, part: string): string[] {
    return (this.#prepare(sql).all(part, mostAlternatives) as { word: string }[]).map(({ word }) => word);
  }
}

const columnsOf = ({ label, words, from, is }: Findable): string[] => [
  label.join(' '),
  words.join(' '),
  from.join(' '),
  is.map(kindToken).join(' '),
];

/** A phrase in FTS5's language. The words hold letters and digits alone, so nothing in them has to be escaped. */
const quoted = (words: readonly string[]): string => `"${words.join(' ')}"`;
const beginning = (phrase: Phrase): string => `${quoted(phrase)} *`;

/** One word of the index, whatever stands in the name of a kind. */
const kindToken = (kind: string): string => kind.replace(/[^\p{L}\p{N}]/gu, '');
