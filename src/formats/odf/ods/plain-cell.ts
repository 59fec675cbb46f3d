/** A cell of words or a number without repeats, spans, formula or marks of its own: most of what large sheets hold. */
export interface PlainCell {
  /** `undefined` where it holds words. */
  readonly number: number | undefined;
  readonly style: string | undefined;
  readonly words: string;
  /** Behind its end tag. */
  readonly end: number;
}

const open = '<table:table-cell';
const close = '</text:p></table:table-cell>';
const paragraph = '<text:p>';
const space = 0x20;
const greater = 0x3e;

/**
 * The cell that begins here, when it is written as office programs write the commonest ones (ISO/IEC 26300-1, 9.1.4);
 * `undefined` when it is any other, or not whole.
 */
export function readPlainCell(text: string, start: number): PlainCell | undefined {
  if (!text.startsWith(open, start)) return undefined;
  let at = start + open.length;
  let type: string | undefined;
  let value: number | undefined;
  let style: string | undefined;
  while (text.charCodeAt(at) === space) {
    const equals = text.indexOf('="', at);
    const from = equals + 2;
    const to = text.indexOf('"', from);
    if (equals < 0 || to < 0) return undefined;
    switch (text.slice(at + 1, equals)) {
      case 'office:value-type':
        type = text.slice(from, to);
        break;
      case 'calcext:value-type':
        if (text.slice(from, to) !== type) return undefined;
        break;
      case 'office:value':
        value = from === to ? Number.NaN : Number(text.slice(from, to));
        break;
      case 'table:style-name':
        style = text.slice(from, to);
        break;
      default:
        return undefined;
    }
    at = to + 1;
  }
  if (text.charCodeAt(at) !== greater || !text.startsWith(paragraph, at + 1)) return undefined;
  const number = type === 'float' ? value : undefined;
  if (type === 'float' ? !Number.isFinite(number) : type !== 'string' || value !== undefined) return undefined;
  const first = at + 1 + paragraph.length;
  const last = text.indexOf('<', first);
  if (!text.startsWith(close, last)) return undefined;
  const words = text.slice(first, last);
  if (words === '' || /[&\t\r\n]| {2}/.test(words) || style?.includes('&')) return undefined;
  return { number, style, words, end: last + close.length };
}
