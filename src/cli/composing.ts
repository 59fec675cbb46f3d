import {
  type Attribution,
  attributions,
  type ComposeJoin,
  type ComposeOptions,
  composeJoins,
  composeOrders,
  plainTidyings,
  type Tidying,
  tidyings,
  totalKinds,
} from '../compose/index.ts';
import { parseEnum } from '../content/index.ts';
import { catalogueFor, Words } from '../messages/index.ts';
import { checkLanguage, usualLanguage } from './language.ts';

/** What the commands that put snippets together can be told. */
export interface ComposingOptions {
  readonly join?: string;
  readonly or?: boolean;
  readonly order?: string;
  readonly around?: string;
  readonly sources?: string;
  readonly tidy?: string | true;
  readonly totals?: readonly string[];
  readonly language?: string;
}

/** The words of a command line as options for composing. @throws DrawerError `usage` */
export async function composingOf(options: ComposingOptions): Promise<ComposeOptions> {
  const { join, or, order, around, sources, tidy, totals, language } = options;
  if (language !== undefined) checkLanguage(language);
  const isByValue = order === 'value';
  const needsWords = around !== undefined || sources !== undefined || totals !== undefined;
  return {
    language: language ?? usualLanguage,
    ...(language !== undefined && { readAs: language }),
    ...(needsWords && (await wordsFor(language ?? usualLanguage))),
    timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    ...(join !== undefined && { join: joinOf(join) }),
    ...(or && { last: 'or' as const }),
    ...(order !== undefined && { order: parseEnum('order', order, composeOrders) }),
    ...(isByValue && { findDate: await dateFinder(language ?? usualLanguage) }),
    ...(around !== undefined && { around: unescaped(around) }),
    ...(sources !== undefined && { attribution: parseEnum<Attribution>('way to name sources', sources, attributions) }),
    ...(tidy !== undefined && { tidy: tidyingsOf(tidy) }),
    ...(totals !== undefined && { totals: totals.flatMap(listed).map((each) => parseEnum('total', each, totalKinds)) }),
  };
}

/** What composing itself puts into a document is in the document's language. */
const wordsFor = async (language: string): Promise<Pick<ComposeOptions, 'words'>> => ({
  words: (await new Words(await catalogueFor(language)).load()).inDocuments(),
});

/** Loaded only where it is asked for. */
const dateFinder = async (language: string) => (await import('../drawer/index.ts')).loadDateFinder(language);

/** A join by its name; signs and words with a space are what is put between. @throws DrawerError `usage` for a name that is none. */
export function joinOf(words: string): ComposeJoin {
  const named = composeJoins.find((each) => each === words);
  if (named !== undefined) return named;
  if (/^\p{L}[\p{L}-]+$/u.test(words)) return parseEnum('join', words, composeJoins);
  return { text: unescaped(words) };
}

const unescaped = (words: string): string => words.replaceAll('\\n', '\n').replaceAll('\\t', '\t');

const tidyingsOf = (tidy: string | true): readonly Tidying[] =>
  tidy === true ? plainTidyings : listed(tidy).map((each) => parseEnum('tidying', each, tidyings));

const listed = (words: string): string[] => words.split(/[\s,]+/).filter((word) => word !== '');
