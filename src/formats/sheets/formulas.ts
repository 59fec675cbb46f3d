import {
  type CellAddress,
  columnLetters,
  columnNumber,
  maxColumns,
  maxRows,
  printFragment,
} from '../../places/index.ts';
import { type FullArea, overlaps } from './area.ts';
import type { NamedPlace } from './places.ts';

/** Matches strings, quoted sheet names, other workbooks, addresses, whole columns and whole rows. */
const parts =
  /"(?:[^"]|"")*"|'(?:[^']|'')*'|\[[^\]]*\]|(?<![\w.$])(?:(\$?)([A-Z]{1,3})(\$?)(\d{1,7})(?![\w.(!])|(\$?)([A-Z]{1,3}):(\$?)([A-Z]{1,3})(?![\w.(!])|(\$?)(\d{1,7}):(\$?)(\d{1,7})(?![\w.(!]))/g;

/** A shared formula (ISO/IEC 29500-1, 18.3.1.40) as another of its cells has it, with relative addresses moved. */
export function movedFormula(formula: string, from: CellAddress, to: CellAddress): string {
  const [down, across] = [to.row - from.row, to.column - from.column];
  const column = (fixed: string, letters: string): string =>
    fixed ? `$${letters}` : lettersAt(columnNumber(letters) + across);
  const row = (fixed: string, digits: string): string => (fixed ? `$${digits}` : rowAt(Number(digits) + down));
  return formula.replace(parts, (whole, ...groups: (string | undefined)[]) => {
    const [c1, col, r1, num, ca, colA, cb, colB, ra, rowA, rb, rowB] = groups.map((group) => group ?? '') as string[];
    if (col && num) return broken(column(c1 ?? '', col), row(r1 ?? '', num));
    if (colA && colB) return `${column(ca ?? '', colA)}:${column(cb ?? '', colB)}`;
    if (rowA && rowB) return `${row(ra ?? '', rowA)}:${row(rb ?? '', rowB)}`;
    return whole;
  });
}

const outside = '#REF!';
const lettersAt = (column: number): string => (column < 1 || column > maxColumns ? outside : columnLetters(column));
const rowAt = (row: number): string => (row < 1 || row > maxRows ? outside : String(row));
const broken = (column: string, row: string): string =>
  column === outside || row === outside ? outside : `${column}${row}`;

interface CellsArea {
  readonly rows: { readonly from: number; readonly to: number };
  readonly columns: { readonly from: number; readonly to: number };
}

/** Cells that a formula refers to; on its own sheet if none is named. */
export interface Reference extends CellsArea {
  readonly sheet?: string;
}

/** The cells, columns, rows and ranges that a formula refers to. */
export function referencesIn(formula: string): Reference[] {
  const reference =
    /("(?:[^"]|"")*")|(?:('(?:[^']|'')+'|[A-Za-z_][\w.]*)!)?\$?([A-Z]{1,3})?\$?(\d{1,7})?(?::\$?([A-Z]{1,3})?\$?(\d{1,7})?)?(?![\w(])/g;
  const found: Reference[] = [];
  for (const [whole, words, quoted, col1, row1, col2 = col1, row2 = row1] of formula.matchAll(reference)) {
    if (whole === '' || words !== undefined || (col1 === undefined && row1 === undefined)) continue;
    if (col1 === undefined && !whole.includes(':')) continue;
    if (row1 === undefined && !whole.includes(':')) continue;
    found.push({
      ...(quoted !== undefined && { sheet: quoted.replace(/^'|'$/g, '').replaceAll("''", "'") }),
      columns: span(col1 && columnNumber(col1), col2 && columnNumber(col2), maxColumns),
      rows: span(row1 && Number(row1), row2 && Number(row2), maxRows),
    });
  }
  return found;
}

/** Whether a reference includes a cell of an area, on the formula's own sheet or a named one. */
export const meansCells = (
  { sheet: named, rows, columns }: Reference,
  isOwnSheet: boolean,
  sheet: string,
  area: CellsArea,
): boolean =>
  (named === undefined ? isOwnSheet : named.toLowerCase() === sheet.toLowerCase()) &&
  overlaps(columns, area.columns) &&
  overlaps(rows, area.rows);

/** Whether a formula refers to a cell of an area, on its own sheet or a named one. */
export const namesCells = (formula: string, isOwnSheet: boolean, sheet: string, area: CellsArea): boolean =>
  referencesIn(formula).some((reference) => meansCells(reference, isOwnSheet, sheet, area));

const span = (one: number | '' | undefined, other: number | '' | undefined, last: number) => ({
  from: Math.min(one || 1, other || last),
  to: Math.max(one || 1, other || last),
});

/**
 * Characters at which a spreadsheet starts a formula when it opens a CSV file: in ASCII, in full width, and white space that some
 * programs remove (OWASP, CSV Injection).
 */
const formulaSigns = ['=', '+', '-', '@', '\t', '\r', '\n', '＝', '＋', '－', '＠'] as const;

/** Separators of values in any program, whichever this file uses. */
const separators = [',', ';', '\t', '|'] as const;

const oneOf = (signs: readonly string[]): string =>
  `[${signs.map((sign) => `\\u{${sign.codePointAt(0)?.toString(16)}}`).join('')}]`;
const begins = new RegExp(`^\\s*${oneOf(formulaSigns)}`, 'u');
const beginsBehindSeparator = new RegExp(`${oneOf(separators)}\\s*["']?${oneOf(formulaSigns)}`, 'u');

/** Whether a spreadsheet would read a text as a formula; a signed number is not one. */
export const looksLikeFormula = (words: string): boolean =>
  begins.test(words) && !/^\s*[+-]?[\d.,\s]*\d(?:[eE][+-]?\d+)?\s*%?$/.test(words);

/** Whether a program with another separator would find a formula inside an unquoted text. */
export const hidesFormula = (words: string): boolean => beginsBehindSeparator.test(words);

/** Error values of cells (ISO/IEC 29500-1, 18.17.3). */
const errorValues: readonly string[] = [
  '#DIV/0!',
  '#GETTING_DATA',
  '#N/A',
  '#NAME?',
  '#NULL!',
  '#NUM!',
  '#REF!',
  '#VALUE!',
];

/** Whether a text is an error value of the standard; files may call other texts errors. */
export const isErrorValue = (words: string): boolean => errorValues.includes(words);

/** A table that formulas can refer to (ISO/IEC 29500-1, 18.5.1.2). */
export interface NamedTable {
  readonly name: string;
  readonly sheet: string;
  readonly area: FullArea;
  readonly headerRows: number;
  readonly totalsRows: number;
  readonly columns: readonly string[];
}

/** The position of a formula. */
interface At {
  readonly sheet: string;
  readonly row: number;
  readonly column: number;
}

/** A defined name that is a single range, such as `Timber!$C$2:$C$5`. */
const oneRange = /^(?:'(?:[^']|'')+'|[A-Za-z_][\w.]*)!\$?[A-Z]{1,3}\$?\d{1,7}(?::\$?[A-Z]{1,3}\$?\d{1,7})?$/;

const relativeAddress = /(?<![\w$])(?:[A-Z]{1,3}\$?\d|\$[A-Z]{1,3}\d)/;

/**
 * Replaces defined names and table columns (ISO/IEC 29500-1, 18.17.6.1) in a formula by their ranges, to find the cells that it
 * depends on. Names of anything but a single range stay.
 */
export function withRanges(
  formula: string,
  at: At,
  names: readonly NamedPlace[],
  tables: readonly NamedTable[],
  depth = 0,
): string {
  if (names.length === 0 && tables.length === 0) return formula;
  const structured =
    /"(?:[^"]|"")*"|'(?:[^']|'')*'|([A-Za-z_\\][\w.]*)?(\[(?:[^[\]]|\[[^[\]]*\])*\])|(?<![\w.$!'])([A-Za-z_\\][\w.]*)(?![\w.(!'[])/g;
  return formula.replace(
    structured,
    (whole, table: string | undefined, part: string | undefined, name: string | undefined) => {
      if (part !== undefined) return tableRange(table, part, at, tables) ?? whole;
      if (name === undefined) return whole;
      const known = names.find((each) => each.name.toLowerCase() === name.toLowerCase());
      if (known && oneRange.test(known.formula)) return known.formula;
      // A name may be another formula; with relative addresses, that differs from cell to cell.
      if (known && depth < 4 && !relativeAddress.test(known.formula))
        return `(${withRanges(known.formula, at, names, tables, depth + 1)})`;
      const named = tables.find((each) => each.name.toLowerCase() === name.toLowerCase());
      return named ? rangeOf(named, dataRows(named), named.area.columns) : whole;
    },
  );
}

const dataRows = ({ area: { rows }, headerRows, totalsRows }: NamedTable): FullArea['rows'] => ({
  from: rows.from + headerRows,
  to: rows.to - totalsRows,
});

const rangeOf = ({ sheet }: NamedTable, rows: FullArea['rows'], columns: FullArea['columns']): string =>
  `${printFragment({ kind: 'cells', sheet })}${columnLetters(columns.from)}${rows.from}:${columnLetters(columns.to)}${rows.to}`;

/** `Table[Price]`, `Table[[Price]:[Sum]]`, `Table[[#This Row],[Price]]`, `Table[@Price]`, and within the table `[@Price]` or `[Price]`. */
function tableRange(name: string | undefined, part: string, at: At, tables: readonly NamedTable[]): string | undefined {
  const isAround = ({ sheet, area }: NamedTable): boolean =>
    sheet === at.sheet &&
    area.rows.from <= at.row &&
    at.row <= area.rows.to &&
    area.columns.from <= at.column &&
    at.column <= area.columns.to;
  const table =
    name === undefined ? tables.find(isAround) : tables.find((each) => each.name.toLowerCase() === name.toLowerCase());
  const [, isOwnRow = '', first = '', last = first] =
    /^\[(?:(@|\[#This Row\],)\s*)?\[?([^[\]#@,:'"]+)(?:\]:\[([^[\]#@,:'"]+))?\]?\]$/i.exec(part) ?? [];
  const indexOf = (column: string): number =>
    table?.columns.findIndex((each) => each.toLowerCase() === column.trim().toLowerCase()) ?? -1;
  const [from, to] = [indexOf(first), indexOf(last)];
  if (!table || from < 0 || to < from) return undefined;
  const columns = { from: table.area.columns.from + from, to: table.area.columns.from + to };
  const rows = isOwnRow === '' ? dataRows(table) : { from: at.row, to: at.row };
  const range = rangeOf(table, rows, columns);
  return isOwnRow !== '' && from === to ? range.replace(/:[A-Z]+\d+$/, '') : range;
}
