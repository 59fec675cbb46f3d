import { ownFlavour } from '../../clipboard/index.ts';
import { contentSchema, type Media, noMedia, parseWith, picturesIn } from '../../content/index.ts';
import type { Taken } from '../../formats/index.ts';

/** What a clipboard or a drop carries, not yet read; it is gone once the event is over. */
export interface Carried {
  readonly own: string;
  readonly markup: string;
  readonly words: string;
  readonly files: readonly File[];
}

export const carriedBy = (transfer: DataTransfer): Carried => ({
  own: transfer.getData(ownFlavour),
  markup: transfer.getData('text/html'),
  words: transfer.getData('text/plain'),
  files: [...transfer.files],
});

/** What was carried, each file by itself. @throws DrawerError for files that cannot be read. */
export async function takeCarried({
  own,
  markup,
  words,
  files,
}: Carried): Promise<readonly (Taken & { readonly file?: string })[]> {
  const content = own === '' ? undefined : parseWith(contentSchema, JSON.parse(own), 'clipboard');
  // Our own form carries no bytes of pictures: with those in it, the page's form is the fuller one.
  if (content && picturesIn(content).next().done) return [{ content, media: noMedia as Media, notes: [] }];
  const { takeMarkup, takeWords } = await import('./take.ts');
  if (markup !== '') return [await takeMarkup(markup)];
  if (files.length === 0) return words === '' ? [] : [await takeWords(words)];
  const { takeFromBlob } = await import('../files/index.ts');
  return Promise.all(
    files.map(async (file) => ({ ...(await takeFromBlob(file, file.name, { kind: 'whole' })), file: file.name })),
  );
}
