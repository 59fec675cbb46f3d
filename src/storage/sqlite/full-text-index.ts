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

/** Prefixes of words in labels, origins and kinds, and the separator of fields. No word contains these characters. */
const signs = { label: '§', from: '¶', is: '¤', between: '¦' } as const;

/** So many rows at most wait to be written. */
const mostWaiting = 4_000;

/**
 * The full-text index: SQLite's own (FTS5), over words folded as the core compares them. Additions wait until a search or
 * `settle`, because FTS5 writes a separate segment for each row if statements with triggers come in between.
 */
export class FullTextIndex {
  readonly #prepare: Prepare;
  readonly #waiting = new Map<number, Findable>();
  /** Rows that are not in the index, for the current search. */
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

  /** Removes a row; `found` must be what was added for it. */
  remove(row: number, found: Findable): void {
    if (this.#waiting.delete(row)) return;
    this.#prepare("INSERT INTO finder (finder, rowid, words) VALUES ('delete', ?, ?)").run(row, indexed(found));
  }

  /** Writes the waiting additions. */
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

  /** Discards the waiting additions. */
  drop(): void {
    this.#waiting.clear();
    this.#vocabulary = undefined;
  }

  /** Erases every trace of removed rows from the index, and words that no longer occur. */
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
   * Matching rows with their match tiers, as numbers: best match first and then last written first, at most `limit`. `newer` are
   * rows not in the index yet: written after all others, and last written first.
   */
  search(query: Query, limit: number, newer: ReadonlyMap<number, Findable>): ReadonlyMap<number, number> {
    this.settle();
    this.#parts.clear();
    this.#newer = newer;
    const found = new Map<number, number>();
    const newerFits = this.#newerFits(query);
    for (const [tier, fit] of matchTiers.entries()) {
      const add = (row: number): void => {
        if (found.size < limit && !found.has(row)) found.set(row, tier);
      };
      if (found.size >= limit || (fit === 'typo' && found.size > 0)) break;
      const rows = (fit === 'typo' ? this.#newerFits(query, this.#untyped(query)) : newerFits).get(fit);
      for (const row of rows ?? []) add(row);
      const expression = this.#expression(query, fit);
      if (expression === undefined) continue;
      // Better matches match here too, so the limit grows by the number found already.
      for (const row of this.#rows(expression, Math.min(limit + found.size, Number.MAX_SAFE_INTEGER))) add(row);
    }
    return found;
  }

  /** Matching rows outside the index, by match tier; only the phrases in `typos` may match with a typo. */
  #newerFits(query: Query, typos: ReadonlySet<Phrase> = new Set()): ReadonlyMap<MatchTier, readonly number[]> {
    const rows = new Map<MatchTier, number[]>(matchTiers.map((fit) => [fit, []]));
    for (const [row, found] of this.#newer) {
      const fit = matchTierOf(query, found, typos);
      if (fit) rows.get(fit)?.push(row);
    }
    return rows;
  }

  /** Phrases that occur nowhere as typed. */
  #untyped({ words }: Query): ReadonlySet<Phrase> {
    return new Set(this.#newer.size > 0 ? words.filter((phrase) => !this.#isTyped(phrase)) : []);
  }

  /** Whether a phrase occurs as typed, at least as a part of a word. */
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

  /** The query in FTS5's syntax; `undefined` if this tier can add no matches to the better ones. */
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

  /** Only words that occur nowhere as typed count as typos. */
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

  /** Words that contain a part, but not at their beginning. */
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

  /** The vocabulary, one word per line; read again if another connection has changed the file. */
  #lines(): string {
    const { data_version: version } = this.#prepare('PRAGMA data_version').get() as { data_version: number };
    if (this.#vocabulary?.version !== version) {
      const sql = `SELECT group_concat(word || char(10), '') AS lines FROM (SELECT word FROM word ORDER BY word)`;
      const { lines } = this.#prepare(sql).get() as { lines: string | null };
      this.#vocabulary = { version, lines: lines ?? '' };
    }
    return this.#vocabulary.lines;
  }

  /** Words that begin with its first or second letter, as typos of it do. */
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

/** The searchable text of a row, for FTS5 to split into words. */
const indexed = ({ label, words, from, is }: Findable): string =>
  [label, words, from, marked(signs.label, label), marked(signs.from, from), is.map(kindToken)]
    .map((field) => field.join(' '))
    .join(` ${signs.between} `);

/** Each phrase with alternatives for its last word; `undefined` if there are none. */
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

/** A phrase in FTS5's syntax. Of ASCII, the words contain only letters and digits, so nothing needs escaping. */
const quoted = (words: readonly string[]): string => `"${words.join(' ')}"`;
const beginning = (phrase: Phrase): string => `${quoted(phrase)} *`;

/** A kind's name as one word of the index. */
const kindToken = (kind: string): string => signs.is + kind.replace(/[^\p{L}\p{N}]/gu, '');
