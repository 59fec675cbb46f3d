import { type Content, type Media, picturesIn } from '../content/index.ts';
import type { StoredRows } from './storage.ts';

/** The bytes of every picture in the content that the drawer has. */
export async function mediaOf(rows: StoredRows, content: Content): Promise<Media> {
  const media = new Map<string, Uint8Array>();
  for (const { media: hash } of picturesIn(content)) {
    const bytes = media.has(hash) ? undefined : await rows.findMedia(hash);
    if (bytes) media.set(hash, bytes);
  }
  return media;
}
