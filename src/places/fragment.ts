/** Which part of a file: what stands behind the `#` of a place. Positions that people see count from 1. */
export type Fragment =
  | WholeFragment
  | NamedFragment
  | NumberedFragment
  | CellsFragment
  | NameFragment
  | QuoteFragment
  | TextPositionFragment
  | CsvFragment
  | SnippetsFragment;

/** All of it: a place with no `#`. */
export interface WholeFragment {
  readonly kind: 'whole';
}

/** `section=Hull condition` or `bookmark=quote1`; `nth` picks one of several with that name. */
export interface NamedFragment {
  readonly kind: 'section' | 'bookmark';
  readonly name: string;
  readonly nth?: number;
}

/** `paragraph=4-6`, `table=2`: the first and last of them, both included. */
export interface NumberedFragment {
  readonly kind: 'paragraph' | 'table' | 'list' | 'picture';
  readonly from: number;
  readonly to: number;
  /** Of one table: some of its cells. */
  readonly cells?: TableCells;
}

/**
 * Cells of a table in running text, counted from its first row, which is a heading in most: `table=2!B2:D9`, whole columns
 * `table=2!B:B`, whole rows `table=2!row=5-7`, or the column below a heading `table=2!Price`.
 */
export type TableCells = Pick<CellsFragment, 'columns' | 'rows'> | { readonly heading: string };

/**
 * A1 notation: `Timber!B2:D9`, `B2`, whole columns `Timber!B:C`, whole rows `3:5`; no sheet means the first. Columns and
 * rows count from 1; an absent pair means all of them.
 */
export interface CellsFragment {
  readonly kind: 'cells';
  readonly sheet?: string;
  readonly columns?: Span;
  readonly rows?: Span;
}

/** A range of numbers, both ends included. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** A bare word: a sheet, a defined name or a table of a workbook. */
export interface NameFragment {
  readonly kind: 'name';
  readonly name: string;
}

/** Words quoted by a text fragment: `:~:text=prefix-,start,end,-suffix` (WICG Scroll To Text Fragment, section 3.3). */
export interface QuoteFragment {
  readonly kind: 'quote';
  readonly start: string;
  readonly end?: string;
  readonly prefix?: string;
  readonly suffix?: string;
}

/**
 * RFC 5147, section 2.2: positions between lines or characters, from 0; an absent one means the file's own start or end.
 * A single position (`from` equal to `to`) holds nothing; the checks are section 2.3's.
 */
export interface TextPositionFragment {
  readonly kind: 'line' | 'char';
  readonly from?: number;
  readonly to?: number;
  readonly length?: number;
  readonly md5?: string;
}

/** RFC 7111, section 2: rows, columns or cells of a CSV file, from 1; `'*'` is the last. */
export interface CsvFragment {
  readonly kind: 'row' | 'col' | 'cell';
  readonly selections: readonly CsvSelection[];
}
/** A row or column of separated values (RFC 7111); `*` is the last. */
export type CsvPosition = number | '*';
/** From and to, both included. Rows and columns have one coordinate, cells a row and a column. */
export interface CsvSelection {
  readonly from: readonly CsvPosition[];
  readonly to: readonly CsvPosition[];
}

/** Snippets of another drawer or of our JSON, by number: `3-5,8`. */
export interface SnippetsFragment {
  readonly kind: 'snippets';
  readonly ranges: readonly Span[];
}

export const whole: WholeFragment = { kind: 'whole' };

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
