import { type Content, DrawerError, type Message, noMedia } from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
import { checkPlaces } from '../bounds.ts';
import { checkBookmarkName } from '../capabilities.ts';
import {
  type Filled,
  type Inserted,
  type Insertion,
  NoteCounter,
  type ReadTools,
  type Slot,
  type SlotValue,
  type Source,
  sourceOf,
  type WriteOptions,
} from '../format.ts';
import { appendedRows, extensionNotes } from './appended.ts';
import { areaOf, type FullArea, holds } from './area.ts';
import { fillCells, formSlots } from './form-slots.ts';
import {
  cellsTaken,
  checkFree,
  checkSheetMayChange,
  type FilledCell,
  type Grid,
  type GridCell,
  layOut,
} from './layout.ts';
import { findSheetArea } from './places.ts';
import { asName, type SheetCodec } from './sheet-format.ts';

/** The workbook with cells filled; those that hold something give way only when that is said. */
export async function insertIntoSheet(
  codec: SheetCodec,
  source: Source,
  fragment: Fragment,
  insertion: Insertion,
  tools: ReadTools,
): Promise<Inserted> {
  const { bookmark } = insertion;
  if (bookmark !== undefined) checkName(bookmark);
  const { grid: laid, notes } = layOut(insertion, { laysPictures: bookmark === undefined });
  const { place, instead } = await landingPlace(codec, source, fragment, insertion, tools);
  const grid = instead ? withCleared(laid, instead) : laid;
  const sheet = await codec.edit(source, place, { grid, insertion, instead }, tools);
  checkSheetMayChange(sheet);
  const { row, column } = sheet.corner;
  const target = areaOf(grid, row, column);
  const taken = await sheet.taken(target);
  checkFree(instead ? taken.filter((cell) => !holds(instead, areaOfCell(cell))) : taken, insertion.over);
  const told: Message[] = [];
  const appended = instead ? undefined : appendedRows(grid, sheet.name, target, taken);
  const filled = await sheet.save(target, appended, told);
  const area = areaOf(laid, row, column);
  const bytes =
    bookmark === undefined
      ? filled
      : await codec.nameCells(sourceOf(filled, source.name), bookmark, { sheet: sheet.name, ...area }, tools);
  const cells = printFragment({ kind: 'cells', sheet: sheet.name, ...area });
  return {
    bytes,
    notes: [...notes, ...extensionNotes(told)],
    where: { kind: 'landed.cells', params: { place: cells } },
    cells,
    ...(taken.length > 0 && { replaced: cellsTaken(taken) }),
  };
}

/** Checks that the sheet of a place may change. @throws DrawerError `unsupported` */
export async function checkSheet(
  codec: SheetCodec,
  source: Source,
  fragment: Fragment,
  tools: ReadTools,
): Promise<void> {
  const insertion: Insertion = {
    content: { shape: 'cells', rows: [[{ type: 'empty' }]] },
    media: noMedia,
    style: 'local',
  };
  const { place } = await landingPlace(codec, source, fragment, insertion, tools);
  const { grid } = layOut(insertion, { laysPictures: false });
  checkSheetMayChange(await codec.edit(source, place, { grid, insertion }, tools));
}

/** Checks a name for cells, which must not read as a cell reference (ISO/IEC 29500-1, 18.2.5). @throws DrawerError `invalid` */
function checkName(name: string): void {
  checkBookmarkName(name);
  if (/^(?:[A-Za-z]{1,3}\d+|r\d*|c\d*|r\d*c\d*)$/i.test(name)) throw new DrawerError('invalid/bookmark-name', { name });
}

/** Resolves where content lands: after a bookmark, instead of the cells that it names, or at any other place. */
async function landingPlace(
  codec: SheetCodec,
  source: Source,
  fragment: Fragment,
  { side }: Insertion,
  tools: ReadTools,
): Promise<{ readonly place: Fragment; readonly instead?: FullArea }> {
  if (fragment.kind === 'whole') return { place: { kind: 'cells' } };
  if (fragment.kind !== 'bookmark' || (side !== 'replace' && side !== 'after')) return { place: asName(fragment) };
  const { sheets, names } = await (await codec.open(source, tools)).named();
  const { sheet, rows, columns } = findSheetArea(sheets, names, asName(fragment));
  if (!rows || !columns) return { place: asName(fragment) };
  const whole = { rows, columns };
  const place = { kind: 'cells', sheet: sheet.name } as const;
  if (side === 'replace') return { place: { ...place, ...whole }, instead: whole };
  // A blank row keeps the ranges apart; rows right below others would extend them.
  const below = rows.to + 2;
  return { place: { ...place, rows: { from: below, to: below }, columns } };
}

const areaOfCell = ({ row, column }: FilledCell): FullArea => ({
  rows: { from: row, to: row },
  columns: { from: column, to: column },
});

/** Fills the rest of an area with empty cells, so that what it held is cleared. */
function withCleared(grid: Grid, { rows, columns }: FullArea): Grid {
  const lines = new Map(grid.map(({ offset, cells }) => [offset, cells]));
  const [height, width] = [rows.to - rows.from + 1, columns.to - columns.from + 1];
  checkPlaces(height, width, 0);
  for (let offset = 0; offset < height; offset++) {
    const line = lines.get(offset) ?? [];
    const cells = Array.from({ length: Math.max(width, line.length) }, (_, at): GridCell | undefined =>
      at < width ? (line[at] ?? { type: 'empty' }) : line[at],
    );
    lines.set(offset, cells);
  }
  return [...lines].sort(([one], [other]) => one - other).map(([offset, cells]) => ({ offset, cells }));
}

const plainName = 'Sheet1';
const first = { from: 1, to: 1 };

/** A new workbook of one sheet, called as the place says, with content in its cells. */
export async function createWorkbook(codec: SheetCodec, fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  const name =
    fragment.kind === 'cells' ? (fragment.sheet ?? plainName) : fragment.kind === 'name' ? fragment.name : plainName;
  const place: Fragment =
    fragment.kind === 'cells' && fragment.rows ? fragment : { kind: 'cells', sheet: name, rows: first, columns: first };
  const style = insertion.style === 'local' ? 'original' : insertion.style;
  const blank = sourceOf(await codec.blank(name), `new.${codec.name}`);
  return insertIntoSheet(codec, blank, place, { ...insertion, style }, {});
}

/** The bytes of a new workbook of one sheet. */
export async function writeWorkbook(
  codec: SheetCodec,
  content: Content,
  { media = noMedia, language, sheet = plainName }: WriteOptions,
): Promise<Uint8Array> {
  const insertion: Insertion = { content, media, style: 'original', languages: [language] };
  return (await createWorkbook(codec, { kind: 'name', name: sheet }, insertion)).bytes;
}

/** The named cells of a workbook, and the cells beside its labels. */
export async function workbookSlots(codec: SheetCodec, source: Source, tools: ReadTools): Promise<readonly Slot[]> {
  const workbook = await codec.open(source, tools);
  const { sheets, names } = await workbook.named();
  return formSlots(sheets, names, async (place) => {
    const { content } = await (await workbook.find(place)).read(new NoteCounter());
    return content;
  });
}

/** The form with values in its cells. */
export const fillWorkbook = (
  codec: SheetCodec,
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  tools: ReadTools,
): Promise<Filled> =>
  fillCells(
    source,
    values,
    (form, place, insertion) => insertIntoSheet(codec, form, place, insertion, tools),
    tools.language,
  );
