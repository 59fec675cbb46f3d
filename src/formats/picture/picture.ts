import { DrawerError } from '../../content/index.ts';
import type { Fragment } from '../../places/index.ts';
import { cleanTake } from '../clean-take.ts';
import { type Format, type Outline, readAll, type Source, type Taken } from '../format.ts';
import { findPictureFacts, mediaHash } from '../pictures.ts';

/** Image files: PNG, JPEG, GIF, WebP, SVG. */
export const picture = { name: 'picture', outline: outlinePicture, take: cleanTake(takePicture) } satisfies Format;

async function takePicture(source: Source, fragment: Fragment): Promise<Taken> {
  const isIt = fragment.kind === 'whole' || (fragment.kind === 'picture' && fragment.from === 1 && fragment.to === 1);
  if (!isIt)
    throw new DrawerError({
      code: fragment.kind === 'picture' ? 'not-found' : 'unsupported',
      what: 'A picture has no places inside it',
      next: 'Name the file alone',
    });
  const { bytes, facts } = await readPicture(source);
  const media = mediaHash(bytes);
  return { content: { shape: 'picture', picture: { media, ...facts } }, media: new Map([[media, bytes]]), notes: [] };
}

async function outlinePicture(source: Source): Promise<Outline> {
  const { width, height } = (await readPicture(source)).facts;
  const size = `${Math.round(width)} × ${Math.round(height)} pt`;
  return { entries: [{ place: 'picture=1', kind: 'picture', depth: 0, label: source.name, size }], notes: [] };
}

async function readPicture(source: Source) {
  const bytes = await readAll(source);
  const facts = findPictureFacts(bytes);
  if (facts) return { bytes, facts };
  throw new DrawerError({
    code: 'unreadable',
    what: 'The picture is damaged, or larger than any picture is',
    next: 'Open it in its program and save it again',
  });
}
