import { isSafeHref } from '../../../content/index.ts';
import { type Fragment, parseFragment, printFragment } from '../../../places/index.ts';
import { Budget } from '../../bounds.ts';
import {
  type NoteCounter,
  type Outline,
  type OutlineEntry,
  pointsOf,
  type ReadTools,
  type Source,
} from '../../format.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import {
  type Area,
  type AreaCells,
  cellsContent,
  emptyCells,
  type FullArea,
  hasGap,
  overlaps,
  type SheetData,
  usedArea,
} from '../../sheets/area.ts';
import { areaSize } from '../../sheets/content.ts';
import { Display } from '../../sheets/display.ts';
import { findSheetArea, type NamedPlace, type SheetPlace } from '../../sheets/places.ts';
import { outOfDateNotes } from '../../sheets/recompute.ts';
import type { OpenWorkbook } from '../../sheets/sheet-format.ts';
import { openPackage, type Relationships, readRelationships, relatedPart } from '../opc.ts';
import { readTheme, type Theme } from '../theme.ts';
import { readStrings } from './cells.ts';
import { readSheetPictures, type SheetPicture } from './drawings.ts';
import { readCorners, readSheet, readStated } from './sheet.ts';
import type { CellLink } from './sheet-frame.ts';
import { readCellStyles } from './styles.ts';
import { readTables, readWorkbook, type Sheet, type Workbook } from './workbook.ts';

export interface Book {
  readonly zip: Zip;
  readonly main: string;
  readonly relationships: Relationships;
  readonly workbook: Workbook;
  readonly theme: Theme;
  readonly includesHidden: boolean;
  readonly budget: Budget;
}

export async function openWorkbook(source: Source, tools: ReadTools = {}): Promise<Book> {
  const { zip, main } = await openPackage(source, tools);
  const relationships = await readRelationships(zip, main);
  return {
    zip,
    main,
    relationships,
    workbook: await readWorkbook(zip, main, relationships),
    theme: await readTheme(zip, relatedPart(zip, relationships, 'theme')),
    includesHidden: tools.hidden === true,
    budget: new Budget(),
  };
}

/** Opens a workbook for reading. */
export async function openXlsx(source: Source, tools: ReadTools): Promise<OpenWorkbook> {
  const book = await openWorkbook(source, tools);
  return {
    sheets: async () =>
      book.workbook.sheets.map((sheet) => ({
        name: sheet.name,
        hidden: sheet.hidden,
        read: (notes) => readArea(book, { sheet }, notes),
      })),
    async find(place) {
      const found = await findPlace(book, place);
      return { called: found.called, read: (notes) => readArea(book, found, notes) };
    },
    pictures: async () => (await allPictures(book)).map(({ picture }) => picture),
    fetchPicture: (part) => partBytes(book.zip, part),
    named: async () => ({
      sheets: book.workbook.sheets,
      names: book.workbook.names.filter(({ hidden }) => !hidden),
    }),
    outline: () => outlineBook(book),
  };
}

/** The sheet and area that a place means; tables, whose names stand in parts of their own, are read only for a name. */
export async function findPlace(book: Book, fragment: Fragment): Promise<SheetPlace<Sheet>> {
  const { workbook } = book;
  const names: NamedPlace[] = workbook.names.map(({ name, formula }) => ({ name, formula }));
  if (fragment.kind !== 'name') return findSheetArea(workbook.sheets, names, fragment);
  const tables = await Promise.all(workbook.sheets.map((sheet) => readTables(book.zip, sheet)));
  return findSheetArea(workbook.sheets, [...names, ...tables.flat()], fragment);
}

async function readArea(
  book: Book,
  { sheet, called: _, ...asked }: SheetPlace<Sheet>,
  notes: NoteCounter,
): Promise<AreaCells> {
  const { zip, relationships, workbook, theme } = book;
  const display = new Display(workbook.epoch1904);
  const styleOf = await readCellStyles(zip, relatedPart(zip, relationships, 'styles'), theme);
  const own = await readRelationships(zip, sheet.part);
  const hasLinks = [...own.values()].some(({ type }) => type === 'hyperlink');
  // Merged areas and links stand behind all the cells: merges matter only where some cell of the area is empty.
  const read = await readSheet(zip, sheet.part, {
    area: asked,
    context: { styleOf, display, budget: book.budget },
    wantsTail: (data) => hasLinks || hasGap(asked, data),
  });
  await readStrings(zip, relatedPart(zip, relationships, 'sharedStrings'), read.waiting);
  const area = usedArea(asked, read);
  if (!area) return emptyCells;
  if (hasLinks) addLinks(read, read.tail.links, own);
  countOthers(zip, own, asked, notes);
  const merges = read.tail.merges.filter(
    (merge) => overlaps(merge.columns, area.columns) && overlaps(merge.rows, area.rows),
  );
  const taken = cellsContent(area, read, merges, { includesHidden: book.includesHidden, notes });
  notes.addAll(outOfDateNotes(taken.content.rows));
  return taken;
}

function addLinks(data: SheetData, links: readonly CellLink[], relationships: Relationships): void {
  const byRow = new Map(data.rows.map((row) => [row.number, row.cells]));
  for (const { area, relationship } of links) {
    const href = (relationships.get(relationship ?? '')?.target ?? '').trim().replaceAll(' ', '%20');
    if (!isSafeHref(href)) continue;
    for (let row = area.rows.from; row <= Math.min(area.rows.to, area.rows.from + 10_000); row++) {
      const cells = byRow.get(row);
      const cell = cells?.[area.columns.from];
      if (cells && cell) cells[area.columns.from] = { ...cell, marks: { ...cell.marks, link: { href } } };
    }
  }
}

/** What lies over the cells is told when the whole sheet was asked for: it is not in them. */
function countOthers(zip: Zip, own: Relationships, asked: Area, notes: NoteCounter): void {
  if (asked.rows || asked.columns) return;
  if (relatedPart(zip, own, 'comments')) notes.add('cell-comments-left');
  if (relatedPart(zip, own, 'drawing')) notes.add('drawing-over-cells-left');
}

// --- Pictures --------------------------------------------------------------------------------------------------------

export async function allPictures({ zip, workbook }: Book): Promise<SheetPicture[]> {
  const found: SheetPicture[] = [];
  for (const sheet of workbook.sheets) found.push(...(await readSheetPictures(zip, sheet)));
  return found;
}

// --- Outline ---------------------------------------------------------------------------------------------------------

async function outlineBook(book: Book): Promise<Outline> {
  const pictures = await allPictures(book);
  const entries: OutlineEntry[] = [];
  for (const sheet of book.workbook.sheets) {
    entries.push(await outlineSheet(book, sheet));
    for (const { name, formula } of await readTables(book.zip, sheet)) entries.push(rangeEntry(name, formula, 'table'));
    pictures.forEach((each, index) => {
      if (each.sheet === sheet) entries.push(pictureEntry(each, index + 1));
    });
  }
  const sheets = new Set(book.workbook.sheets.map(({ name }) => name.toLowerCase()));
  const names = book.workbook.names.filter(
    ({ name, formula, hidden }) => !hidden && !name.startsWith('_xlnm.') && isRangeOf(sheets, formula),
  );
  entries.push(...names.map(({ name, formula }) => rangeEntry(name, formula, 'name')));
  return { entries, notes: [] };
}

function rangeOf(formula: string): (FullArea & { readonly sheet: string | undefined }) | undefined {
  if (formula.includes('#')) return undefined; // a broken reference says #REF!
  try {
    const fragment = parseFragment(formula);
    if (fragment.kind !== 'cells') return undefined;
    const { rows, columns, sheet } = fragment;
    return rows && columns ? { rows, columns, sheet } : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a name is a range of one of the sheets, named in small letters: it may be one of another workbook. */
function isRangeOf(sheets: ReadonlySet<string>, formula: string): boolean {
  const range = rangeOf(formula);
  return range !== undefined && (range.sheet === undefined || sheets.has(range.sheet.toLowerCase()));
}

function rangeEntry(name: string, formula: string, kind: 'name' | 'table'): OutlineEntry {
  const area = rangeOf(formula);
  return {
    place: printFragment({ kind: 'name', name }),
    kind,
    depth: kind === 'table' ? 1 : 0,
    label: `${name} (${formula.replaceAll('$', '')})`,
    ...(area && { size: areaSize(area) }),
  };
}

const pictureEntry = ({ picture, name }: SheetPicture, number: number): OutlineEntry => ({
  place: `picture=${number}`,
  kind: 'picture',
  depth: 1,
  label: picture.alt ?? name,
  ...pointsOf(picture),
});

async function outlineSheet(book: Book, sheet: Sheet): Promise<OutlineEntry> {
  const area = (await readStated(book.zip, sheet.part)) ?? (await countedArea(book, sheet));
  const place = printFragment({ kind: 'cells', sheet: sheet.name, ...area });
  return {
    place,
    kind: 'sheet',
    depth: 0,
    label: sheet.name,
    ...(sheet.hidden && { isHidden: true as const }),
    size: areaSize(area),
  };
}

async function countedArea({ zip }: Book, sheet: Sheet): Promise<FullArea | undefined> {
  const area = usedArea({}, await readCorners(zip, sheet.part));
  return area && { rows: { from: 1, to: area.rows.to }, columns: { from: 1, to: area.columns.to } };
}
