import { concatBytes } from '@noble/hashes/utils.js';
import { checkLength } from './element.ts';

const lessSign = 0x3c;

/**
 * The text of a part, in pieces. Each of UTF-8 ends where a tag begins, so that it is decoded by itself: a decoder that has
 * to remember what came before is several times slower.
 * @throws DrawerError `too-large` where no tag begins for longer than any program writes.
 */
export async function* textOf(chunks: AsyncIterable<Uint8Array>, part: string): AsyncGenerator<string> {
  let decoder: TextDecoder | undefined;
  let rest: Uint8Array[] = []; // put together once, since a long text comes in very many
  for await (const chunk of chunks) {
    decoder ??= new TextDecoder(encodingOf(chunk));
    if (decoder.encoding !== 'utf-8') {
      yield decoder.decode(chunk, { stream: true });
      continue;
    }
    const end = chunk.lastIndexOf(lessSign);
    if (end < 0) rest.push(chunk);
    else {
      const bytes = concatBytes(...rest, chunk.subarray(0, end));
      if (bytes.length > 0) yield decoder.decode(bytes);
      rest = [chunk.subarray(end)];
    }
    checkLength(
      rest.reduce((sum, { length }) => sum + length, 0),
      part,
    );
  }
  if (rest.length > 0) yield new TextDecoder().decode(concatBytes(...rest));
}

/** XML 1.0, section 4.3.3: UTF-16 has a byte order mark; anything else in a package is UTF-8. */
function encodingOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  return 'utf-8';
}
