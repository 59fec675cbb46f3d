import { distance } from 'fastest-levenshtein';
import { plainText } from '../content/index.ts';
import { originsOf, originText, type Snippet, type SnippetSummary, searchKindsOf } from './snippet.ts';

/** Words as they are compared, one after another; the last may be the beginning of one. */
export type Phrase = readonly string[];

/** What is looked for: each of it has to be there. */
export interface Query {
  /** Anywhere: in the words, the label, the origin, or as what it is. */
  readonly words: readonly Phrase[];
  readonly from: readonly Phrase[];
  readonly label: readonly Phrase[];
  /** What it is, in one word each: `table`, `money`, `held`. */
  readonly is: readonly string[];
}

/** Where words are looked for, each as they are compared. */
export interface Findable {
  readonly label: readonly string[];
  readonly words: readonly string[];
  readonly from: readonly string[];
  readonly is: readonly string[];
}

/** From the best on: in the label, whole words, beginnings of words, parts of words, words with a small typo. */
export const matchTiers = ['label', 'whole', 'beginning', 'part', 'typo'] as const;
export type MatchTier = (typeof matchTiers)[number];

/** From how many letters on a word may match inside another, or with a typo. */
export const leastLetters = { part: 3, typo: 4 } as const;

/** Long words are compared as far as this, in UTF-16 units. */
const longestWord = 64;

/** Scripts written without spaces between words: there a word is a sign. */
const spaceless = /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}]/u;
const wordOrSign =
  /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}]|(?:(?![\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}])[\p{L}\p{N}])+/gu;
const plainWord = /[a-z0-9]+/g;
const ascii = /^[\x00-\x7f]*$/;

/** The words of a text without accents, capitals and signs (NFKD, Unicode Standard Annex 15). */
export function foldWords(text: string): string[] {
  if (ascii.test(text)) return (text.toLowerCase().match(plainWord) ?? []).map(shortened);
  const folded = text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
  return (folded.match(wordOrSign) ?? []).map(shortened);
}

const shortened = (word: string): string => (word.length > longestWord ? word.slice(0, longestWord) : word);

const narrowing = /^(from|label|is):(.+)$/s;

/** What words ask for; `from:`, `label:` and `is:` narrow it down. */
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

/** Whether anything is asked for at all. */
export const isEmptyQuery = ({ words, from, label, is }: Query): boolean =>
  words.length + from.length + label.length + is.length === 0;

/** What a snippet can be found by; a secret one only by its label. */
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

/** How well it fits; `undefined` when it does not. Only phrases among `typos` may be there with one. */
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

/** Whether a word that is looked for and one that is there are taken for the same. */
type Same = (wanted: string, there: string) => boolean;

const isWhole: Same = (wanted, there) => there === wanted;
const isBeginning: Same = (wanted, there) => there.startsWith(wanted);

/** Beginnings count; inside a word only what is not too short and no sign by itself. */
export const isPart: Same = (wanted, there) =>
  there.startsWith(wanted) || (wanted.length >= leastLetters.part && there.includes(wanted));

/** One letter too many, too few, wrong or out of turn; in long words two. The first letter is right, or left out. */
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

/** Two neighbouring letters changed places, and nothing else. */
function isSwapped(one: string, other: string): boolean {
  if (one.length !== other.length) return false;
  const at = [...one].findIndex((letter, index) => letter !== other[index]);
  return one[at] === other[at + 1] && one[at + 1] === other[at] && one.slice(at + 2) === other.slice(at + 2);
}

/** Whether the words of the phrase stand there one after another; only the last may be less than whole. */
function isIn(phrase: Phrase, there: readonly string[], same: Same): boolean {
  const last = phrase.length - 1;
  return there.some((_, at) =>
    phrase.every((word, index) => {
      const found = there[at + index];
      return found !== undefined && (index < last ? found === word : same(word, found));
    }),
  );
}

/** Whether a phrase stands there as it was typed, at least as a part of a word. */
export const isTypedIn = (phrase: Phrase, { label, words, from }: Findable): boolean =>
  [label, words, from].some((there) => isIn(phrase, there, isPart));

/**
 * Searches snippets one by one: the best fits first, among equals the newest. Small typos count only where nothing fits better,
 * and only in words that are found nowhere as they were typed.
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

const compareNewness = (one: SnippetSummary, other: SnippetSummary): number =>
  compare(other.takenAt, one.takenAt) || compare(other.order, one.order);

const compare = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);
