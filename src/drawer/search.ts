import { distance } from 'fastest-levenshtein';
import { plainText } from '../content/index.ts';
import { compareOrder, originsOf, originText, type Snippet, type SnippetSummary, searchKindsOf } from './snippet.ts';

/** Consecutive folded words; the last may be the beginning of a word. */
export type Phrase = readonly string[];

/** A search query; all its parts have to match. */
export interface Query {
  /** Phrases to find anywhere: in the words, the label, the origin or the kind. */
  readonly words: readonly Phrase[];
  readonly from: readonly Phrase[];
  readonly label: readonly Phrase[];
  /** Kinds, such as `table`, `money` or `held`. */
  readonly is: readonly string[];
}

/** The searchable text of a snippet, as folded words. */
export interface Findable {
  readonly label: readonly string[];
  readonly words: readonly string[];
  readonly from: readonly string[];
  readonly is: readonly string[];
}

/** Match tiers, best first: in the label, whole words, beginnings, parts, words with a small typo. */
export const matchTiers = ['label', 'whole', 'beginning', 'part', 'typo'] as const;
export type MatchTier = (typeof matchTiers)[number];

/** The minimum number of letters for matching inside a word, or with a typo. */
export const leastLetters = { part: 3, typo: 4 } as const;

/** Words are compared up to this length, in UTF-16 units. */
const longestWord = 64;

/** Scripts without spaces between words; there, every character counts as a word. */
const spaceless = /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}]/u;
const wordOrSign =
  /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}]|(?:(?![\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}])[\p{L}\p{N}])+/gu;
const plainWord = /[a-z0-9]+/g;
const ascii = /^[\x00-\x7f]*$/;

/** Folds a text to words without accents, capitals and punctuation (NFKD, Unicode Standard Annex 15). */
export function foldWords(text: string): string[] {
  if (ascii.test(text)) return (text.toLowerCase().match(plainWord) ?? []).map(shortened);
  const folded = text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
  return (folded.match(wordOrSign) ?? []).map(shortened);
}

const shortened = (word: string): string => (word.length > longestWord ? word.slice(0, longestWord) : word);

const narrowing = /^(from|label|is):(.+)$/s;

/** Parses a query with the filters `from:`, `label:` and `is:`. */
export function parseQuery(words: readonly string[]): Query {
  const query = { words: [] as Phrase[], from: [] as Phrase[], label: [] as Phrase[], is: [] as string[] };
  for (const each of words) {
    const [, field, value = ''] = narrowing.exec(each) ?? [];
    if (field === 'is') query.is.push(value.trim().toLowerCase());
    else if (field === 'from' || field === 'label') query[field].push(foldWords(value));
    else query.words.push(...each.split(/\s+/).map(foldWords));
  }
  const filled = (phrases: readonly Phrase[]): Phrase[] => phrases.filter(({ length }) => length > 0);
  return { words: filled(query.words), from: filled(query.from), label: filled(query.label), is: query.is };
}

/** Whether a query has any parts. */
export const isEmptyQuery = ({ words, from, label, is }: Query): boolean =>
  words.length + from.length + label.length + is.length === 0;

/** The searchable text of a snippet; of a secret, only its label. */
export function findable({ content, ...summary }: Snippet): Findable {
  const label = foldWords(summary.label ?? '');
  if (summary.secret) return { label, words: [], from: [], is: ['secret', ...(summary.held ? ['held'] : [])] };
  return {
    label,
    words: foldWords(plainText(content)),
    from: foldWords(originsOf(summary).map(originText).join(' ')),
    is: searchKindsOf(summary),
  };
}

/** The tier of a match; `undefined` for none. Only phrases in `typos` may match with a typo. */
export function matchTierOf(
  query: Query,
  found: Findable,
  typos: ReadonlySet<Phrase> = new Set(query.words),
): MatchTier | undefined {
  const { label, words, from, is } = found;
  if (!query.is.every((kind) => is.includes(kind))) return undefined;
  if (!query.from.every((phrase) => isIn(phrase, from, isBeginning))) return undefined;
  if (!query.label.every((phrase) => isIn(phrase, label, isBeginning))) return undefined;
  const all = (phrase: Phrase, same: Same): boolean =>
    isIn(phrase, label, same) || isIn(phrase, words, same) || isIn(phrase, from, same);
  if (query.words.length === 0) return 'beginning';
  if (query.words.every((phrase) => isIn(phrase, label, isBeginning))) return 'label';
  if (query.words.every((phrase) => all(phrase, isWhole))) return 'whole';
  if (query.words.every((phrase) => all(phrase, isBeginning))) return 'beginning';
  if (query.words.every((phrase) => all(phrase, isPart))) return 'part';
  return query.words.every((phrase) => all(phrase, typos.has(phrase) ? isTypo : isPart)) ? 'typo' : undefined;
}

/** Whether a searched word matches a word of a text. */
type Same = (wanted: string, there: string) => boolean;

const isWhole: Same = (wanted, there) => there === wanted;
const isBeginning: Same = (wanted, there) => there.startsWith(wanted);

/** Whether a word contains a part: as its beginning, or anywhere if the part is long enough. */
export const isPart: Same = (wanted, there) =>
  there.startsWith(wanted) || (wanted.length >= leastLetters.part && there.includes(wanted));

/** Whether a word is a typo of another: one letter added, missing, wrong or swapped, in long words two. The first letter is right or missing. */
export const isTypo: Same = (wanted, there) =>
  isPart(wanted, there) ||
  (wanted.length >= leastLetters.typo &&
    [...wanted].slice(0, 2).some((letter) => there.startsWith(letter)) &&
    Math.abs(wanted.length - there.length) <= 2 &&
    !spaceless.test(wanted) &&
    isNear(wanted, there));

function isNear(wanted: string, there: string): boolean {
  const steps = distance(wanted, there);
  if (steps <= 1) return true;
  return steps === 2 && (wanted.length >= 8 || isSwapped(wanted, there));
}

/** Whether two words differ only by two swapped neighbouring letters. */
function isSwapped(one: string, other: string): boolean {
  if (one.length !== other.length) return false;
  const at = [...one].findIndex((letter, index) => letter !== other[index]);
  return one[at] === other[at + 1] && one[at + 1] === other[at] && one.slice(at + 2) === other.slice(at + 2);
}

/** Whether a text contains the words of a phrase in a row; only the last may match partly. */
function isIn(phrase: Phrase, there: readonly string[], same: Same): boolean {
  const last = phrase.length - 1;
  return there.some((_, at) =>
    phrase.every((word, index) => {
      const found = there[at + index];
      return found !== undefined && (index < last ? found === word : same(word, found));
    }),
  );
}

/** Whether a text contains a phrase as typed, at least as a part of a word. */
export const isTypedIn = (phrase: Phrase, { label, words, from }: Findable): boolean =>
  [label, words, from].some((there) => isIn(phrase, there, isPart));

/**
 * Searches snippets one by one; best matches first, then newest first. Typos count only if nothing matches better, and only for words
 * that occur nowhere as typed.
 */
export function searchEach(snippets: Iterable<Snippet>, query: Query, limit: number): SnippetSummary[] {
  const all = [...snippets].map((snippet) => ({ snippet, found: findable(snippet) }));
  const typos = new Set(query.words.filter((phrase) => !all.some(({ found }) => isTypedIn(phrase, found))));
  const hits = all.flatMap(({ snippet: { content: _, ...summary }, found }) => {
    const fit = matchTierOf(query, found, typos);
    return fit === undefined ? [] : [{ summary, fit: matchTiers.indexOf(fit) }];
  });
  hits.sort((one, other) => one.fit - other.fit || compareNewness(one.summary, other.summary));
  return hits.slice(0, limit).map(({ summary }) => summary);
}

/** Compares two snippets by when they were gathered, and by their places; negative if `one` is the newer. */
export const compareNewness = (one: SnippetSummary, other: SnippetSummary): number =>
  compare(other.takenAt, one.takenAt) || compareOrder(other, one);

const compare = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);
