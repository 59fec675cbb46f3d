/** A cell of words or a number without repeats, spans, formula or marks of its own: most of what large sheets hold. */
export interface PlainCell {
  /** `undefined` where it holds words. */
  readonly number: number | undefined;
  readonly style: string | undefined;
  readonly words: string;
  /** Behind its end tag. */
  readonly end: number;
}

/** As office programs write them; one search of the engine's own takes a fraction of a look at each sign. */
const plain =
  /<table:table-cell(?: table:style-name="([^"&<]*)")? office:value-type="(?:string|float" office:value="([^"<]+))"(?: calcext:value-type="(?:string|float)")?><text:p>([^<&\t\r\n]+)<\/text:p><\/table:table-cell>/y;

/**
 * The cell that begins here, when it is written as office programs write the commonest ones (ISO/IEC 26300-1, 9.1.4);
 * `undefined` when it is any other, or not whole.
 */
export function readPlainCell(text: string, start: number): PlainCell | undefined {
  plain.lastIndex = start;
  const match = plain.exec(text);
  if (!match) return undefined;
  const [, style, value, words = ''] = match;
  const number = value === undefined ? undefined : Number(value);
  if ((number !== undefined && !Number.isFinite(number)) || words.includes('  ')) return undefined;
  return { number, style, words, end: plain.lastIndex };
}
