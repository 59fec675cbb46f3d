import type { NoteKind, Reason } from '../content/index.ts';
import type { command } from './en/command.ts';
import type { details } from './en/details.ts';
import { phrases } from './en/phrases.ts';

/** Words with a number in them: a form for each way of counting of their language (Unicode CLDR, plural rules). */
export type Plural = { readonly [K in Intl.LDMLPluralRule]?: string } & { readonly other: string };

/** A sentence or a part of one; `{name}` is filled in. */
export type Phrase = string | Plural;

/** A phrase of the core catalogue. */
export type PhraseName = keyof typeof phrases;
/** A phrase of the command line. */
export type CommandName = keyof typeof command;
/** What the command says besides. */
export type CommandPhrases = { readonly [K in CommandName]: Phrase };
/** A phrase that is a part of others. */
export type PartName = keyof (typeof details)['parts'];
/** What is said in the sheets of the panel. */
export type SheetPhraseName = keyof (typeof details)['sheets'];

/** An error: what is wrong, and what to do next. Of several phrases the first counts whose blanks can all be filled. */
export interface Problem {
  readonly what: Phrase | readonly Phrase[];
  readonly next?: Phrase | readonly Phrase[];
}

/** What is said seldom. */
export interface Details {
  readonly notes: { readonly [K in NoteKind]: Phrase };
  readonly problems: { readonly [K in Reason]: Problem };
  readonly sheets: { readonly [K in SheetPhraseName]: Phrase };
  /** Parts of the others. */
  readonly parts: { readonly [K in PartName]: Phrase };
}

/** Every word in one language. A missing one does not compile. */
export interface Catalogue {
  /** BCP 47. */
  readonly language: string;
  readonly direction: 'ltr' | 'rtl';
  readonly phrases: { readonly [K in PhraseName]: Phrase };
  details(): Promise<Details>;
  /** What the command says besides; where it is missing, the command speaks English. */
  command?(): Promise<CommandPhrases>;
}

/** The English catalogue, which is always loaded. */
export const english: Catalogue = {
  language: 'en-GB',
  direction: 'ltr',
  phrases,
  details: async () => (await import('./en/details.ts')).details,
};

const catalogues = new Map<string, () => Promise<Catalogue>>([
  ['en', async () => english],
  ['de', async () => (await import('./de/phrases.ts')).german],
  ['ar', async () => (await import('./ar/phrases.ts')).arabic],
]);

/** Adds a language, or replaces one, for everything that is said from now on; `language` is its primary subtag, such as `fr`. */
export const registerLocale = (language: string, load: () => Promise<Catalogue>): void =>
  void catalogues.set(language.toLowerCase(), load);

/** The languages there are, by their primary subtags. */
export const locales = (): readonly string[] => [...catalogues.keys()];

/** The words of a language, or those that are nearest: its own without the region, or English. */
export async function catalogueFor(language: string): Promise<Catalogue> {
  const [base = 'en'] = language.toLowerCase().split('-');
  return (catalogues.get(language.toLowerCase()) ?? catalogues.get(base))?.() ?? english;
}
