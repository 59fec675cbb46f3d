import { basename, dirname, extname, join } from 'node:path';
import { type Content, type Media, type Picture, picturesIn } from '../content/index.ts';
import type { FileWrite } from '../drawer/index.ts';
import { extensionOf, isStill } from '../formats/index.ts';
import { exists } from './files.ts';

/** What the folder of a text's pictures ends with. */
const folderEnding = '-pictures';

/** The folder beside a text in which its pictures stand. */
export const picturesFolder = (path: string): string => `${basename(path, extname(path))}${folderEnding}`;

/** Whether a file is one of those pictures: it stands in such a folder, and has its name from its bytes. */
export const isBesidePicture = (path: string): boolean =>
  dirname(path).endsWith(folderEnding) && /^[0-9a-f]{16}\.\w+$/.test(basename(path));

/**
 * Where a text that holds no pictures itself points to: a file in its folder of pictures, named by its bytes; `undefined` for
 * one that might run a script as a file of its own, which the text has to hold.
 */
export const addressBeside =
  (path: string, media: Media) =>
  ({ media: hash, mediaType }: Picture): string | undefined => {
    const bytes = media.get(hash);
    if (bytes && mediaType === 'image/svg+xml' && !isStill(bytes)) return undefined;
    return `${picturesFolder(path)}/${hash.slice(0, 16)}.${extensionOf(mediaType)}`;
  };

/** The pictures that a text points to and that are not there yet, as files to be written before it. */
export async function picturesBeside(path: string, content: Content, media: Media): Promise<FileWrite[]> {
  const writes = new Map<string, FileWrite>();
  for (const picture of picturesIn(content)) {
    const address = addressBeside(path, media)(picture);
    const after = media.get(picture.media);
    if (address === undefined || !after) continue;
    const target = join(dirname(path), address);
    if (!(await exists(target))) writes.set(target, { path: target, after }); // named by its bytes: the same
  }
  return [...writes.values()];
}
