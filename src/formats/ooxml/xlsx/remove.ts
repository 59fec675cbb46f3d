import { DrawerError } from '../../../content/index.ts';
import { type CellAddress, columnLetters, type Fragment, findRange, type Span } from '../../../places/index.ts';
import { NoteCounter, type ReadTools, type Removed, type Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import type { Area, FullArea } from '../../sheets/area.ts';
import { chosenPictures, pointingNotes } from '../../sheets/content.ts';
import { movedFormula } from '../../sheets/formulas.ts';
import { checkSheetMayChange } from '../../sheets/layout.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { tagName, tagWith } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { type CellPlace, CellPlaces } from './cell-places.ts';
import { withoutPictures } from './drawings.ts';
import { findPointing } from './pointing.ts';
import { allPictures, type Book, findPlace, openWorkbook } from './read.ts';
import { SheetFrame } from './sheet-frame.ts';
import { findRows } from './sheet-rows.ts';
import { dropCalculations } from './stale-results.ts';
import { readTables, type Sheet } from './workbook.ts';

/** The workbook with a place's cells emptied, or its pictures taken off: looks stay, and so does every other part. */
export async function removeXlsx(
  source: Source,
  fragments: readonly Fragment[],
  tools: ReadTools = {},
): Promise<Removed> {
  const book = await openWorkbook(source, tools);
  checkUnsigned(book.zip);
  const ofCells = fragments.filter(({ kind }) => kind !== 'picture');
  const places = (await Promise.all(ofCells.map((fragment) => findPlaces(book, fragment)))).flat();
  const notes = new NoteCounter();
  const edit = new OpcEdit(source, book.zip, tools);
  const emptied: EmptiedCell[] = [];
  for (const { sheet, area } of places) {
    if (!book.zip.find(sheet.part)) continue;
    await edit.load(sheet.part);
    const text = edit.findText(sheet.part) ?? '';
    const { isProtected } = new SheetFrame(text, findRows(text, new Set()), sheet.part);
    checkSheetMayChange({ name: sheet.name, isProtected });
    const keep = await headerRows(book, sheet, notes, area);
    const result = emptyCells(text, sheet, area, { hidden: book.includesHidden, keep });
    emptied.push(...result.emptied);
    if (result.edits.length > 0) edit.setText(sheet.part, applyEdits(text, result.edits));
  }
  for (const [name, bytes] of await withoutPicturesOf(book, fragments)) edit.setBytes(name, bytes);
  await dropCalculations(edit, book, emptied);
  return {
    bytes: await edit.bytes(),
    notes: [...notes.notes, ...pointingNotes(await findAllPointing(book, places))],
  };
}

/** The drawings that lose pictures; the parts of the pictures stay, since others may show them. */
async function withoutPicturesOf(book: Book, fragments: readonly Fragment[]): Promise<[string, Uint8Array][]> {
  const asked = fragments.flatMap((fragment) => (fragment.kind === 'picture' ? [fragment] : []));
  if (asked.length === 0) return [];
  const all = await allPictures(book);
  const byDrawing = new Map<string, number[]>();
  for (const { drawing, index } of asked.flatMap((fragment) => chosenPictures(all, fragment)))
    byDrawing.set(drawing, [...(byDrawing.get(drawing) ?? []), index]);
  return Promise.all(
    [...byDrawing].map(async ([drawing, indexes]): Promise<[string, Uint8Array]> => {
      const name = book.zip.find(drawing)?.name ?? drawing;
      return [name, await withoutPictures(book.zip, drawing, indexes)];
    }),
  );
}

interface SheetArea {
  readonly sheet: Sheet;
  readonly area: Area;
}

async function findPlaces(book: Book, fragment: Fragment): Promise<SheetArea[]> {
  if (fragment.kind === 'whole')
    return book.workbook.sheets
      .filter(({ hidden }) => book.includesHidden || !hidden)
      .map((sheet) => ({ sheet, area: {} }));
  const { sheet, ...area } = await findPlace(book, fragment);
  return [{ sheet, area }];
}

/** Rows of a table's headings stay: a table whose headings and cells differ is broken (ISO/IEC 29500-1, 18.5.1.3). */
async function headerRows(book: Book, sheet: Sheet, notes: NoteCounter, area: Area) {
  const headers = (await readTables(book.zip, sheet))
    .filter(({ headerRows: count }) => count > 0)
    .map(({ area: { rows, columns }, headerRows: count }) => ({
      rows: { from: rows.from, to: rows.from + count - 1 },
      columns,
    }));
  const isInside = (one: Span, other: Span | undefined): boolean =>
    other === undefined || (one.from <= other.to && other.from <= one.to);
  if (headers.some(({ rows, columns }) => isInside(rows, area.rows) && isInside(columns, area.columns)))
    notes.add('heading-not-cut');
  return headers;
}

async function findAllPointing(book: Book, places: readonly SheetArea[]): Promise<string[]> {
  const found: string[] = [];
  for (const { sheet, area } of places) found.push(...(await findPointing(book, sheet, area)));
  return found;
}

export interface EmptiedCell extends CellAddress {
  readonly sheet: Sheet;
  readonly hadFormula: boolean;
}

interface Options {
  /** Whether hidden rows and columns are emptied too. */
  readonly hidden: boolean;
  readonly keep: readonly FullArea[];
}

/** The edits that take the values of an area's cells out of a sheet's source. */
export function emptyCells(
  source: string,
  sheet: Sheet,
  area: Area,
  options: Options,
): { edits: TextEdit[]; emptied: EmptiedCell[] } {
  const reader = new CellPlaces();
  scanXmlText(source, sheet.part, namespaces, reader);
  const isChosen = (cell: CellPlace): boolean =>
    inside(cell.row, area.rows) &&
    inside(cell.column, area.columns) &&
    (options.hidden || !(cell.hiddenRow || reader.hiddenColumns.some((span) => inside(cell.column, span)))) &&
    !options.keep.some(({ rows, columns }) => inside(cell.row, rows) && inside(cell.column, columns));
  const chosen = reader.cells.filter((cell) => cell.filled && isChosen(cell));
  const left = reader.cells.filter((cell) => cell.formula && !isChosen(cell));
  refuseParts(chosen, area);
  return {
    edits: [...chosen.map((cell) => emptied(source, cell)), ...promoted(source, chosen, left)],
    emptied: chosen.map(({ row, column, formula }) => ({ sheet, row, column, hadFormula: formula !== undefined })),
  };
}

const inside = (number: number, span: Span | undefined): boolean =>
  span === undefined || (span.from <= number && number <= span.to);

/** The cell with its place and look alone. */
function emptied(source: string, { start, tagEnd, end }: CellPlace): TextEdit {
  const tag = tagWith(source.slice(start, tagEnd), { t: undefined, cm: undefined, vm: undefined, ph: undefined });
  return { start, end, replacement: tag.replace(/\s*\/?>$/, '/>') };
}

/** Some formulas fill several cells together (18.3.1.40, `array` and `dataTable`); none of these can go alone. */
function refuseParts(chosen: readonly CellPlace[], area: Area): void {
  for (const { formula } of chosen) {
    const { t, ref = '' } = formula?.attributes ?? {};
    const range = t === 'array' || t === 'dataTable' ? findRange(ref) : undefined;
    if (!range?.rows || !range.columns) continue;
    const { rows, columns } = range;
    const isWhole =
      [rows.from, rows.to].every((row) => inside(row, area.rows)) &&
      [columns.from, columns.to].every((column) => inside(column, area.columns));
    if (!isWhole) throw new DrawerError('unsupported/formula-fills-several', { cells: ref });
  }
}

/** Where the cell that holds a shared formula goes, the first of those left that share it holds it from now on. */
function promoted(source: string, chosen: readonly CellPlace[], left: readonly CellPlace[]): TextEdit[] {
  return chosen.flatMap((holder): TextEdit[] => {
    const { t, si } = holder.formula?.attributes ?? {};
    if (t !== 'shared' || si === undefined || !holder.formula?.text) return [];
    const sharers = left.filter(({ formula }) => formula?.attributes.si === si && formula.text === '');
    const [first] = sharers;
    if (!first?.formula) return [];
    const rows = sharers.map(({ row }) => row);
    const columns = sharers.map(({ column }) => column);
    const corner = (pick: (...numbers: number[]) => number): string =>
      `${columnLetters(pick(...columns))}${pick(...rows)}`;
    const words = escapeText(movedFormula(holder.formula.text, holder, first));
    const { start, end } = first.formula;
    const name = tagName(source.slice(start, end));
    const ref = `${corner(Math.min)}:${corner(Math.max)}`;
    return [{ start, end, replacement: `<${name} t="shared" ref="${ref}" si="${si}">${words}</${name}>` }];
  });
}
