import * as english from 'chrono-node/en';

/** What finds days in the words of one language. */
interface Parser {
  parse(words: string, reference: Date): readonly Found[];
}

interface Found {
  readonly index: number;
  readonly text: string;
  readonly start: {
    get(part: 'year' | 'month' | 'day'): number | null;
    isCertain(part: 'month'): boolean;
  };
}

/** The languages that dates are read in beside English, each loaded when something in it is kept. */
const parsers: Readonly<Record<string, () => Promise<{ readonly casual: Parser }>>> = {
  ar: () => import('chrono-node/ar'),
  de: () => import('chrono-node/de'),
  es: () => import('chrono-node/es'),
  fi: () => import('chrono-node/fi'),
  fr: () => import('chrono-node/fr'),
  id: () => import('chrono-node/id'),
  it: () => import('chrono-node/it'),
  ja: () => import('chrono-node/ja'),
  nl: () => import('chrono-node/nl'),
  pt: () => import('chrono-node/pt'),
  ru: () => import('chrono-node/ru'),
  sv: () => import('chrono-node/sv'),
  uk: () => import('chrono-node/uk'),
  vi: () => import('chrono-node/vi'),
  zh: () => import('chrono-node/zh'),
};

const loaded = new Map<string, Parser>();
const primary = (language: string): string => language.toLowerCase().split('-', 1)[0] as string;

/** Gets ready to find days in words of a language; one that is not known, or none, is read as English. */
export async function loadDates(language: string | undefined): Promise<void> {
  const name = primary(language ?? 'en');
  const load = Object.hasOwn(parsers, name) ? parsers[name] : undefined;
  if (load && !loaded.has(name)) loaded.set(name, (await load()).casual);
}

/** Longer words name more than a day. */
const longestDate = 60;

/**
 * The day that all of the words name, as ISO 8601, with a figure and a month in them: a bare number is none, nor is “May”.
 * They are read in the language where it was loaded, and in English, with the day before the month but for `en-US`.
 */
export function findDate(words: string, language = 'en-GB'): string | undefined {
  if (words.length > longestDate || !/\p{Nd}/u.test(words) || isNumber.test(words)) return undefined;
  const own = loaded.get(primary(language));
  const ours = /-(?:US|PH)$/i.test(language) ? english.casual : english.GB;
  return (own && dayIn(words, own)) ?? dayIn(words, ours);
}

function dayIn(words: string, parser: Parser): string | undefined {
  const [only] = parser.parse(words, new Date(0));
  // Some languages write “year” behind it, cut short.
  const isWhole = only?.index === 0 && /^\.?$/.test(words.slice(only.text.length));
  if (!isWhole || !only.start.isCertain('month')) return undefined;
  const part = (name: 'year' | 'month' | 'day', length: number): string =>
    String(only.start.get(name) ?? 1).padStart(length, '0');
  return `${part('year', 4)}-${part('month', 2)}-${part('day', 2)}`;
}

/** A number as people write it, its thousands parted or not; the source of a regular expression. */
export const amount = '[+\\-−]?(?:\\d{1,3}(?:[ ,.\\u00a0\\u202f]\\d{3})+|\\d{1,15})(?:[.,]\\d{1,10})?';
export const isNumber = new RegExp(`^${amount}$`);
