import { pipeline, Readable } from 'node:stream';
import { createInflateRaw } from 'node:zlib';
import type { Inflate } from '../formats/index.ts';

/** Node's own inflate, two to three times as fast as one in JavaScript. */
export const nodeInflate: Inflate = async function* (packed) {
  const inflater = createInflateRaw({ chunkSize: 64 * 1024 });
  // Faults reach the reader below; a reader that stops early destroys both streams, which is no fault.
  pipeline(Readable.from(packed), inflater, () => {});
  yield* inflater;
};
