import Papa from 'papaparse';
import type { CsvDialect } from '../format.ts';
import type { Extent } from '../trace.ts';

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

/** A dialect with every question answered. */
export interface Dialect {
  readonly separator: string;
  readonly quote: string;
  readonly comment: string;
  /** How many UTF-16 units at the start are no data: a line that only names the separator. */
  readonly skipped: number;
}

const separators = [',', ';', '\t', '|'];

/** How the values are separated, by what is asked for and else by looking at the first lines. */
export function findDialect(text: string, asked: CsvDialect = {}): Dialect {
  const [line, named] = /^sep=(.)(?:\r\n|[\n\r])/i.exec(text) ?? [];
  const quote = asked.quote || '"';
  const comment = asked.comment ?? (hasComments(text) ? '#' : '');
  const separator = asked.separator || named || guess(text, quote, comment);
  return { separator, quote, comment, skipped: line?.length ?? 0 };
}

/** The separator that parts the first lines into the most even rows of more than one field. */
function guess(text: string, quote: string, comment: string): string {
  const start = firstLines(text);
  let best = { separator: ',', score: 0 };
  for (const separator of separators) {
    const { data } = Papa.parse<string[]>(start, {
      delimiter: separator,
      quoteChar: quote,
      comments: comment || false,
      skipEmptyLines: true,
    });
    const counts = data.map((row) => row.length);
    const usual = mostFrequent(counts);
    const even = counts.filter((count) => count === usual).length / Math.max(1, counts.length);
    const score = usual > 1 ? even * even * (1 + Math.log2(usual) / 8) : 0;
    if (score > best.score + 1e-9) best = { separator, score };
  }
  return best.separator;
}

/** Some tens of whole lines. */
function firstLines(text: string): string {
  const start = text.slice(0, 20_000);
  const end = Math.max(start.lastIndexOf('\n'), start.lastIndexOf('\r'));
  return text.length > start.length && end > 0 ? start.slice(0, end + 1) : start;
}

function mostFrequent(counts: readonly number[]): number {
  const tally = new Map<number, number>();
  for (const count of counts) tally.set(count, (tally.get(count) ?? 0) + 1);
  return [...tally].sort((one, other) => other[1] - one[1] || other[0] - one[0])[0]?.[0] ?? 0;
}

/** Lines that begin with `#` are comments when they hold none of the separators, or there are several ahead of the data. */
function hasComments(text: string): boolean {
  const lines = firstLines(text)
    .split(/\r\n|[\n\r]/)
    .filter((line) => line.trim() !== '');
  const marked = lines.filter((line) => line.startsWith('#'));
  if (marked.length === 0 || marked.length === lines.length) return false;
  return (
    marked.every((line) => !/[,;\t|]/.test(line)) ||
    lines.slice(0, marked.length).every((line) => line.startsWith('# '))
  );
}
