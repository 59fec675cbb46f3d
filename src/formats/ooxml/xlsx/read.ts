import {
  type Block,
  type Cell,
  type CellsContent,
  type Content,
  cellsToTable,
  DrawerError,
  noMedia,
} from '../../../content/index.ts';
import { type Fragment, maxColumns, maxRows, parseFragment, printFragment, type Span } from '../../../places/index.ts';
import type { Outline, OutlineEntry, ReadTools, Source, Taken } from '../../format.ts';
import { nearest } from '../../nearest.ts';
import { NoteCounter } from '../../notes.ts';
import type { Zip } from '../../package/zip.ts';
import type { XmlHandler } from '../../xml/read-xml.ts';
import { namespaces } from '../namespaces.ts';
import { openPackage, type Relationships, readPart, readRelationships, relatedPart } from '../opc.ts';
import { typedCell } from './cells.ts';
import { type Area, type MergedArea, readMerges, readSheet, type SheetPart } from './sheet.ts';
import { readStrings } from './strings.ts';
import { readCellStyles } from './styles.ts';
import { type DefinedName, readWorkbook, type Sheet, type Workbook } from './workbook.ts';

export async function takeXlsx(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken> {
  const book = await openWorkbook(source, tools);
  const notes = new NoteCounter();
  const content =
    fragment.kind === 'whole'
      ? await takeAll(book, notes)
      : await takeArea(book, findArea(book.workbook, fragment), notes);
  const place = fragment.kind === 'whole' ? undefined : printFragment(fragment);
  return { content, media: noMedia, notes: notes.notes, ...(place !== undefined && { place }) };
}

export async function outlineXlsx(source: Source, tools?: ReadTools): Promise<Outline> {
  const book = await openWorkbook(source, tools);
  const entries: OutlineEntry[] = [];
  for (const sheet of book.workbook.sheets) entries.push(await outlineSheet(book, sheet));
  return { entries, notes: [] };
}

interface Book {
  readonly zip: Zip;
  readonly main: string;
  readonly relationships: Relationships;
  readonly workbook: Workbook;
}

async function openWorkbook(source: Source, tools?: ReadTools): Promise<Book> {
  const { zip, main } = await openPackage(source, tools);
  const relationships = await readRelationships(zip, main);
  return { zip, main, relationships, workbook: await readWorkbook(zip, main, relationships) };
}

// --- Finding the place -----------------------------------------------------------------------------------------------

interface SheetArea extends Area {
  readonly sheet: Sheet;
}

function findArea(workbook: Workbook, fragment: Fragment): SheetArea {
  switch (fragment.kind) {
    case 'cells':
      return { ...fragment, sheet: findSheet(workbook, fragment.sheet) };
    case 'name':
      return findNamed(workbook, fragment.name);
    default:
      throw new DrawerError({
        code: 'not-found',
        what: `A workbook has no place of the kind “${fragment.kind}”`,
        next: `Name a range of cells, such as #${placeOf(workbook.sheets[0])}B2:D9`,
      });
  }
}

/** A sheet's name in front of a range, as a place has it. */
const placeOf = (sheet: Sheet | undefined): string =>
  sheet ? printFragment({ kind: 'cells', sheet: sheet.name }) : '';

function findSheet({ sheets }: Workbook, name: string | undefined): Sheet {
  const found =
    name === undefined
      ? (sheets.find(({ hidden }) => !hidden) ?? sheets[0])
      : sheets.find((sheet) => sheet.name.toLowerCase() === name.toLowerCase());
  if (found) return found;
  const near = nearest(
    name ?? '',
    sheets.map((sheet) => sheet.name),
  );
  throw new DrawerError({
    code: 'not-found',
    what: name === undefined ? 'The workbook has no sheet' : `There is no sheet “${name}”`,
    ...(near !== undefined && { next: `The nearest is #${placeOf(sheets.find((sheet) => sheet.name === near))}` }),
  });
}

/** A bare name is a defined name that stands for one range (ISO/IEC 29500-1, 18.2.5), or else a sheet. */
function findNamed(workbook: Workbook, name: string): SheetArea {
  const defined = workbook.names.find((each) => each.name.toLowerCase() === name.toLowerCase());
  if (defined) return findDefined(workbook, defined);
  const sheet = workbook.sheets.find((each) => each.name.toLowerCase() === name.toLowerCase());
  if (sheet) return { sheet };
  const near = nearest(
    name,
    [...workbook.sheets, ...workbook.names].map((each) => each.name),
  );
  throw new DrawerError({
    code: 'not-found',
    what: `There is no sheet or name “${name}”`,
    ...(near !== undefined && { next: `The nearest is #${near}` }),
  });
}

function findDefined(workbook: Workbook, { name, formula }: DefinedName): SheetArea {
  const fragment = formula.includes('#') ? undefined : parseFragment(formula); // a broken reference says #REF!
  if (fragment?.kind === 'cells') return { ...fragment, sheet: findSheet(workbook, fragment.sheet) };
  throw new DrawerError({
    code: 'unsupported',
    what: `The name “${name}” does not stand for one range of cells`,
    next: 'Name the cells themselves, such as #Timber!B2:D9',
  });
}

// --- Taking ----------------------------------------------------------------------------------------------------------

/** A workbook with one sheet in use is that sheet's range; one with several is a heading and a table for each. */
async function takeAll(book: Book, notes: NoteCounter): Promise<Content> {
  const taken: { name: string; cells: CellsContent }[] = [];
  for (const sheet of book.workbook.sheets) {
    if (sheet.hidden) notes.add('hidden sheet, left out');
    else taken.push({ name: sheet.name, cells: await takeArea(book, { sheet }, notes) });
  }
  const used = taken.filter(({ cells }) => cells.rows.length > 0);
  const [only] = used;
  if (used.length === 1 && only) return only.cells;
  return {
    shape: 'blocks',
    blocks: used.flatMap(({ name, cells }): Block[] => [
      { type: 'heading', level: 2, inlines: [{ type: 'text', text: name }] },
      cellsToTable(cells),
    ]),
  };
}

const empty: CellsContent = { shape: 'cells', rows: [] };

async function takeArea(
  { zip, relationships, workbook }: Book,
  { sheet, ...asked }: SheetArea,
  notes: NoteCounter,
): Promise<CellsContent> {
  const part = await readSheet(zip, sheet.part, asked);
  const styleOf = await readCellStyles(zip, relatedPart(zip, relationships, 'styles'));
  const strings = await readStrings(zip, relatedPart(zip, relationships, 'sharedStrings'), lastString(part));
  const context = { styleOf, strings, epoch1904: workbook.epoch1904 };
  const typed = new Map(part.cells.map((cell) => [`${cell.row},${cell.column}`, typedCell(cell, context)]));
  const area = usedArea(asked, part, typed);
  if (!area) return empty;
  const rows = visible(area.rows, (row) => part.hiddenRows.has(row), 'hidden row, left out', notes);
  const columns = visible(
    area.columns,
    (column) => part.hiddenColumns.some(({ from, to }) => from <= column && column <= to),
    'hidden column, left out',
    notes,
  );
  const at = (row: number, column: number): Cell => typed.get(`${row},${column}`) ?? { type: 'empty' };
  const hasEmpty = rows.some((row) => columns.some((column) => at(row, column).type === 'empty'));
  const merges = hasEmpty ? await readMerges(zip, sheet.part, area) : [];
  const spans = mergeSpans(merges, rows, columns);
  const widths = columns.map((column) => part.columnWidths.get(column) ?? 0);
  return {
    shape: 'cells',
    rows: rows.map((row) => columns.map((column) => ({ ...at(row, column), ...spans.get(`${row},${column}`) }))),
    ...(widths.every((width) => width > 0) && { columnWidths: widths }),
  };
}

const lastString = ({ cells }: SheetPart): number =>
  cells.reduce((last, { type, value }) => (type === 's' ? Math.max(last, Number(value)) : last), -1);

/** What was asked for, without what lies past the last cell in use; whole rows, columns and sheets start at the first in use. */
function usedArea({ rows, columns }: Area, part: SheetPart, typed: ReadonlyMap<string, Cell>): MergedArea | undefined {
  const used = part.cells.filter(({ row, column }) => typed.get(`${row},${column}`)?.type !== 'empty');
  if (used.length === 0) return undefined;
  const bounds = (own: Span | undefined, key: 'row' | 'column', last: number): Span => {
    const numbers = used.map((cell) => cell[key]);
    const [first, end] = [
      numbers.reduce((one, other) => Math.min(one, other)),
      numbers.reduce((one, other) => Math.max(one, other)),
    ];
    return own ? { from: own.from, to: Math.max(end, Math.min(own.to, last)) } : { from: first, to: end };
  };
  return { rows: bounds(rows, 'row', part.lastRow), columns: bounds(columns, 'column', part.lastColumn) };
}

function visible(
  { from, to }: Span,
  isHidden: (number: number) => boolean,
  what: string,
  notes: NoteCounter,
): number[] {
  const all = Array.from({ length: to - from + 1 }, (_, index) => from + index);
  const shown = all.filter((number) => !isHidden(number));
  if (shown.length < all.length) notes.add(what, all.length - shown.length);
  return shown;
}

/** The span of each merged area's first visible cell, counted in visible rows and columns of the area. */
function mergeSpans(
  merges: readonly MergedArea[],
  rows: readonly number[],
  columns: readonly number[],
): ReadonlyMap<string, Pick<Cell, 'rowSpan' | 'columnSpan'>> {
  const spans = new Map<string, Pick<Cell, 'rowSpan' | 'columnSpan'>>();
  const inside = (numbers: readonly number[], { from, to }: Span): number[] =>
    numbers.filter((number) => from <= number && number <= to);
  for (const merge of merges) {
    const [mergedRows, mergedColumns] = [inside(rows, merge.rows), inside(columns, merge.columns)];
    const span = {
      ...(mergedRows.length > 1 && { rowSpan: mergedRows.length }),
      ...(mergedColumns.length > 1 && { columnSpan: mergedColumns.length }),
    };
    if (Object.keys(span).length > 0) spans.set(`${mergedRows[0]},${mergedColumns[0]}`, span);
  }
  return spans;
}

// --- Outline ---------------------------------------------------------------------------------------------------------

async function outlineSheet({ zip }: Book, sheet: Sheet): Promise<OutlineEntry> {
  const area = (await statedArea(zip, sheet)) ?? (await countedArea(zip, sheet));
  const place = printFragment({ kind: 'cells', sheet: sheet.name, ...area });
  const size = area ? `${area.rows.to - area.rows.from + 1} × ${area.columns.to - area.columns.from + 1}` : 'empty';
  return { place, kind: 'sheet', depth: 0, label: sheet.hidden ? `${sheet.name} (hidden)` : sheet.name, size };
}

/** The used range as the sheet itself states it (18.3.1.35), if it does so with more than one cell. */
async function statedArea(zip: Zip, sheet: Sheet): Promise<MergedArea | undefined> {
  let reference: string | undefined;
  let done = false;
  const handler: XmlHandler = {
    open(name, { ref }) {
      if (name === 'dimension') reference = ref;
      done ||= name === 'dimension' || name === 'sheetData';
    },
    close: () => {},
    done: () => done,
  };
  await readPart(zip, sheet.part, namespaces, handler);
  const fragment = reference?.includes(':') ? parseFragment(reference) : undefined;
  return fragment?.kind === 'cells' && fragment.rows && fragment.columns
    ? { rows: fragment.rows, columns: fragment.columns }
    : undefined;
}

async function countedArea(zip: Zip, sheet: Sheet): Promise<MergedArea | undefined> {
  const { lastRow, lastColumn, cells } = await readSheet(zip, sheet.part, {
    rows: { from: 1, to: maxRows },
    columns: { from: 1, to: maxColumns },
  });
  return cells.some(({ value }) => value !== '')
    ? { rows: { from: 1, to: lastRow }, columns: { from: 1, to: lastColumn } }
    : undefined;
}
