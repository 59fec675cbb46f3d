import { type Content, type Media, plainText } from '../content/index.ts';

/** Content in every form that a clipboard carries, by media type. */
export type Flavours = ReadonlyMap<string, string>;

/** Our own form: the content itself, so that nothing is brought down on the way from drawer to drawer. */
export const ownFlavour = 'application/vnd.drawer.content+json';

/** The content as words, as a page, and as itself. Everything in the page is made from the content. */
export async function flavoursOf(content: Content, media: Media): Promise<Flavours> {
  const { htmlFragment } = await import('../formats/html/index.ts');
  return new Map([
    ['text/plain', plainText(content)],
    ['text/html', htmlFragment(content, media)],
    [ownFlavour, JSON.stringify(content)],
  ]);
}
