import type { CellsFragment, Span } from './fragment.ts';

/** The largest sheet that ISO/IEC 29500 knows. */
export const maxRows = 1_048_576;
export const maxColumns = 16_384;

/** The letters of a column: 1 is `A`, 27 is `AA`. */
export function columnLetters(column: number): string {
  let letters = '';
  for (let left = column; left > 0; left = Math.floor((left - 1) / 26)) {
    letters = String.fromCharCode(65 + ((left - 1) % 26)) + letters;
  }
  return letters;
}

/** The number of a column's letters: `A` is 1. */
export function columnNumber(letters: string): number {
  let column = 0;
  for (const letter of letters.toUpperCase()) column = column * 26 + letter.charCodeAt(0) - 64;
  return column;
}

export interface CellAddress {
  readonly column: number;
  readonly row: number;
}

/** `B2` as numbers, or `undefined` when it is no cell's address. */
export function findAddress(address: string): CellAddress | undefined {
  const match = /^\$?([A-Za-z]{1,3})\$?([1-9]\d{0,6})$/.exec(address);
  if (!match?.[1] || !match[2]) return undefined;
  const found = { column: columnNumber(match[1]), row: Number(match[2]) };
  return found.column <= maxColumns && found.row <= maxRows ? found : undefined;
}

/** The columns and rows of `B2:D9`, `B2`, `B:C` or `3:5`, whichever way round they are put; `undefined` for anything else. */
export function findRange(range: string): Pick<CellsFragment, 'columns' | 'rows'> | undefined {
  const [first = '', second = first, ...more] = range.split(':');
  if (more.length > 0) return undefined;
  const start = findAddress(first);
  const end = findAddress(second);
  if (start && end) return { columns: ordered(start.column, end.column), rows: ordered(start.row, end.row) };
  if (!range.includes(':')) return undefined;
  const letters = /^\$?([A-Za-z]{1,3})$/;
  const [, left] = letters.exec(first) ?? [];
  const [, right] = letters.exec(second) ?? [];
  if (left && right) return within('columns', ordered(columnNumber(left), columnNumber(right)), maxColumns);
  const digits = /^\$?([1-9]\d{0,6})$/;
  const [, top] = digits.exec(first) ?? [];
  const [, bottom] = digits.exec(second) ?? [];
  return top && bottom ? within('rows', ordered(Number(top), Number(bottom)), maxRows) : undefined;
}

const ordered = (one: number, other: number): Span => ({ from: Math.min(one, other), to: Math.max(one, other) });

const within = (key: 'columns' | 'rows', span: Span, most: number) => (span.to <= most ? { [key]: span } : undefined);

/** A range in A1 notation: `B2:D9`, `B2`, `B:C` or `3:5`. */
export function printRange({ columns, rows }: Pick<CellsFragment, 'columns' | 'rows'>): string {
  const corner = (column: number | undefined, row: number | undefined): string =>
    `${column === undefined ? '' : columnLetters(column)}${row ?? ''}`;
  const start = corner(columns?.from, rows?.from);
  const end = corner(columns?.to, rows?.to);
  return start === end && columns && rows ? start : `${start}:${end}`;
}

/** A sheet's name as a formula would write it: in quotes unless it is plain letters, digits, `_` and `.`. */
export const printSheet = (sheet: string): string =>
  /^[\p{L}_][\p{L}\p{N}_.]*$/u.test(sheet) && !findRange(sheet) ? sheet : `'${sheet.replaceAll("'", "''")}'`;
