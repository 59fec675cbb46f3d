import {
  compareOrder,
  type Findable,
  isPart,
  isTypo,
  leastLetters,
  type MatchTier,
  matchTierOf,
  matchTiers,
  type Phrase,
  type Query,
  type SortKey,
} from '../drawer/index.ts';

/** A snippet as the index sees it. */
export interface Entry {
  readonly id: string;
  readonly takenAt: string;
  readonly order: string;
  readonly found: Findable;
}

type Postings = Map<string, Entry[]>;

/**
 * Full-text index in memory, for storages without one. Returns the same results as `searchThrough`, in the same order, without
 * reading every snippet. Each word lists the entries that contain it, oldest first.
 */
export class WordIndex {
  readonly #entries = new Map<string, Entry>();
  /** All entries, oldest first. */
  readonly #byAge: Entry[] = [];
  /** All entries in the drawer's order. */
  readonly #byOrder: Entry[] = [];
  readonly #words: Postings = new Map();
  readonly #labels: Postings = new Map();
  readonly #kinds: Postings = new Map();
  /** Each word once, sorted; `undefined` after a word was added or removed. */
  #sorted: readonly string[] | undefined;

  get size(): number {
    return this.#entries.size;
  }

  /** How many entries come before a place. */
  countBefore(key: SortKey): number {
    return place(this.#byOrder, (each) => compareOrder(each, key) < 0);
  }

  put(entry: Entry): void {
    this.remove(entry.id);
    this.#entries.set(entry.id, entry);
    insert(this.#byAge, entry);
    insert(this.#byOrder, entry, compareOrder);
    for (const [postings, words] of this.#places(entry))
      for (const word of words) {
        const there = postings.get(word);
        if (there) insert(there, entry);
        else {
          postings.set(word, [entry]);
          if (postings === this.#words) this.#sorted = undefined;
        }
      }
  }

  remove(id: string): void {
    const entry = this.#entries.get(id);
    if (!entry) return;
    this.#entries.delete(id);
    withdraw(this.#byAge, entry);
    withdraw(this.#byOrder, entry, compareOrder);
    for (const [postings, words] of this.#places(entry))
      for (const word of words) {
        const there = postings.get(word);
        if (!there) continue;
        withdraw(there, entry);
        if (there.length > 0) continue;
        postings.delete(word);
        if (postings === this.#words) this.#sorted = undefined;
      }
  }

  /** The word lists of an entry; a word may occur in it more than once. */
  #places({ found }: Entry): readonly (readonly [Postings, readonly string[]])[] {
    return [
      [this.#words, found.label],
      [this.#words, found.words],
      [this.#words, found.from],
      [this.#labels, found.label],
      [this.#kinds, found.is],
    ];
  }

  /** Ids of the matches, best first, then newest first; at most `limit`. */
  search(query: Query, limit: number): string[] {
    const hits = new Set<string>();
    for (const fit of matchTiers) {
      if (hits.size >= limit || (fit === 'typo' && hits.size > 0)) break;
      const typos = fit === 'typo' ? this.#typos(query) : new Set<Phrase>();
      if (fit === 'typo' && typos.size === 0) break;
      for (const entry of this.#candidates(query, fit, typos, limit)) {
        if (hits.size >= limit) break;
        const found = matchTierOf(query, entry.found, typos);
        if (found !== undefined && matchTiers.indexOf(found) <= matchTiers.indexOf(fit)) hits.add(entry.id);
      }
    }
    return [...hits];
  }

  /** Words count as typos only if nothing contains them as typed. */
  #typos({ words }: Query): ReadonlySet<Phrase> {
    const isThere = (phrase: Phrase): boolean => {
      const alone: Query = { words: [phrase], from: [], label: [], is: [] };
      const holding = this.#holding(this.#wordsFor(phrase, 'part'), this.#words);
      return holding.some(({ found }) => matchTierOf(alone, found, new Set()) !== undefined);
    };
    return new Set(words.filter((phrase) => !isThere(phrase)));
  }

  /** Possible matches of a tier, newest first: those of the rarest word, or all entries if no word is rare. */
  *#candidates(query: Query, fit: MatchTier, typos: ReadonlySet<Phrase>, limit: number): Generator<Entry> {
    const lists: (readonly (readonly Entry[])[])[] = [
      ...query.is.map((kind) => [this.#kinds.get(kind) ?? []]),
      ...query.label.map((phrase) => this.#lists(this.#beginningWith(lastOf(phrase), this.#labels), this.#labels)),
      ...query.from.map((phrase) => this.#lists(this.#beginningWith(lastOf(phrase), this.#words), this.#words)),
      ...query.words.map((phrase) => {
        const way = fit === 'typo' && !typos.has(phrase) ? 'part' : fit;
        const postings = way === 'label' ? this.#labels : this.#words;
        return this.#lists(this.#wordsFor(phrase, way), postings);
      }),
    ];
    const rarest = lists.reduce((one, other) => (lengthOf(other) < lengthOf(one) ? other : one), [this.#byAge]);
    // Up to this many entries, both ways take about as long; beyond it, matches are close together.
    if (lengthOf(rarest) > 2 * Math.sqrt(Math.min(limit, this.#byAge.length) * this.#byAge.length)) {
      for (let index = this.#byAge.length - 1; index >= 0; index--) yield this.#byAge[index] as Entry;
      return;
    }
    const one = rarest.length === 1 ? rarest[0] : undefined;
    const together = one ? [...one] : [...new Set(rarest.flat())].sort(compareAge);
    yield* together.reverse();
  }

  #lists(words: readonly string[], postings: Postings): readonly (readonly Entry[])[] {
    return words.map((word) => postings.get(word) ?? []);
  }

  #holding(words: readonly string[], postings: Postings): Entry[] {
    return words.flatMap((word) => postings.get(word) ?? []);
  }

  /** Indexed words that match the last word of a phrase. */
  #wordsFor(phrase: Phrase, fit: MatchTier): readonly string[] {
    const wanted = lastOf(phrase);
    switch (fit) {
      case 'label':
        return this.#beginningWith(wanted, this.#labels);
      case 'whole':
        return this.#words.has(wanted) ? [wanted] : [];
      case 'beginning':
        return this.#beginningWith(wanted, this.#words);
      case 'part':
        return wanted.length < leastLetters.part
          ? this.#beginningWith(wanted, this.#words)
          : [...this.#words.keys()].filter((word) => isPart(wanted, word));
      case 'typo':
        return [...this.#words.keys()].filter((word) => isTypo(wanted, word));
    }
  }

  #beginningWith(wanted: string, postings: Postings): readonly string[] {
    if (postings !== this.#words) return [...postings.keys()].filter((word) => word.startsWith(wanted));
    this.#sorted ??= [...postings.keys()].sort();
    const from = place(this.#sorted, (word) => word < wanted);
    let to = from;
    while (this.#sorted[to]?.startsWith(wanted)) to++;
    return this.#sorted.slice(from, to);
  }
}

const lastOf = (phrase: Phrase): string => phrase.at(-1) ?? '';
const lengthOf = (lists: readonly (readonly Entry[])[]): number => lists.reduce((sum, { length }) => sum + length, 0);

const compare = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);
/** Orders by age: gathered first, and if gathered together, listed first. */
export const compareAge = (one: Entry, other: Entry): number =>
  compare(one.takenAt, other.takenAt) || compareOrder(one, other);

/** Index of the first item of a sorted list for which the test fails. */
function place<T>(things: readonly T[], isBefore: (thing: T) => boolean): number {
  let [low, high] = [0, things.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isBefore(things[middle] as T)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Inserts an entry once; usually at the end, since most entries are new. */
function insert(entries: Entry[], entry: Entry, comparing = compareAge): void {
  const last = entries.at(-1);
  if (last === entry) return;
  if (!last || comparing(last, entry) < 0) {
    entries.push(entry);
    return;
  }
  const at = place(entries, (each) => comparing(each, entry) < 0);
  if (entries[at] !== entry) entries.splice(at, 0, entry);
}

function withdraw(entries: Entry[], entry: Entry, comparing = compareAge): void {
  const at = place(entries, (each) => comparing(each, entry) < 0);
  if (entries[at]?.id === entry.id) entries.splice(at, 1);
}
