import { type Content, contentSchema, type Media, parseWith, picturesIn, plainText } from '../content/index.ts';

/** Content in every form that a clipboard carries, by media type. */
export type Flavours = ReadonlyMap<string, string>;

/** Our own form: the content itself, so that nothing is brought down on the way from drawer to drawer. */
export const ownFlavour = 'application/vnd.drawer.content+json';

/**
 * What our own form holds; `undefined` where another form is the fuller one: it carries no bytes of pictures.
 * @throws DrawerError where it is none of our making
 */
export function ownContent(words: string): Content | undefined {
  const content: Content = parseWith(contentSchema, JSON.parse(words), 'clipboard');
  return picturesIn(content).next().done ? content : undefined;
}

/** The content as words, as a page, and as itself. Everything in the page is made from the content. */
export async function flavoursOf(content: Content, media: Media): Promise<Flavours> {
  const { htmlFragment } = await import('../formats/html/index.ts');
  return new Map([
    ['text/plain', plainText(content)],
    ['text/html', htmlFragment(content, media)],
    [ownFlavour, JSON.stringify(content)],
  ]);
}
