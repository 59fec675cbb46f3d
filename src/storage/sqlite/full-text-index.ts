import {
  type Findable,
  isPart,
  isTypedIn,
  isTypo,
  leastLetters,
  type MatchTier,
  matchTierOf,
  matchTiers,
  type Phrase,
  type Query,
} from '../../drawer/index.ts';
import type { Prepare } from './snippet-row.ts';

/** So many words at most are tried in the place of one that is looked for. */
const mostAlternatives = 40;

/** What stands before words of labels, origins and kinds where these alone are meant, and between fields. No word has these signs. */
const signs = { label: '§', from: '¶', is: '¤', between: '¦' } as const;

/** So many rows at most wait to be written. */
const mostWaiting = 4_000;

/**
 * The index of words: SQLite's own (FTS5), over words as the core compares them. What is added waits until it is asked for or
 * settled: FTS5 writes a segment of its own for each row where statements with triggers stand between.
 */
export class FullTextIndex {
  readonly #prepare: Prepare;
  readonly #waiting = new Map<number, Findable>();
  /** What a search is told of rows that are not in the index. */
  #newer: ReadonlyMap<number, Findable> = new Map();
  /** The words that hold a part, as far as one search has asked. */
  readonly #parts = new Map<string, readonly string[]>();
  /** Every word once, a line each: looked through in a fraction of the time that the table takes. */
  #vocabulary: { readonly version: number; readonly lines: string } | undefined;

  constructor(prepare: Prepare) {
    this.#prepare = prepare;
  }

  add(row: number, found: Findable): void {
    this.#waiting.set(row, found);
    if (this.#waiting.size >= mostWaiting) this.settle();
  }

  /** `found` is what was added under this row. */
  remove(row: number, found: Findable): void {
    if (this.#waiting.delete(row)) return;
    this.#prepare("INSERT INTO finder (finder, rowid, words) VALUES ('delete', ?, ?)").run(row, indexed(found));
  }

  /** Writes what waits. */
  settle(): void {
    if (this.#waiting.size === 0) return;
    const insert = this.#prepare('INSERT INTO finder (rowid, words) VALUES (?, ?)');
    const words = new Set<string>();
    for (const [row, found] of this.#waiting) {
      insert.run([row, indexed(found)]);
      for (const field of [found.label, found.words, found.from]) for (const word of field) words.add(word);
    }
    this.#prepare('INSERT OR IGNORE INTO word SELECT value FROM json_each(?)').run(JSON.stringify([...words].sort()));
    this.drop();
  }

  /** What waits is not to be written, or has been. */
  drop(): void {
    this.#waiting.clear();
    this.#vocabulary = undefined;
  }

  /** Leaves no trace of what was removed: neither in the index, nor of words that are found nowhere any more. */
  forget(words: Iterable<string>): void {
    this.settle();
    this.#vocabulary = undefined;
    this.#prepare("INSERT INTO finder (finder) VALUES ('optimize')").run();
    for (const word of new Set(words))
      if (!this.#has(quoted([word]))) this.#prepare('DELETE FROM word WHERE word = ?').run(word);
  }

  /** Forgets everything. */
  clear(): void {
    this.drop();
    this.#prepare("INSERT INTO finder (finder) VALUES ('delete-all')").run();
    this.#prepare('DELETE FROM word').run();
  }

  /**
   * Rows that fit, the best first and among equals the newest, at most `limit`. Those not in the index yet are told: they are
   * newer than all others, the newest of them first.
   */
  search(query: Query, limit: number, newer: ReadonlyMap<number, Findable>): number[] {
    this.settle();
    this.#parts.clear();
    this.#newer = newer;
    const found = new Set<number>();
    const newerFits = this.#newerFits(query);
    for (const fit of matchTiers) {
      if (found.size >= limit || (fit === 'typo' && found.size > 0)) break;
      const rows = (fit === 'typo' ? this.#newerFits(query, this.#untyped(query)) : newerFits).get(fit);
      for (const row of rows ?? []) if (found.size < limit) found.add(row);
      const expression = this.#expression(query, fit);
      if (expression === undefined) continue;
      // What fits better fits this too, so as many more are asked for as there are already.
      for (const row of this.#rows(expression, Math.min(limit + found.size, Number.MAX_SAFE_INTEGER)))
        if (found.size < limit) found.add(row);
    }
    return [...found];
  }

  /** The rows not in the index that fit, by how well; with typos only in the phrases that are named. */
  #newerFits(query: Query, typos: ReadonlySet<Phrase> = new Set()): ReadonlyMap<MatchTier, readonly number[]> {
    const rows = new Map<MatchTier, number[]>(matchTiers.map((fit) => [fit, []]));
    for (const [row, found] of this.#newer) {
      const fit = matchTierOf(query, found, typos);
      if (fit) rows.get(fit)?.push(row);
    }
    return rows;
  }

  /** The phrases that stand nowhere as they were typed. */
  #untyped({ words }: Query): ReadonlySet<Phrase> {
    return new Set(this.#newer.size > 0 ? words.filter((phrase) => !this.#isTyped(phrase)) : []);
  }

  /** Whether it stands somewhere as it was typed, at least as a part of a word. */
  #isTyped(phrase: Phrase): boolean {
    const parts = this.#wordsWith(lastOf(phrase));
    const [asTyped = ''] = alternatives([phrase], () => parts) ?? [beginning(phrase)];
    return this.#has(asTyped) || [...this.#newer.values()].some((found) => isTypedIn(phrase, found));
  }

  #rows(expression: string, limit: number): number[] {
    return (
      this.#prepare('SELECT rowid AS row FROM finder WHERE finder MATCH ? ORDER BY rowid DESC LIMIT ?').all(
        expression,
        limit,
      ) as { row: number }[]
    ).map(({ row }) => row);
  }

  #has(expression: string): boolean {
    return this.#rows(expression, 1).length > 0;
  }

  /** In FTS5's language; `undefined` where nothing can fit that way that does not fit better. */
  #expression({ words, from, label, is }: Query, fit: MatchTier): string | undefined {
    const narrowed = [
      ...is.map((kind) => quoted([kindToken(kind)])),
      ...from.map((phrase) => beginning(marked(signs.from, phrase))),
      ...label.map((phrase) => beginning(marked(signs.label, phrase))),
    ];
    if (words.length === 0) return fit === 'beginning' ? narrowed.join(' AND ') : undefined;
    const wanted = this.#wanted(words, fit);
    return wanted && [...wanted, ...narrowed].join(' AND ');
  }

  #wanted(words: readonly Phrase[], fit: MatchTier): readonly string[] | undefined {
    switch (fit) {
      case 'label':
        return words.map((phrase) => beginning(marked(signs.label, phrase)));
      case 'whole':
        return words.map(quoted);
      case 'beginning':
        return words.map(beginning);
      case 'part':
        return alternatives(words, (phrase) => this.#wordsWith(lastOf(phrase)));
      case 'typo':
        return alternatives(words, (phrase) => this.#inPlaceOf(phrase));
    }
  }

  /** Only what is found nowhere as it was typed is taken for a typo. */
  #inPlaceOf(phrase: Phrase): readonly string[] {
    return this.#isTyped(phrase) ? this.#wordsWith(lastOf(phrase)) : this.#wordsLike(lastOf(phrase));
  }

  #wordsWith(part: string): readonly string[] {
    if (part.length < leastLetters.part) return [];
    const known = this.#parts.get(part);
    if (known) return known;
    const words = this.#wordsAround(part).filter((word) => isPart(part, word));
    this.#parts.set(part, words);
    return words;
  }

  /** Words that hold a part, but not at their beginning. */
  #wordsAround(part: string): readonly string[] {
    const lines = this.#lines();
    const words: string[] = [];
    for (let at = lines.indexOf(part); at >= 0 && words.length < mostAlternatives; ) {
      const start = lines.lastIndexOf('\n', at) + 1;
      const end = lines.indexOf('\n', at);
      if (at > start) words.push(lines.slice(start, end));
      at = lines.indexOf(part, end);
    }
    return words;
  }

  /** Read anew where another connection has changed the file since. */
  #lines(): string {
    const { data_version: version } = this.#prepare('PRAGMA data_version').get() as { data_version: number };
    if (this.#vocabulary?.version !== version) {
      const sql = `SELECT group_concat(word || char(10), '') AS lines FROM (SELECT word FROM word ORDER BY word)`;
      const { lines } = this.#prepare(sql).get() as { lines: string | null };
      this.#vocabulary = { version, lines: lines ?? '' };
    }
    return this.#vocabulary.lines;
  }

  /** Words that begin with its first letter or its second, as those with a typo do. */
  #wordsLike(wanted: string): readonly string[] {
    if (wanted.length < leastLetters.typo) return [];
    const starts = [...new Set([...wanted].slice(0, 2))];
    return starts
      .flatMap((start) =>
        this.#words(
          'SELECT word FROM word WHERE word >= ? AND word < ? AND length(word) BETWEEN ? AND ?',
          start,
          `${start}\u{10ffff}`,
          wanted.length - 2,
          wanted.length + 2,
        ),
      )
      .filter((word) => isTypo(wanted, word))
      .slice(0, mostAlternatives);
  }

  #words(sql: string, ...parameters: readonly (string | number)[]): string[] {
    return (this.#prepare(sql).all(...parameters) as { word: string }[]).map(({ word }) => word);
  }
}

/** All that a row is found by, as FTS5 parts it into words. */
const indexed = ({ label, words, from, is }: Findable): string =>
  [label, words, from, marked(signs.label, label), marked(signs.from, from), is.map(kindToken)]
    .map((field) => field.join(' '))
    .join(` ${signs.between} `);

/** Each phrase with other words in the place of its last; `undefined` when there are no others. */
function alternatives(
  words: readonly Phrase[],
  othersFor: (phrase: Phrase) => readonly string[],
): readonly string[] | undefined {
  let some = false;
  const wanted = words.map((phrase) => {
    const others = othersFor(phrase);
    some ||= others.length > 0;
    return `(${[beginning(phrase), ...others.map((other) => quoted([...phrase.slice(0, -1), other]))].join(' OR ')})`;
  });
  return some ? wanted : undefined;
}

const lastOf = (phrase: Phrase): string => phrase.at(-1) ?? '';
const marked = (sign: string, words: readonly string[]): string[] => words.map((word) => sign + word);

/** A phrase in FTS5's language. The words hold no ASCII but letters and digits, so nothing in them has to be escaped. */
const quoted = (words: readonly string[]): string => `"${words.join(' ')}"`;
const beginning = (phrase: Phrase): string => `${quoted(phrase)} *`;

/** One word of the index, whatever stands in the name of a kind. */
const kindToken = (kind: string): string => signs.is + kind.replace(/[^\p{L}\p{N}]/gu, '');
