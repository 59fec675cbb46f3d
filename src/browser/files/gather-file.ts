import { locate } from '../../content/index.ts';
import { gatheredFrom, type SnippetInput } from '../../drawer/index.ts';
import { formatOf, type Inflate, type ReadTools, type Source, type Taken } from '../../formats/index.ts';
import type { Fragment } from '../../places/index.ts';

/** What a place of a chosen or dropped file holds. @throws DrawerError that names the file */
export async function takeFromBlob(
  blob: Blob,
  name: string,
  fragment: Fragment,
  tools: ReadTools = {},
): Promise<Taken> {
  try {
    const source = blobSource(blob, name);
    const { take } = await (await formatOf(source)).load();
    return (await take?.(source, fragment, { inflate: browserInflate, ...tools })) as Taken;
  } catch (error) {
    throw locate(error, name);
  }
}

/** A whole file as things to keep: snippets of a drawer by themselves, anything else as one. */
export const gatherFile = async (file: File): Promise<readonly SnippetInput[]> =>
  gatheredFrom(file.name, await takeFromBlob(file, file.name, { kind: 'whole' }));

/** A file that somebody chose or dropped, as a source; read only where it is asked. */
export const blobSource = (blob: Blob, name: string): Source => ({
  name,
  size: blob.size,
  read: async (start, end) => new Uint8Array(await blob.slice(start, end).arrayBuffer()),
});

/** The browser's own inflate (Compression Streams), two to three times as fast as one in JavaScript. */
export const browserInflate: Inflate = async function* (packed) {
  const reader = toStream(packed).pipeThrough(new DecompressionStream('deflate-raw')).getReader();
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) yield next.value;
  } finally {
    await reader.cancel().catch(() => {}); // a reader that stops early wants no more
  }
};

function toStream(chunks: AsyncIterable<Uint8Array>): ReadableStream<Uint8Array<ArrayBuffer>> {
  const iterator = chunks[Symbol.asyncIterator]();
  return new ReadableStream({
    async pull(controller) {
      const { done, value } = await iterator.next();
      if (done) controller.close();
      else controller.enqueue(value as Uint8Array<ArrayBuffer>);
    },
    cancel: async () => {
      await iterator.return?.();
    },
  });
}
