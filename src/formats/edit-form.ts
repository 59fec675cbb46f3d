import { type Content, type Media, picturesIn } from '../content/index.ts';
import { type Format, sourceOf } from './format.ts';
import { formatNamed } from './registry.ts';

/** Content as text that people change by hand, and the way back. */
export interface EditForm {
  readonly text: string;
  /** What a changed text holds, with the bytes of its pictures: those there were, and those written out in it. */
  read(text: string): Promise<{ readonly content: Content; readonly media: Media }>;
}

/** Content as Markdown in which pictures are named `picture-1`, `picture-2` …. */
export async function editForm(content: Content, media: Media): Promise<EditForm> {
  const { write, take } = (await formatNamed('markdown').load()) as Required<Pick<Format, 'write' | 'take'>>;
  const hashes = [...new Set([...picturesIn(content)].map((picture) => picture.media))];
  const bytes = await write(content, {
    media,
    pictureAddress: (picture) => `picture-${hashes.indexOf(picture.media) + 1}`,
  });
  const beside = async (name: string): Promise<Uint8Array | undefined> =>
    media.get(hashes[Number(/^picture-(\d+)$/.exec(name)?.[1] ?? 0) - 1] ?? '');
  return {
    text: new TextDecoder().decode(bytes),
    read: (text) => take(sourceOf(new TextEncoder().encode(text), 'snippet.md'), { kind: 'whole' }, { beside }),
  };
}
