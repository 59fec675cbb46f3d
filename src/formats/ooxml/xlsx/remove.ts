import { DrawerError } from '../../../content/index.ts';
import {
  type CellAddress,
  columnLetters,
  type Fragment,
  findAddress,
  findRange,
  type Span,
} from '../../../places/index.ts';
import { NoteCounter, type ReadTools, type Removed, type Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { type PartChanges, replaceParts } from '../../package/replace.ts';
import { partBytes } from '../../package/zip.ts';
import type { Area, FullArea } from '../../sheets/area.ts';
import { chosenPictures, pointingNotes } from '../../sheets/content.ts';
import { movedFormula } from '../../sheets/formulas.ts';
import { checkSheetMayChange, isProtectedPart } from '../../sheets/layout.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { namespaces } from '../opc.ts';
import { withoutPictures } from './drawings.ts';
import { findPointing } from './pointing.ts';
import { allPictures, type Book, findPlace, openWorkbook } from './read.ts';
import { rowNumbered } from './row-scanner.ts';
import { withoutCalculations } from './stale-results.ts';
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
  const changes = new Map<string, Uint8Array | undefined>();
  const emptied: EmptiedCell[] = [];
  for (const { sheet, area } of places) {
    const entry = book.zip.find(sheet.part);
    if (!entry) continue;
    const before = changes.get(entry.name) ?? (await partBytes(book.zip, sheet.part)) ?? new Uint8Array();
    const decoded = decodeExactly(before);
    checkSheetMayChange({ name: sheet.name, isProtected: isProtectedPart(decoded.text) });
    const keep = await headerRows(book, sheet, notes, area);
    const result = emptyCells(decoded.text, sheet, area, { hidden: book.takesHidden, keep });
    emptied.push(...result.emptied);
    if (result.edits.length > 0) changes.set(entry.name, encodeText(applyEdits(decoded.text, result.edits), decoded));
  }
  for (const [name, bytes] of await withoutPicturesOf(book, fragments)) changes.set(name, bytes);
  for (const [name, bytes] of await withoutCalculations(book, emptied)) changes.set(name, bytes);
  return {
    bytes: await replaceParts(source, book.zip, changes satisfies PartChanges, tools),
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
      .filter(({ hidden }) => book.takesHidden || !hidden)
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
    edits: [...chosen.map((cell) => emptied(source, cell)), ...promoted(chosen, left)],
    emptied: chosen.map(({ row, column, formula }) => ({ sheet, row, column, hadFormula: formula !== undefined })),
  };
}

const inside = (number: number, span: Span | undefined): boolean =>
  span === undefined || (span.from <= number && number <= span.to);

interface CellPlace extends CellAddress {
  readonly start: number;
  /** The end of its start tag. */
  readonly tagEnd: number;
  end: number;
  filled: boolean;
  readonly hiddenRow: boolean;
  formula?: { readonly attributes: Attributes; readonly start: number; end: number; text: string };
}

class CellPlaces implements XmlHandler {
  readonly cells: CellPlace[] = [];
  readonly hiddenColumns: Span[] = [];
  #extent = { start: 0, end: 0 };
  #row = 0;
  #hiddenRow = false;
  #column = 0;
  #cell: CellPlace | undefined;
  #inFormula = false;

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    if (name === 'col' && isTrue(a.hidden)) this.hiddenColumns.push({ from: Number(a.min), to: Number(a.max) });
    if (name === 'row') {
      this.#row = rowNumbered(a.r, this.#row);
      this.#hiddenRow = isTrue(a.hidden);
      this.#column = 0;
    }
    if (name === 'c') {
      this.#column = findAddress(a.r ?? '')?.column ?? this.#column + 1;
      const { start, end } = this.#extent;
      this.#cell = {
        row: this.#row,
        column: this.#column,
        start,
        tagEnd: end,
        end,
        filled: false,
        hiddenRow: this.#hiddenRow,
      };
    } else if (this.#cell) {
      this.#cell.filled = true;
      this.#inFormula = name === 'f';
      if (name === 'f') this.#cell.formula = { attributes: a, ...this.#extent, text: '' };
    }
  }

  text(words: string): void {
    if (this.#inFormula && this.#cell?.formula) this.#cell.formula.text += words;
  }

  close(name: string): void {
    if (name === 'f' && this.#cell?.formula) {
      this.#inFormula = false;
      this.#cell.formula.end = this.#extent.end;
    }
    if (name !== 'c' || !this.#cell) return;
    this.#cell.end = this.#extent.end;
    this.cells.push(this.#cell);
    this.#cell = undefined;
  }
}

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';

/** The cell with its place and look alone. */
function emptied(source: string, { start, tagEnd, end }: CellPlace): TextEdit {
  const tag = source.slice(start, tagEnd).replace(/\s(?:t|cm|vm|ph)\s*=\s*(?:"[^"]*"|'[^']*')/g, '');
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
function promoted(chosen: readonly CellPlace[], left: readonly CellPlace[]): TextEdit[] {
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
    const words = movedFormula(holder.formula.text, holder, first)
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;');
    const { start, end } = first.formula;
    return [
      {
        start,
        end,
        replacement: `<f t="shared" ref="${corner(Math.min)}:${corner(Math.max)}" si="${si}">${words}</f>`,
      },
    ];
  });
}
