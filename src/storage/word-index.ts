import {
  type Findable,
  isPart,
  isTypo,
  leastLetters,
  type MatchTier,
  matchTierOf,
  matchTiers,
  type Phrase,
  type Query,
} from '../drawer/index.ts';

/** What is found by its words. */
export interface Entry {
  readonly id: string;
  readonly takenAt: string;
  readonly order: string;
  readonly found: Findable;
}

type Postings = Map<string, Entry[]>;

/**
 * An index of words in memory, for storages that have none of their own: gives what `searchThrough` gives, in its order,
 * without looking at everything. Each word leads to what holds it, the oldest first.
 */
export class WordIndex {
  readonly #entries = new Map<string, Entry>();
  /** All, the oldest first. */
  readonly #byAge: Entry[] = [];
  /** Every order key, sorted. */
  readonly #orders: string[] = [];
  readonly #words: Postings = new Map();
  readonly #labels: Postings = new Map();
  readonly #kinds: Postings = new Map();
  /** Every word once, sorted; `undefined` when words came or went since. */
  #sorted: readonly string[] | undefined;

  get size(): number {
    return this.#entries.size;
  }

  /** How many stand in front of an order key. */
  countBefore(order: string): number {
    return place(this.#orders, (each) => each < order);
  }

  put(entry: Entry): void {
    this.remove(entry.id);
    this.#entries.set(entry.id, entry);
    insert(this.#byAge, entry);
    const last = this.#orders.at(-1);
    if (last === undefined || last < entry.order) this.#orders.push(entry.order);
    else
      this.#orders.splice(
        place(this.#orders, (each) => each < entry.order),
        0,
        entry.order,
      );
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
    this.#orders.splice(
      place(this.#orders, (each) => each < entry.order),
      1,
    );
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

  /** A word may stand there more than once. */
  #places({ found }: Entry): readonly (readonly [Postings, readonly string[]])[] {
    return [
      [this.#words, found.label],
      [this.#words, found.words],
      [this.#words, found.from],
      [this.#labels, found.label],
      [this.#kinds, found.is],
    ];
  }

  /** The ids of what fits, the best first and among equals the newest, at most `limit`. */
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

  /** Only what is found nowhere as it was typed is taken for a typo. */
  #typos({ words }: Query): ReadonlySet<Phrase> {
    const isThere = (phrase: Phrase): boolean => {
      const alone: Query = { words: [phrase], from: [], label: [], is: [] };
      const holding = this.#holding(this.#wordsFor(phrase, 'part'), this.#words);
      return holding.some(({ found }) => matchTierOf(alone, found, new Set()) !== undefined);
    };
    return new Set(words.filter((phrase) => !isThere(phrase)));
  }

  /** What can fit that way, the newest first: from the rarest of what is asked for, or all where nothing is rare. */
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
    // So many are looked at either way where that is about the same; beyond it hits are close together.
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

  /** The words that stand for the last of a phrase. */
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
/** The order of age: which was taken first, and of those taken together which stands first. */
export const compareAge = (one: Entry, other: Entry): number =>
  compare(one.takenAt, other.takenAt) || compare(one.order, other.order) || compare(one.id, other.id);

/** The first index at which a test of rising things fails. */
function place<T>(things: readonly T[], isBefore: (thing: T) => boolean): number {
  let [low, high] = [0, things.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isBefore(things[middle] as T)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Once, and mostly at the end, since what comes is mostly new. */
function insert(entries: Entry[], entry: Entry): void {
  const last = entries.at(-1);
  if (last === entry) return;
  if (!last || compareAge(last, entry) < 0) {
    entries.push(entry);
    return;
  }
  const at = place(entries, (each) => compareAge(each, entry) < 0);
  if (entries[at] !== entry) entries.splice(at, 0, entry);
}

function withdraw(entries: Entry[], entry: Entry): void {
  const at = place(entries, (each) => compareAge(each, entry) < 0);
  if (entries[at]?.id === entry.id) entries.splice(at, 1);
}
