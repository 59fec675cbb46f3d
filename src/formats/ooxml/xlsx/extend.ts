import type { Message } from '../../../content/index.ts';
import { findRange, printFragment, type Span } from '../../../places/index.ts';
import {
  type AppendedRows,
  endsAbove,
  extendedFormula,
  type FormulaPlace,
  formulaExtended,
  repeatedFormula,
} from '../../sheets/appended.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { decodeReferences } from '../../xml/element.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { readRelationships } from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import { formulasOf } from './pointing.ts';
import type { Book } from './read.ts';
import { hasFormulas, type SheetRows } from './sheet-rows.ts';
import type { Sheet } from './workbook.ts';

/** What was extended. */
type Told = Message[];

/**
 * The edits behind a sheet's rows that extend its filter (ISO/IEC 29500-1, 18.3.1.2), conditional formats (18.3.1.18) and data
 * validations (18.3.1.32) that end right above appended rows.
 */
export function behindRowsEdits(text: string, from: number, appended: AppendedRows, told: Told): TextEdit[] {
  const tail = text.slice(from);
  const edits: TextEdit[] = [];
  const add = (index: number, before: string, after: string, what: Message): void => {
    if (before === after) return;
    edits.push({ start: from + index, end: from + index + before.length, replacement: after });
    told.push(what);
  };
  for (const match of tail.matchAll(/<(?:[\w.-]+:)?(autoFilter|conditionalFormatting|dataValidation)\s[^<>]*>/g)) {
    const [tag, kind = ''] = match;
    const [whole, value = ''] = /\s(?:sqref|ref)="([^"]*)"/.exec(tag) ?? [];
    if (whole === undefined) continue;
    const at = match.index + tag.indexOf(whole) + whole.indexOf(value);
    add(at, value, extendedAreas(value, appended), { kind: kinds[kind] ?? 'extended.rule' });
  }
  // Extensions of the sheet (18.2.10) name their areas and formulas in elements.
  for (const match of tail.matchAll(/<((?:[\w.-]+:)?(?:sqref|f|formula[12]?))>([^<]+)<\/\1>/g)) {
    const [, name = '', value = ''] = match;
    const at = match.index + name.length + 2;
    const isAreas = name.endsWith('sqref');
    const after = isAreas ? extendedAreas(value, appended) : inSource(value, { isOwnSheet: true }, appended);
    add(at, value, after, { kind: 'extended.rule' });
  }
  return edits;
}

const kinds: Readonly<Record<string, string>> = {
  autoFilter: 'extended.filter',
  conditionalFormatting: 'extended.condition',
  dataValidation: 'extended.validation',
};

/** Areas parted by spaces (18.18.76). */
const extendedAreas = (areas: string, appended: AppendedRows): string =>
  areas
    .split(' ')
    .map((area) => {
      const { rows, columns } = findRange(area) ?? {};
      return rows && columns && endsAbove(rows, columns, appended) ? area.replace(/\d+$/, String(appended.to)) : area;
    })
    .join(' ');

/** A formula as it stands in the source of a part. */
function inSource(source: string, place: FormulaPlace, appended: AppendedRows): string {
  const formula = decodeReferences(source);
  const extended = extendedFormula(formula, place, appended);
  return extended === formula ? source : escapeText(extended);
}

/** Extends the formulas of all sheets, the names of the workbook and the tables of the sheet. */
export async function extendWorkbook(
  edit: OpcEdit,
  book: Book,
  sheet: Sheet,
  rows: SheetRows,
  appended: AppendedRows,
  told: Told,
): Promise<void> {
  for (const each of book.workbook.sheets) {
    if (each !== sheet) await edit.load(each.part);
    const text = edit.findText(each.part) ?? '';
    if (!hasFormulas(text)) continue;
    const edits = formulaEdits(text, each, each === sheet, appended, told);
    if (edits.length > 0) edit.setText(each.part, applyEdits(text, edits));
  }
  const workbook = edit.findText(book.main) ?? '';
  const named = workbook.replace(
    /(<((?:[\w.-]+:)?definedName)\s[^<>]*>)([^<]+)(<\/\2>)/g,
    (whole, open: string, _tag, formula: string, close: string) => {
      const name = /\sname="([^"]*)"/.exec(open)?.[1] ?? '';
      const after = name === '_xlnm.Print_Titles' ? formula : inSource(formula, { isOwnSheet: false }, appended);
      if (after === formula) return whole;
      told.push(
        name.startsWith('_xlnm.')
          ? { kind: 'extended.area' }
          : { kind: 'extended.name', params: { name: decodeReferences(name) } },
      );
      return open + after + close;
    },
  );
  if (named !== workbook) edit.setText(book.main, named);
  for (const { type, target, external } of (await readRelationships(book.zip, sheet.part)).values())
    if (type === 'table' && !external) await extendTable(edit, target, rows, appended, told);
}

/** Formulas of cells (18.3.1.40); those of the appended rows are new. */
function formulaEdits(text: string, sheet: Sheet, isOwn: boolean, appended: AppendedRows, told: Told): TextEdit[] {
  const cell = /<((?:[\w.-]+:)?)c\s[^<>]*?\br="([A-Z]+)(\d+)"[^<>]*>\s*<\1f(\s[^<>]*)?>([^<]+)<\/\1f>/g;
  return [...text.matchAll(cell)].flatMap((match): TextEdit[] => {
    const [whole, prefix = '', letters = '', digits = '', attributes = '', formula = ''] = match;
    const row = Number(digits);
    if (isOwn && row > appended.above && row <= appended.to) return [];
    const shared = /\st="shared"/.test(attributes)
      ? findRange(/\sref="([^"]*)"/.exec(attributes)?.[1] ?? '')
      : undefined;
    const isShared = shared?.rows !== undefined && shared.rows.to > shared.rows.from;
    const after = inSource(formula, { isOwnSheet: isOwn, ...(isOwn && { row }), isShared }, appended);
    if (after === formula) return [];
    const end = match.index + whole.length - `</${prefix}f>`.length;
    const place = `${printFragment({ kind: 'cells', sheet: sheet.name })}${letters}${digits}`;
    told.push(formulaExtended(place));
    return [{ start: end - formula.length, end, replacement: after }];
  });
}

/** A table (18.5.1.2) with its filter, unless it ends in totals, or something else stands where it would reach. */
async function extendTable(
  edit: OpcEdit,
  part: string,
  rows: SheetRows,
  appended: AppendedRows,
  told: Told,
): Promise<void> {
  await edit.load(part);
  const text = edit.findText(part) ?? '';
  const [tag = ''] = /<(?:[\w.-]+:)?table\s[^<>]*>/.exec(text) ?? [];
  const area = findRange(/\sref="([^"]*)"/.exec(tag)?.[1] ?? '');
  const hasTotals = /\stotalsRowCount="[1-9]/.test(tag);
  if (!area?.rows || !area.columns || hasTotals || !endsAbove(area.rows, area.columns, appended)) return;
  if (isTaken(rows, area.columns, appended)) return;
  const name = /\sdisplayName="([^"]*)"/.exec(tag)?.[1] ?? '';
  told.push({ kind: 'extended.table', params: { name: decodeReferences(name) } });
  edit.setText(
    part,
    text.replace(
      /(<(?:[\w.-]+:)?(?:table|autoFilter)\s[^<>]*?\bref="[^":]*:[A-Z]+)(\d+)"/g,
      (whole, before: string, last: string) => (Number(last) === appended.above ? `${before}${appended.to}"` : whole),
    ),
  );
}

/** Whether cells beside the appended ones hold something, in columns that they do not fill. */
const isTaken = (rows: SheetRows, columns: Span, appended: AppendedRows): boolean =>
  [...rows.found.values()].some(({ number, cells }) =>
    cells.some(
      ({ column, source }) =>
        number > appended.above &&
        column >= columns.from &&
        column <= columns.to &&
        (column < appended.columns.from || column > appended.columns.to) &&
        /<(?:[\w.-]+:)?(?:v|is|f)[\s>/]/.test(source),
    ),
  );

/** The formulas that columns beside appended rows repeat down to them, by column, as they read in the row above. */
export async function repeatedFormulas(
  book: Book,
  sheet: Sheet,
  text: string,
  appended: AppendedRows,
): Promise<ReadonlyMap<number, string>> {
  const found = new Map<number, { row: number; formula: string }[]>();
  if (hasFormulas(text))
    await formulasOf(book, sheet, (formula, column, row) => {
      const isBeside = column < appended.columns.from || column > appended.columns.to;
      if (isBeside && row <= appended.above && row > appended.above - 3)
        found.set(column, [...(found.get(column) ?? []), { row, formula }]);
    });
  const repeated = new Map<number, string>();
  for (const [column, formulas] of found) {
    const formula = repeatedFormula(column, formulas, appended);
    if (formula !== undefined) repeated.set(column, formula);
  }
  return repeated;
}
