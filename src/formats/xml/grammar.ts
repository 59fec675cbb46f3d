import { type Grammar, locateInMarkup } from '../removal.ts';
import { decodeReferences } from './references.ts';

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
