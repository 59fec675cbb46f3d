import type { Fragment } from '../../../places/index.ts';
import {
  type Filled,
  type Inserted,
  type Insertion,
  type ReadTools,
  type Slot,
  type SlotValue,
  type Source,
  sourceOf,
} from '../../format.ts';
import { fillCells, formSlots } from '../../sheets/form-slots.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { blankPackage, openOdf } from '../package.ts';
import { insertOds } from './insert.ts';
import { readSheets, takeOds } from './read.ts';

/** A new spreadsheet of one sheet, called as the place says, with content in its cells. */
export function createOds(fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  const name =
    fragment.kind === 'cells' ? (fragment.sheet ?? plainName) : fragment.kind === 'name' ? fragment.name : plainName;
  const first = { from: 1, to: 1 };
  const place: Fragment =
    fragment.kind === 'cells' && fragment.rows ? fragment : { kind: 'cells', sheet: name, rows: first, columns: first };
  const blank = blankPackage({
    kind: 'spreadsheet',
    body: `<table:table table:name="${escapeAttribute(name)}"><table:table-column/><table:table-row><table:table-cell/></table:table-row></table:table>`,
    styles: '<office:styles><style:style style:name="Default" style:family="table-cell"/></office:styles>',
  });
  const style = insertion.style === 'local' ? 'original' : insertion.style;
  return insertOds(sourceOf(blank, 'new.ods'), place, { ...insertion, style });
}

const plainName = 'Sheet1';

export async function slotsOds(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { sheets, names } = await readSheets(await openOdf(source, tools), () => undefined);
  return formSlots(sheets, names, (place) => takeOds(source, place, tools));
}

export const fillOds = (source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled> =>
  fillCells(source, values, (form, place, insertion) => insertOds(form, place, insertion, tools), tools?.language);
