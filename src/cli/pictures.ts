import { mkdir } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { type Content, type Media, type Picture, picturesIn, plural } from '../content/index.ts';
import { extensionOf } from '../formats/index.ts';
import { exists, writeNewFile } from '../node/index.ts';
import type { Context } from './context.ts';

/** Where a Markdown file keeps its pictures: in a folder beside it, named by their bytes. */
export function addressBeside(path: string): (picture: Picture) => string {
  const folder = `${basename(path, extname(path))}-pictures`;
  return (picture) => `${folder}/${picture.media.slice(0, 16)}.${extensionOf(picture.mediaType)}`;
}

/** Writes the pictures that a text points to; before the text, so that it never points to nothing. */
export async function writePicturesBeside(
  path: string,
  content: Content,
  media: Media,
  { remark }: Context,
): Promise<void> {
  const address = addressBeside(path);
  let written = 0;
  for (const picture of picturesIn(content)) {
    const bytes = media.get(picture.media);
    const target = join(dirname(path), address(picture));
    if (!bytes) continue;
    written++;
    if (await exists(target)) continue; // named by its bytes: what is there is the same
    await mkdir(dirname(target), { recursive: true });
    await writeNewFile(target, bytes);
  }
  const folder = join(dirname(path), `${basename(path, extname(path))}-pictures`);
  if (written > 0) remark(`Its ${plural(written, 'picture')} ${written === 1 ? 'is' : 'are'} in ${folder}`);
}
