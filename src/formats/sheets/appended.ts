import { firstOf, type Message, type Note } from '../../content/index.ts';
import { columnNumber, type Span } from '../../places/index.ts';
import { type FullArea, overlaps } from './area.ts';
import { movedFormula, namesCells } from './formulas.ts';
import type { Grid } from './layout.ts';

/** Rows that were put right below others, in cells that were empty. */
export interface AppendedRows {
  readonly sheet: string;
  /** The row above them. */
  readonly above: number;
  /** The last of them. */
  readonly to: number;
  readonly columns: Span;
}

/** The rows of a grid as appended ones; `undefined` where cells give way to them, none is above, or they end in totals. */
export const appendedRows = (
  grid: Grid,
  sheet: string,
  { rows, columns }: FullArea,
  taken: readonly unknown[],
): AppendedRows | undefined =>
  rows.from > 1 && taken.length === 0 && !endsInTotals(grid)
    ? { sheet, above: rows.from - 1, to: rows.to, columns }
    : undefined;

/** The rows with columns that are filled beside them. */
export const withColumns = (appended: AppendedRows, more: readonly number[]): AppendedRows => ({
  ...appended,
  columns: {
    from: Math.min(appended.columns.from, ...more),
    to: Math.max(appended.columns.to, ...more),
  },
});

/** Whether a range of several rows ends right above appended ones, so that it is to reach over them too. */
export const endsAbove = (rows: Span, columns: Span, appended: AppendedRows): boolean =>
  rows.to === appended.above && rows.from < rows.to && overlaps(columns, appended.columns);

/** Texts and quoted names are passed over; a range may follow a sheet's name, but not another book's or several sheets'. */
const ranges =
  /"(?:[^"]|"")*"|(?<![\w.$!\]:'])(?:('(?:[^']|'')+'|[A-Za-z_][\w.]*)!)?(\$?)([A-Z]{1,3})(\$?)(\d{1,7}):(\$?)([A-Z]{1,3})(\$?)(\d{1,7})(?![\w(])/g;

/** Where a formula stands: its row, where that is on the sheet of the appended rows. */
export interface FormulaPlace {
  readonly isOwnSheet: boolean;
  readonly row?: number;
  /** It stands for cells of several rows, whose relative ranges differ. */
  readonly isShared?: boolean;
}

/**
 * A formula whose ranges that end right above the appended rows reach over them. A running total, which stands beside the
 * rows that it adds up, stays as it is.
 */
export const extendedFormula = (formula: string, place: FormulaPlace, appended: AppendedRows): string =>
  formula.replace(ranges, (whole, sheet: string | undefined, ...groups: (string | undefined)[]) => {
    const [fixedLeft = '', left, fixedFirst = '', first, fixedRight = '', right, fixedLast = '', last] = groups;
    if (!left || !first || !right || !last) return whole;
    const named = sheet?.replace(/^'|'$/g, '').replaceAll("''", "'");
    const isThere = named === undefined ? place.isOwnSheet : named.toLowerCase() === appended.sheet.toLowerCase();
    const rows = { from: Number(first), to: Number(last) };
    const columns = { from: columnNumber(left), to: columnNumber(right) };
    const isBeside = place.isOwnSheet && place.row !== undefined && rows.from <= place.row && place.row <= rows.to;
    const isFixed = fixedFirst !== '' && fixedLast !== '';
    if (!isThere || isBeside || (place.isShared && !isFixed) || !endsAbove(rows, columns, appended)) return whole;
    const name = sheet === undefined ? '' : `${sheet}!`;
    return `${name}${fixedLeft}${left}${fixedFirst}${first}:${fixedRight}${right}${fixedLast}${appended.to}`;
  });

/** A formula and its row; both of the same column. */
interface RowFormula {
  readonly row: number;
  readonly formula: string;
}

/**
 * The formula that a column repeats down to the row above appended ones, as it reads there, where it works on cells of its
 * row that the appended rows fill: at least the last two rows have it, and the third last has the same or none.
 */
export function repeatedFormula(
  column: number,
  formulas: readonly RowFormula[],
  { above, columns }: AppendedRows,
): string | undefined {
  const at = (row: number): string | undefined => {
    const found = formulas.find((each) => each.row === row);
    return found && movedFormula(found.formula, { row, column }, { row: above, column });
  };
  const [last, before, third] = [at(above), at(above - 1), at(above - 2)];
  if (last === undefined || last !== before || (third !== undefined && third !== last)) return undefined;
  const own = { rows: { from: above, to: above }, columns };
  return namesCells(last, true, '', own) ? last : undefined;
}

/** Words that begin a row of totals, and formulas that make one. */
const totalWords = /^(?:(?:grand |sub)?total|sum|gesamt|summe|zwischensumme|somme|suma|totale|المجموع|الإجمالي)/i;
const totalFormula = /^(?:SUM|SUBTOTAL|AVERAGE|COUNTA?|MIN|MAX)\(/i;

/** Whether rows end in totals of their own: what reaches over them would count twice. */
const endsInTotals = (grid: Grid): boolean =>
  (grid.at(-1)?.cells ?? []).some(
    (cell) =>
      cell && (totalFormula.test(cell.formula ?? '') || (cell.type === 'text' && totalWords.test(cell.value.trim()))),
  );

/** How many places are named in one line. */
const mostNamed = 6;

/** That the formula of a cell was extended. */
export const formulaExtended = (place: string): Message => ({ kind: 'extended.formula', params: { place } });

/** That formulas, names and the like reach over the new rows now. */
export function extensionNotes(extended: readonly Message[]): Note[] {
  const distinct = [...new Map(extended.map((each) => [JSON.stringify(each), each])).values()];
  if (distinct.length === 0) return [];
  return [{ kind: 'extended-to-rows', params: { places: firstOf(distinct, mostNamed) }, count: 1 }];
}
