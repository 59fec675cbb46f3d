import Papa from 'papaparse';
import type { CsvDialect } from '../format.ts';

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
