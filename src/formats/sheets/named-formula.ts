import { columnLetters, printFragment } from '../../places/index.ts';
import type { FullArea } from './area.ts';
import type { NamedPlace } from './places.ts';

/** A table that formulas name (ISO/IEC 29500-1, 18.5.1.2). */
export interface NamedTable {
  readonly name: string;
  readonly sheet: string;
  readonly area: FullArea;
  readonly headerRows: number;
  readonly totalsRows: number;
  readonly columns: readonly string[];
}

/** Where a formula stands. */
interface At {
  readonly sheet: string;
  readonly row: number;
  readonly column: number;
}

/** What a name stands for when that is one range, such as `Timber!$C$2:$C$5`. */
const oneRange = /^(?:'(?:[^']|'')+'|[A-Za-z_][\w.]*)!\$?[A-Z]{1,3}\$?\d{1,7}(?::\$?[A-Z]{1,3}\$?\d{1,7})?$/;

const relativeAddress = /(?<![\w$])(?:[A-Z]{1,3}\$?\d|\$[A-Z]{1,3}\d)/;

/**
 * A formula with the ranges in it that its names and its tables' columns (ISO/IEC 29500-1, 18.17.6.1) stand for, so that what it
 * leans on can be told; what is no name of one range stays as it is.
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
      // A name may stand for another formula; one with relative addresses reads otherwise in each cell.
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
