import { type Grammar, locateInMarkup } from '../removal.ts';
import { decodeReferences } from './element.ts';
import type { Attributes } from './read-xml.ts';
import type { SourceTree } from './source-tree.ts';

/** Elements that come in pairs, start and end, and by which attribute they belong together. */
export interface RangeMarkers {
  readonly start: string;
  readonly end: string;
  readonly key: string;
}

/**
 * The starts and ends in a fragment whose other half is not in it, as they are written.
 * @param dropped - the key of a pair that is not to be kept
 */
export function unpairedMarkers(tree: SourceTree, pairs: readonly RangeMarkers[], dropped?: RangeMarkers): string {
  return pairs
    .flatMap(({ start, end, key }) => {
      const [starts, ends] = [tree.all(start), tree.all(end)];
      const isAlone =
        (others: typeof starts) =>
        ({ attributes }: (typeof starts)[number]): boolean =>
          !others.some((other) => other.attributes[key] === attributes[key]);
      return [...starts.filter(isAlone(ends)), ...ends.filter(isAlone(starts))];
    })
    .filter(({ name, attributes }) => !dropped || !isDropped(dropped, name, attributes))
    .sort((one, other) => one.start - other.start)
    .map((element) => tree.source(element))
    .join('');
}

/** Of a dropped pair, `key` is the value by which its two halves belong together. */
const isDropped = ({ start, end, key }: RangeMarkers, name: string, attributes: Attributes): boolean =>
  (name === start || name === end) && Object.values(attributes).includes(key);

/** What all XML formats do alike. */
export const xmlGrammar = {
  mustStay: () => false,
  locate: (source, piece, from, to) => locateInMarkup(source, piece, from, to, decodeReferences),
  keepSpaces: () => [],
  reach: (_, extent) => extent,
} satisfies Partial<Grammar>;
