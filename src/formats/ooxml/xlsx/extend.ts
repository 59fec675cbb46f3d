import type { Message } from '../../../content/index.ts';
import { findRange, printFragment, type Span } from '../../../places/index.ts';
import {
  type AppendedRows,
  endsAbove,
  extendedFormula,
  formulaExtended,
  repeatedFormula,
} from '../../sheets/appended.ts';
import { cellName } from '../../sheets/layout.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { SourceTree } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces, readRelationships } from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import { CellPlaces } from './cell-places.ts';
import { formulasOf } from './pointing.ts';
import type { Book } from './read.ts';
import type { SheetFrame } from './sheet-frame.ts';
import { hasFormulas, type SheetRows } from './sheet-rows.ts';
import type { Sheet } from './workbook.ts';

/** What was extended. */
type Told = Message[];

/**
 * The edits behind a sheet's rows that extend its filter (ISO/IEC 29500-1, 18.3.1.2), conditional formats (18.3.1.18) and data
 * validations (18.3.1.32) that end right above appended rows.
 */
export function behindRowsEdits({ tree }: SheetFrame, appended: AppendedRows, told: Told): TextEdit[] {
  const edits: TextEdit[] = [];
  const add = (before: string, after: string, what: Message, edit: (value: string) => TextEdit): void => {
    if (before === after) return;
    edits.push(edit(after));
    told.push(what);
  };
  for (const element of tree.all(Object.keys(kinds))) {
    const name = element.name === 'autoFilter' ? 'ref' : 'sqref';
    const areas = element.attributes[name];
    if (areas === undefined) continue;
    const what = { kind: kinds[element.name] ?? 'extended.rule' };
    add(areas, extendedAreas(areas, appended), what, (value) => tree.setAttributes(element, { [name]: value }));
  }
  // Extensions of the sheet (18.2.10) name their areas and formulas in elements.
  for (const element of tree.all(tree.names.filter((name) => /^(?:\w+:)?(?:sqref|f|formula[12]?)$/.test(name)))) {
    const { words } = element;
    if (element.children.length > 0 || words === '') continue;
    const after = element.name.endsWith('sqref')
      ? extendedAreas(words, appended)
      : extendedFormula(words, { isOwnSheet: true }, appended);
    add(words, after, { kind: 'extended.rule' }, (value) => tree.setWords(element, value));
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

/** A sheet to which rows are appended. */
export interface EditedSheet {
  readonly edit: OpcEdit;
  readonly book: Book;
  readonly sheet: Sheet;
  readonly rows: SheetRows;
  readonly frame: SheetFrame;
}

/** Extends the formulas of all sheets, the names of the workbook and the tables of the sheet. */
export async function extendWorkbook(
  { edit, book, sheet, rows, frame }: EditedSheet,
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
  const workbook = new SourceTree(edit.findText(book.main) ?? '', book.main, namespaces);
  const named = workbook.all('definedName').flatMap((element): TextEdit[] => {
    const { name = '' } = element.attributes;
    if (name === '_xlnm.Print_Titles') return [];
    const after = extendedFormula(element.words, { isOwnSheet: false }, appended);
    if (after === element.words) return [];
    told.push(name.startsWith('_xlnm.') ? { kind: 'extended.area' } : { kind: 'extended.name', params: { name } });
    return [workbook.setWords(element, after)];
  });
  if (named.length > 0) edit.setText(book.main, workbook.edited(named));
  for (const { type, target, external } of (await readRelationships(book.zip, sheet.part)).values())
    if (type === 'table' && !external) await extendTable({ edit, rows, frame }, target, appended, told);
}

/** Formulas of cells (18.3.1.40); those of the appended rows are new. */
function formulaEdits(text: string, sheet: Sheet, isOwn: boolean, appended: AppendedRows, told: Told): TextEdit[] {
  const places = new CellPlaces({ formulasOnly: true });
  scanXmlText(text, sheet.part, namespaces, places);
  return places.cells.flatMap(({ row, column, formula }): TextEdit[] => {
    if (!formula?.text || (isOwn && row > appended.above && row <= appended.to)) return [];
    const { t, ref = '' } = formula.attributes;
    const shared = t === 'shared' ? findRange(ref) : undefined;
    const isShared = shared?.rows !== undefined && shared.rows.to > shared.rows.from;
    const after = extendedFormula(formula.text, { isOwnSheet: isOwn, ...(isOwn && { row }), isShared }, appended);
    if (after === formula.text) return [];
    told.push(formulaExtended(`${printFragment({ kind: 'cells', sheet: sheet.name })}${cellName({ row, column })}`));
    return [{ start: formula.innerStart, end: formula.innerEnd, replacement: escapeText(after) }];
  });
}

/** A table (18.5.1.2) with its filter, unless it ends in totals, or something else stands where it would reach. */
async function extendTable(
  { edit, rows, frame }: Pick<EditedSheet, 'edit' | 'rows' | 'frame'>,
  part: string,
  appended: AppendedRows,
  told: Told,
): Promise<void> {
  await edit.load(part);
  const tree = new SourceTree(edit.findText(part) ?? '', part, namespaces);
  const { ref = '', totalsRowCount, displayName = '' } = tree.root.attributes;
  const area = findRange(ref);
  const hasTotals = Number(totalsRowCount ?? 0) > 0;
  if (!area?.rows || !area.columns || hasTotals || !endsAbove(area.rows, area.columns, appended)) return;
  const isTaken = takes(
    rows,
    area.columns,
    appended,
    (source) => frame.fragment(source).element?.children.length !== 0,
  );
  if (isTaken) return;
  told.push({ kind: 'extended.table', params: { name: displayName } });
  const edits = tree.all(['table', 'autoFilter']).map((element) => {
    const stated = element.attributes.ref ?? '';
    const isToExtend = findRange(stated)?.rows?.to === appended.above;
    return tree.setAttributes(element, isToExtend ? { ref: stated.replace(/\d+$/, String(appended.to)) } : {});
  });
  edit.setText(part, tree.edited(edits));
}

/** Whether cells beside the appended ones hold something, in columns that they do not fill. */
const takes = (
  rows: SheetRows,
  columns: Span,
  appended: AppendedRows,
  isFilled: (source: string) => boolean,
): boolean =>
  [...rows.found.values()].some(({ number, cells }) =>
    cells.some(
      ({ column, source }) =>
        number > appended.above &&
        column >= columns.from &&
        column <= columns.to &&
        (column < appended.columns.from || column > appended.columns.to) &&
        isFilled(source),
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
