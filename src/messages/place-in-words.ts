/** The phrase for one or some of a kind: `table 2`, `lines 3–5`; `undefined` for a kind that has none. */
type PhraseOf = (kind: string, range: string, count: number) => string | undefined;

/**
 * A place of a file, as `#` takes it, as people call it. What is no place of a kind that has a phrase is shown as it is:
 * addresses of cells, and the words of a heading.
 */
export function placeInWords(place: string, phraseOf: PhraseOf): string {
  if (place.startsWith(quotePrefix)) return `“${quotedIn(place).join(' … ')}”`;
  const [, kind = '', value = ''] = /^([a-z]+)=(.+)$/s.exec(place) ?? [];
  if (kind === 'section') return decoded(value.replace(/;\d+$/, ''));
  if (kind === 'bookmark') return phraseOf(kind, decoded(value), 1) ?? place;
  const [numbers = '', cells] = value.split(/!(.*)/s);
  const range = kind === 'line' || kind === 'char' ? betweenPositions(numbers) : numbers;
  const words = phraseOf(kind, range.replaceAll('-', '–').replaceAll(';', ', '), /^\d+$/.test(range) ? 1 : 2);
  if (words === undefined || cells === undefined) return words ?? place;
  return cells.startsWith('row=') ? `${words}, ${placeInWords(cells, phraseOf)}` : `${words}!${decoded(cells)}`;
}

/** The prefix of a text fragment, before the words that it quotes. */
const quotePrefix = ':~:text=';

/** The first and last words that a text fragment quotes, without those around them. */
const quotedIn = (place: string): readonly string[] =>
  place
    .slice(quotePrefix.length)
    .split(',')
    .filter((part) => !part.startsWith('-') && !part.endsWith('-'))
    .map(decoded);

/** `3,5`, which are positions between lines, as the lines from 4 to 5. */
function betweenPositions(positions: string): string {
  const [from = '', to = ''] = positions.split(/[,;]/);
  return Number(from) + 1 === Number(to) ? to : `${Number(from) + 1}-${to}`;
}

/** A name without the signs that stand for others (RFC 3986, section 2.1). */
function decoded(name: string): string {
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}
