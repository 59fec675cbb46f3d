import type { CellsContent, Content, Message, Picture } from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
import { checkedWrite, cleaned } from '../checked-change.ts';
import {
  type Excerpt,
  type Format,
  type FormatName,
  type Insertion,
  NoteCounter,
  type Outline,
  type ReadTools,
  type SheetLines,
  type Source,
} from '../format.ts';
import { resolvePictures } from '../pictures.ts';
import type { AppendedRows } from './appended.ts';
import type { AreaCells, FullArea } from './area.ts';
import { chosenPictures, picturesContent, sheetsContent } from './content.ts';
import type { FilledCell, Grid } from './layout.ts';
import type { AnySheet, NamedPlace } from './places.ts';

/**
 * What a format of workbooks brings. Taking, inserting, new workbooks and forms are written once over it: see `sheetFormat`.
 */
export interface SheetCodec<N extends FormatName = FormatName> {
  readonly name: N;
  /** Opens a workbook for reading. @throws DrawerError `unreadable`, `too-large` */
  open(source: Source, tools: ReadTools): Promise<OpenWorkbook>;
  /** Opens the sheet that a place means, for a grid to land in. @throws DrawerError as `open`; `unsupported`, `not-found` */
  edit(source: Source, place: Fragment, landing: SheetLanding, tools: ReadTools): Promise<EditableSheet>;
  /** Defines a name for cells of a sheet, or moves an existing name to them. */
  nameCells(source: Source, name: string, cells: CellsOf, tools: ReadTools): Promise<Uint8Array>;
  readonly remove: NonNullable<Format['remove']>;
  /** The bytes of a new workbook with one empty sheet. */
  blank(sheetName: string): Promise<Uint8Array>;
}

/** Cells of a sheet. */
export interface CellsOf extends FullArea {
  readonly sheet: string;
}

/** Cells of a workbook that can be taken. */
interface Cells {
  read(notes: NoteCounter): Promise<AreaCells>;
}

/** A workbook that is open for reading. */
export interface OpenWorkbook {
  sheets(): Promise<readonly (Cells & { readonly name: string; readonly hidden: boolean })[]>;
  /** The cells that a place means; `called` is the place with the names of the workbook. @throws DrawerError `not-found` */
  find(place: Fragment): Promise<Cells & { readonly called?: string | undefined }>;
  /** Those laid over all of its sheets, in order; named by their parts. */
  pictures(): Promise<readonly Picture[]>;
  fetchPicture(part: string): Promise<Uint8Array | undefined>;
  /** Its sheets, without their cells, and the names that people gave to cells. */
  named(): Promise<{ readonly sheets: readonly AnySheet[]; readonly names: readonly NamedPlace[] }>;
  outline(): Promise<Outline>;
}

/** What is to land in a sheet. */
export interface SheetLanding {
  readonly grid: Grid;
  readonly insertion: Insertion;
  /** The cells that it replaces. */
  readonly instead?: FullArea | undefined;
}

/** A sheet that is open for a grid to land in. */
export interface EditableSheet {
  readonly name: string;
  readonly isProtected: boolean;
  /** The first cell of the place; below all rows, and in the first column shown, where the place does not say. */
  readonly corner: { readonly row: number; readonly column: number };
  /** The cells in use where the grid is to land. @throws DrawerError `unsupported` where it cannot, such as in a merged cell */
  taken(target: FullArea): Promise<readonly FilledCell[]>;
  /**
   * The workbook with the grid in its cells, and with fresh results.
   * @param appended - where the rows were put right below others: what reaches over those reaches over them too
   * @param told - filled in with what was extended
   */
  save(target: FullArea, appended: AppendedRows | undefined, told: Message[]): Promise<Uint8Array>;
}

type SheetFormat<N extends FormatName> = Required<
  Pick<Format, 'outline' | 'read' | 'remove' | 'insert' | 'checkMayChange' | 'create' | 'write' | 'slots' | 'fill'>
> & { readonly name: N };

/** A format of workbooks by its codec. The code that edits is loaded when it is used. */
export function sheetFormat<N extends FormatName>(codec: SheetCodec<N>): SheetFormat<N> {
  const editing = () => import('./edit-sheet.ts');
  return {
    name: codec.name,
    outline: async (source, tools = {}) => (await codec.open(source, tools)).outline(),
    read: async (source, fragment, tools = {}) => cleaned(await readSheetCells(codec, source, fragment, tools)),
    remove: (source, fragments, tools) => codec.remove(source, fragments.map(asName), tools),
    insert: async (source, fragment, insertion, tools = {}) =>
      (await editing()).insertIntoSheet(codec, source, fragment, insertion, tools),
    checkMayChange: async (source, fragment, tools = {}) =>
      (await editing()).checkSheet(codec, source, fragment, tools),
    create: async (fragment, insertion) => (await editing()).createWorkbook(codec, fragment, insertion),
    write: (content, options = {}) =>
      checkedWrite(content, async () => (await editing()).writeWorkbook(codec, content, options)),
    slots: async (source, tools = {}) => (await editing()).workbookSlots(codec, source, tools),
    fill: async (source, values, tools = {}) => (await editing()).fillWorkbook(codec, source, values, tools),
  };
}

/** What a place of a workbook holds. */
export async function readSheetCells(
  codec: Pick<SheetCodec, 'open'>,
  source: Source,
  fragment: Fragment,
  tools: ReadTools,
): Promise<Excerpt> {
  const workbook = await codec.open(source, tools);
  const notes = new NoteCounter();
  const { named, place, lines } = await readPlace(workbook, fragment, tools, notes);
  const { content, media } = await resolvePictures(named, (part) => workbook.fetchPicture(part), notes);
  return { content, media, notes: notes.notes, ...(place !== undefined && { place }), ...(lines && { lines }) };
}

async function readPlace(
  workbook: OpenWorkbook,
  fragment: Fragment,
  { hidden: includesHidden }: ReadTools,
  notes: NoteCounter,
): Promise<{ readonly named: Content; readonly place?: string | undefined; readonly lines?: SheetLines | undefined }> {
  if (fragment.kind === 'picture') {
    const pictures = chosenPictures(await workbook.pictures(), fragment);
    return { named: picturesContent(pictures), place: printFragment(fragment) };
  }
  if (fragment.kind !== 'whole') {
    const found = await workbook.find(asName(fragment));
    const { content, lines } = await found.read(notes);
    return { named: content, place: found.called, lines };
  }
  const all = await workbook.sheets();
  const shown = all.filter(({ hidden }) => includesHidden || !hidden);
  if (shown.length < all.length) notes.add('hidden-sheet-left', all.length - shown.length);
  const taken: { name: string; cells: CellsContent }[] = [];
  for (const { name, read } of shown) taken.push({ name, cells: (await read(notes)).content });
  return { named: sheetsContent(taken) };
}

/** In a workbook, a bookmark is a name for cells. */
export const asName = (fragment: Fragment): Fragment =>
  fragment.kind === 'bookmark' ? { kind: 'name', name: fragment.name } : fragment;
