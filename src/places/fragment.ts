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
