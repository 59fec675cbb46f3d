import type { Inflate } from '../../formats/index.ts';

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
