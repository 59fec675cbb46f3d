import { DrawerError } from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
import { cleanedRead } from '../checked-change.ts';
import { type Excerpt, type Format, type Outline, pointsOf, readAll, type Source } from '../format.ts';
import { findPictureFacts, mediaHash } from '../pictures.ts';

/** Image files: PNG, JPEG, GIF, WebP, SVG. */
export const picture = {
  name: 'picture',
  outline: outlinePicture,
  read: cleanedRead(readPictureFile),
} satisfies Format;

async function readPictureFile(source: Source, fragment: Fragment): Promise<Excerpt> {
  const isIt = fragment.kind === 'whole' || (fragment.kind === 'picture' && fragment.from === 1 && fragment.to === 1);
  if (!isIt)
    throw new DrawerError(
      fragment.kind === 'picture' ? 'not-found/picture-unknown' : 'unsupported/place-kind-not-here',
      {
        place: printFragment(fragment),
        example: 'picture=1',
      },
    );
  const { bytes, facts } = await readPicture(source);
  const media = mediaHash(bytes);
  return { content: { shape: 'picture', picture: { media, ...facts } }, media: new Map([[media, bytes]]), notes: [] };
}

async function outlinePicture(source: Source): Promise<Outline> {
  const { facts } = await readPicture(source);
  const entry = { place: 'picture=1', kind: 'picture', depth: 0, label: source.name, ...pointsOf(facts) } as const;
  return { entries: [entry], notes: [] };
}

async function readPicture(source: Source) {
  const bytes = await readAll(source);
  const facts = findPictureFacts(bytes);
  if (facts) return { bytes, facts };
  throw new DrawerError('unreadable/picture-damaged');
}
