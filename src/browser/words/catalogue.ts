import { english } from './english.ts';

/** Words with a number in them: a form for each way of counting. */
export type Plural = { readonly [K in Intl.LDMLPluralRule]?: string } & { readonly other: string };
export type PhraseName = keyof typeof english.phrases;

/** Every word of the panel in one language. */
export interface Catalogue {
  /** BCP 47. */
  readonly language: string;
  readonly direction: 'ltr' | 'rtl';
  readonly phrases: { readonly [K in PhraseName]: string | Plural };
}

/** The languages there are, each loaded when it is asked for. */
export const catalogues: { readonly [language: string]: () => Promise<Catalogue> } = {
  en: async () => english,
  de: async () => (await import('./german.ts')).german,
  ar: async () => (await import('./arabic.ts')).arabic,
};

/** The words of a language, or those that are nearest: its own without the region, or English. */
export async function catalogueFor(language: string): Promise<Catalogue> {
  const [base = 'en'] = language.toLowerCase().split('-');
  const load = Object.hasOwn(catalogues, base) ? catalogues[base] : undefined;
  return load ? load() : english;
}
