import { type Content, type Message, noMedia } from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
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
import { areaOf } from './area.ts';
import { fillCells, formSlots } from './form-slots.ts';
import { cellsTaken, checkFree, checkSheetMayChange, layOut } from './layout.ts';
import type { SheetCodec } from './sheet-format.ts';

/** The workbook with cells filled; those that hold something give way only when that is said. */
export async function insertIntoSheet(
  codec: SheetCodec,
  source: Source,
  fragment: Fragment,
  insertion: Insertion,
  tools: ReadTools,
): Promise<Inserted> {
  const { grid, notes } = layOut(insertion, { laysPictures: true });
  const place: Fragment = fragment.kind === 'whole' ? { kind: 'cells' } : fragment;
  const sheet = await codec.edit(source, place, { grid, insertion }, tools);
  checkSheetMayChange(sheet);
  const target = areaOf(grid, sheet.corner.row, sheet.corner.column);
  const taken = await sheet.taken(target);
  checkFree(taken, insertion.over);
  const told: Message[] = [];
  const bytes = await sheet.save(target, appendedRows(grid, sheet.name, target, taken), told);
  const cells = printFragment({ kind: 'cells', sheet: sheet.name, ...target });
  return {
    bytes,
    notes: [...notes, ...extensionNotes(told)],
    where: { kind: 'landed.cells', params: { place: cells } },
    cells,
    ...(taken.length > 0 && { replaced: cellsTaken(taken) }),
  };
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
    const { content } = await (await workbook.find(place)).take(new NoteCounter());
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
