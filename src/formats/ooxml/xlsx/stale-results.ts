import { columnLetters } from '../../../places/index.ts';
import type { FullArea } from '../../sheets/area.ts';
import { namesCells } from '../../sheets/formulas.ts';
import type { OpcEdit } from '../package-edit.ts';
import { formulasOf } from './pointing.ts';
import type { Book } from './read.ts';
import { hasFormulas } from './sheet-rows.ts';
import type { Sheet } from './workbook.ts';

interface FormulaCell {
  readonly sheet: Sheet;
  readonly column: number;
  readonly row: number;
  readonly formula: string;
}

/** More than these are not followed one by one: all of them are worked out again. */
const mostFollowed = 4_000;

/**
 * Takes the results that are kept with formulas out where they lean on cells that changed, directly or through others: a
 * program that trusts what is kept would show old figures. Names and tables are taken to mean any cell.
 */
export async function dropStaleResults(book: Book, edit: OpcEdit, changed: Sheet, area: FullArea): Promise<void> {
  const formulas: FormulaCell[] = [];
  for (const sheet of book.workbook.sheets) {
    if (sheet !== changed) await edit.load(sheet.part);
    if (!hasFormulas(edit.findText(sheet.part) ?? '')) continue;
    await formulasOf(book, sheet, (formula, column, row) => formulas.push({ sheet, column, row, formula }));
  }
  const stale = formulas.length > mostFollowed ? formulas : leaning(formulas, changed, area);
  for (const sheet of new Set(stale.map((cell) => cell.sheet))) {
    const addresses = new Set(
      stale.filter((cell) => cell.sheet === sheet).map(({ column, row }) => `${columnLetters(column)}${row}`),
    );
    edit.setText(sheet.part, withoutResults(edit.findText(sheet.part) ?? '', addresses));
  }
}

/** The formulas that lean on an area, and those that lean on them. */
function leaning(formulas: readonly FormulaCell[], changed: Sheet, area: FullArea): FormulaCell[] {
  const found: FormulaCell[] = [];
  const left = new Set(formulas);
  const open: { readonly sheet: Sheet; readonly area: FullArea }[] = [{ sheet: changed, area }];
  for (let next = open.pop(); next; next = open.pop()) {
    for (const cell of left) {
      const leans =
        namesAny(cell.formula) || namesCells(cell.formula, cell.sheet === next.sheet, next.sheet.name, next.area);
      if (!leans) continue;
      left.delete(cell);
      found.push(cell);
      const one = (at: number) => ({ from: at, to: at });
      open.push({ sheet: cell.sheet, area: { rows: one(cell.row), columns: one(cell.column) } });
    }
  }
  return found;
}

/** Whether a formula has a word that is no function, address or truth value: a name, or a table's column. */
const namesAny = (formula: string): boolean =>
  /\[|(?<![\w.$!'])(?!(?:TRUE|FALSE)\b)[A-Za-z_][A-Za-z_.]{3,}\w*(?![\w(!.])/.test(
    formula.replace(/"(?:[^"]|"")*"|'(?:[^']|'')*'!/g, ''),
  );

/** The cells of these addresses with their formula and no value. */
const withoutResults = (text: string, addresses: ReadonlySet<string>): string =>
  text.replace(
    /(<((?:[\w.-]+:)?)c\s[^<>]*?\br="([A-Z]+\d+)"[^<>]*>\s*<\2f(?:\s[^<>]*)?(?:\/>|>[^<]*<\/\2f>))\s*<\2v(?:\s[^<>]*)?>[^<]*<\/\2v>/g,
    (whole, kept: string, _prefix, address: string) => (addresses.has(address) ? kept : whole),
  );
