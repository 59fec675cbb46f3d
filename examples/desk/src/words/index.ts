import { catalogueFor, type Phrase, Words } from 'drawer/browser';
import { ar } from './ar.ts';
import { de } from './de.ts';
import { en } from './en.ts';

export type DeskPhrase = keyof typeof en;
export type DeskPhrases = Readonly<Record<DeskPhrase, Phrase>>;

const languages: Readonly<Record<string, DeskPhrases>> = { en, de, ar };

/** The language that the desk speaks: the first of the person's that it knows. */
const language = (): string =>
  navigator.languages.map((tag) => tag.split('-')[0] ?? '').find((tag) => Object.hasOwn(languages, tag)) ?? 'en';

/** What the desk says, with values filled in as the panel does it. */
export type Say = (
  phrase: DeskPhrase,
  values?: { readonly [name: string]: string | number | readonly string[] },
) => string;

/** Has the page speak the person's language; gives what the desk says in it. */
export async function speak(): Promise<Say> {
  const spoken = language();
  const tag = navigator.languages.find((each) => each.split('-')[0] === spoken) ?? 'en-GB';
  document.documentElement.lang = tag;
  document.documentElement.dir = spoken === 'ar' ? 'rtl' : 'ltr';
  const words = new Words(await catalogueFor(tag));
  const phrases = languages[spoken] ?? en;
  const say: Say = (phrase, values) => words.fill(phrases[phrase], values);
  for (const element of document.querySelectorAll<HTMLElement>('[data-say]'))
    element.textContent = say(element.dataset.say as DeskPhrase);
  for (const element of document.querySelectorAll<HTMLElement>('[data-name]'))
    element.setAttribute('aria-label', say(element.dataset.name as DeskPhrase));
  document.title = say('title');
  return say;
}
