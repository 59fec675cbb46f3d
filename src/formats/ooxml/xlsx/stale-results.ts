import { columnLetters } from '../../../places/index.ts';
import { type ReadTools, type Source, sourceOf } from '../../format.ts';
import type { FullArea } from '../../sheets/area.ts';
import type { Result } from '../../sheets/evaluate.ts';
import { type NamedTable, withRanges } from '../../sheets/formulas.ts';
import { type FormulaCell, leaning, recompute } from '../../sheets/recompute.ts';
import { readSheetCells } from '../../sheets/sheet-format.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { SourceTree, tagPrefix, tagWith } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces, relatedPart } from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import { CellPlaces } from './cell-places.ts';
import { formulasOf } from './pointing.ts';
import { type Book, openXlsx } from './read.ts';
import type { EmptiedCell } from './remove.ts';
import { hasFormulas } from './sheet-rows.ts';
import { readTables } from './workbook.ts';

interface Stale extends FormulaCell {
  readonly part: string;
}

/**
 * The workbook with new results for the formulas that lean on cells that changed, directly or through others: a program that
 * trusts what is kept would show old figures. Where a result cannot be told for certain, there is none until a program works
 * it out on opening; all other results stay.
 */
export async function withFreshResults(
  source: Source,
  book: Book,
  edit: OpcEdit,
  changed: string,
  area: FullArea,
  tools: ReadTools,
): Promise<Uint8Array> {
  const written: Stale[] = [];
  for (const sheet of book.workbook.sheets) {
    if (sheet.name !== changed) await edit.load(sheet.part);
    if (!hasFormulas(edit.findText(sheet.part) ?? '')) continue;
    await formulasOf(book, sheet, (formula, column, row) =>
      written.push({ sheet: sheet.name, part: sheet.part, column, row, formula }),
    );
  }
  const tables: NamedTable[] = [];
  if (written.length > 0) for (const sheet of book.workbook.sheets) tables.push(...(await readTables(book.zip, sheet)));
  const formulas = written.map((cell) => ({
    ...cell,
    formula: withRanges(cell.formula, cell, book.workbook.names, tables),
  }));
  const isCovered = ({ sheet, column, row }: Stale): boolean =>
    sheet === changed &&
    area.rows.from <= row &&
    row <= area.rows.to &&
    area.columns.from <= column &&
    column <= area.columns.to;
  const left = formulas.filter((cell) => !isCovered(cell));
  const stale = leaning(left, changed, area);
  if (stale.length === 0) return edit.bytes();
  setResults(edit, stale, new Map());
  const bytes = await edit.bytes();
  const taken = sourceOf(bytes, source.name);
  const results = await recompute(
    stale,
    (place, hidden) => readSheetCells({ open: openXlsx }, taken, place, { ...tools, hidden }),
    book.workbook.epoch1904,
  );
  if (results.size === 0) return bytes;
  setResults(edit, stale, results);
  return edit.bytes();
}

function setResults(edit: OpcEdit, stale: readonly Stale[], results: ReadonlyMap<FormulaCell, Result>): void {
  for (const part of new Set(stale.map((cell) => cell.part))) {
    const cells = new Map(
      stale
        .filter((cell) => cell.part === part)
        .map((cell) => [`${columnLetters(cell.column)}${cell.row}`, results.get(cell)]),
    );
    edit.setText(part, withResults(edit.findText(part) ?? '', part, cells));
  }
}

/** The cells of these addresses with their formula and that result, or none (18.3.1.4). */
function withResults(text: string, part: string, cells: ReadonlyMap<string, Result | undefined>): string {
  const places = new CellPlaces({ formulasOnly: true });
  scanXmlText(text, part, namespaces, places);
  const edits = places.cells.flatMap(({ row, column, start, tagEnd, formula, value, end }): TextEdit[] => {
    const address = `${columnLetters(column)}${row}`;
    if (!formula || !cells.has(address)) return [];
    const tag = text.slice(start, tagEnd);
    const [type, words] = stored(cells.get(address));
    const prefix = tagPrefix(tag);
    const result = words === undefined ? '' : `<${prefix}v>${escapeText(words)}</${prefix}v>`;
    const behind =
      text.slice(formula.end, value?.start ?? formula.end) + result + text.slice(value?.end ?? formula.end, end);
    const replacement = tagWith(tag, { t: type }) + text.slice(tagEnd, formula.end) + behind;
    return [{ start, end, replacement }];
  });
  return applyEdits(text, edits);
}

function stored(result: Result | undefined): [type: string | undefined, value: string | undefined] {
  if (result === undefined) return [undefined, undefined];
  if (typeof result === 'number') return [undefined, String(result)];
  if (typeof result === 'boolean') return ['b', result ? '1' : '0'];
  return typeof result === 'string' ? ['str', result] : ['e', result.error];
}

/**
 * Takes formulas that went out of the list of the order they are worked out in (ISO/IEC 29500-1, 18.6): a workbook whose list
 * names a cell without a formula is broken. When none is left, the list and what points to it go.
 */
export async function dropCalculations(
  edit: OpcEdit,
  { zip, main, relationships }: Book,
  emptied: readonly EmptiedCell[],
): Promise<void> {
  const part = relatedPart(zip, relationships, 'calcChain');
  const gone = emptied.filter(({ hadFormula }) => hadFormula);
  if (part === undefined || gone.length === 0) return;
  const keys = new Set(gone.map(({ sheet, column, row }) => `${sheet.id} ${columnLetters(column)}${row}`));
  await edit.load(part);
  const tree = new SourceTree(edit.findText(part) ?? '', part, namespaces);
  const edits: TextEdit[] = [];
  let sheet = ''; // it holds for those that follow
  let left = 0;
  for (const cell of tree.root.children) {
    sheet = cell.attributes.i ?? sheet;
    if (keys.has(`${sheet} ${cell.attributes.r}`)) {
      edits.push(tree.replace(cell));
      continue;
    }
    left++;
    if (cell.attributes.i === undefined) edits.push(tree.setAttributes(cell, { i: sheet }));
  }
  if (left > 0) edit.setText(part, tree.edited(edits));
  else await edit.removePart(part, main);
}
