import type { Extent } from '../trace.ts';
import type { Dialect } from './dialect.ts';

/** One field, and where it stands in the text, quotes included. */
export interface Field extends Extent {
  readonly value: string;
}

/** One record, and where it stands, its line end included. */
export interface Row extends Extent {
  readonly fields: readonly Field[];
}

/**
 * Records with their places (RFC 4180, section 2), in time linear in the text. The package that reads values tells no
 * places, which taking a field out needs; the two are held against each other before anything is changed. Lenient as spreadsheets are: a quote inside a field that
 * did not begin with one is a sign like any other, and so is what follows a closing quote.
 */
export function readRows(text: string, { separator, quote, comment, skipped }: Dialect): Row[] {
  const rows: Row[] = [];
  let at = skipped;
  while (at < text.length) {
    if (comment !== '' && text.startsWith(comment, at)) {
      at = nextLine(text, at);
      continue;
    }
    const start = at;
    const fields: Field[] = [];
    for (;;) {
      const field = readField(text, at, separator, quote);
      fields.push(field);
      at = field.end;
      if (!text.startsWith(separator, at)) break;
      at += separator.length;
    }
    at = text.startsWith('\r\n', at) ? at + 2 : Math.min(at + 1, text.length);
    const [only] = fields;
    if (fields.length > 1 || (only && only.end > only.start)) rows.push({ fields, start, end: at });
  }
  return rows;
}

function nextLine(text: string, from: number): number {
  const match = /\r\n|[\n\r]/g;
  match.lastIndex = from;
  return match.exec(text) ? match.lastIndex : text.length;
}

function readField(text: string, start: number, separator: string, quote: string): Field {
  if (!text.startsWith(quote, start)) return plainField(text, start, separator);
  let value = '';
  let at = start + 1;
  for (;;) {
    const next = text.indexOf(quote, at);
    if (next < 0) return plainField(text, start, separator); // never closed: no quoted field after all
    value += text.slice(at, next);
    if (!text.startsWith(quote, next + 1)) {
      const rest = plainField(text, next + 1, separator);
      return { value: value + rest.value, start, end: rest.end };
    }
    value += quote;
    at = next + 2;
  }
}

function plainField(text: string, start: number, separator: string): Field {
  let end = start;
  while (end < text.length && text[end] !== '\n' && text[end] !== '\r' && !text.startsWith(separator, end)) end++;
  return { value: text.slice(start, end), start, end };
}
