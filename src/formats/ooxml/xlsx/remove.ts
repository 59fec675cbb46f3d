import type { Fragment, Span } from '../../../places/index.ts';
import { NoteCounter, type ReadTools, type Removed, type Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { type PartChanges, replaceParts } from '../../package/replace.ts';
import { partBytes } from '../../package/zip.ts';
import type { Area } from '../../sheets/area.ts';
import { chosenPictures, pointingNotes } from '../../sheets/content.ts';
import { checkSheetMayChange, isProtectedPart } from '../../sheets/taken-cells.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits } from '../../text-edits.ts';
import { withoutPictures } from './drawings.ts';
import { type EmptiedCell, emptyCells } from './empty-cells.ts';
import { findPointing } from './pointing.ts';
import { allPictures, type Book, findPlace, openWorkbook } from './read.ts';
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
  for (const { drawing, index } of asked.flatMap((fragment) => chosenPictures(all, fragment, 'workbook')))
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
