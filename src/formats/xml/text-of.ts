import { concat } from '../bytes.ts';
import { type Grammar, locateInMarkup } from '../removal.ts';
import { checkLength, decodeReferences } from './element.ts';

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
      const bytes = concat([...rest, chunk.subarray(0, end)]);
      if (bytes.length > 0) yield decoder.decode(bytes);
      rest = [chunk.subarray(end)];
    }
    checkLength(
      rest.reduce((sum, { length }) => sum + length, 0),
      part,
    );
  }
  if (rest.length > 0) yield new TextDecoder().decode(concat(rest));
}

/** XML 1.0, section 4.3.3: UTF-16 has a byte order mark; anything else in a package is UTF-8. */
function encodingOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  return 'utf-8';
}

/** Elements that come in pairs, start and end, and by which attribute they belong together. */
export interface RangeMarkers {
  readonly start: string;
  readonly end: string;
  readonly key: string;
}

/** The starts and ends in the source whose other half is not in it. */
export function unpairedMarkers(source: string, pairs: readonly RangeMarkers[]): string {
  return pairs
    .flatMap(({ start, end, key }) => {
      const starts = markersOf(source, start, key);
      const ends = markersOf(source, end, key);
      const isAlone = (others: readonly Marker[]) => (marker: Marker) =>
        !others.some((other) => other.key === marker.key);
      return [...starts.filter(isAlone(ends)), ...ends.filter(isAlone(starts))];
    })
    .sort((one, other) => one.at - other.at)
    .map(({ element }) => element)
    .join('');
}

interface Marker {
  readonly element: string;
  readonly key: string | undefined;
  readonly at: number;
}

/** Empty elements of a local name, whatever their prefix; one that is not written as empty is closed. */
function markersOf(source: string, name: string, key: string): Marker[] {
  if (!source.includes(name)) return [];
  const found: Marker[] = [];
  for (const match of source.matchAll(new RegExp(`<((?:[\\w.-]{1,64}:)?${name})(\\s[^<>]*)?>`, 'g'))) {
    const [whole, qualified = '', attributes = ''] = match;
    const [, double, single] = new RegExp(`\\b${key}\\s*=\\s*(?:"([^"]*)"|'([^']*)')`).exec(attributes) ?? [];
    const element = whole.endsWith('/>') ? whole : `${whole}</${qualified}>`;
    found.push({ element, key: double ?? single, at: match.index });
  }
  return found;
}

/** What all XML formats do alike. */
export const xmlGrammar = {
  mustStay: () => false,
  locate: (source, piece, from, to) => locateInMarkup(source, piece, from, to, decodeReferences),
  keepSpaces: () => [],
  reach: (_, extent) => extent,
} satisfies Partial<Grammar>;
