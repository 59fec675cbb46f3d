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
import { pack } from '../../package/replace.ts';
import { fillCells, formSlots } from '../../sheets/form-slots.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { insertXlsx } from './insert.ts';
import { openWorkbook, takeXlsx } from './read.ts';
import { TargetFormats } from './target-formats.ts';

/** A new workbook of one sheet, called as the place says, with content in its cells. */
export function createXlsx(fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  const name =
    fragment.kind === 'cells' ? (fragment.sheet ?? plainName) : fragment.kind === 'name' ? fragment.name : plainName;
  const place: Fragment =
    fragment.kind === 'cells' && fragment.rows ? fragment : { kind: 'cells', sheet: name, rows: first, columns: first };
  return insertXlsx(sourceOf(blankWorkbook(name.slice(0, 31)), 'new.xlsx'), place, {
    ...insertion,
    style: insertion.style === 'local' ? 'original' : insertion.style,
  });
}

const plainName = 'Sheet1';
const first = { from: 1, to: 1 };

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const types = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const packageSpace = 'http://schemas.openxmlformats.org/package/2006';
const sheetType = 'application/vnd.openxmlformats-officedocument.spreadsheetml';

/** The least that a workbook is (ISO/IEC 29500-1, 12.3). */
function blankWorkbook(sheet: string): Uint8Array {
  const part = (source: string): Uint8Array =>
    new TextEncoder().encode(`<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n${source}`);
  return pack(
    new Map([
      [
        '[Content_Types].xml',
        part(
          `<Types xmlns="${packageSpace}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${sheetType}.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${sheetType}.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="${sheetType}.styles+xml"/></Types>`,
        ),
      ],
      [
        '_rels/.rels',
        part(
          `<Relationships xmlns="${packageSpace}/relationships"><Relationship Id="rId1" Type="${types}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
        ),
      ],
      [
        'xl/workbook.xml',
        part(
          `<workbook xmlns="${main}" xmlns:r="${types}"><sheets><sheet name="${escapeAttribute(sheet)}" sheetId="1" r:id="rId1"/></sheets></workbook>`,
        ),
      ],
      [
        'xl/_rels/workbook.xml.rels',
        part(
          `<Relationships xmlns="${packageSpace}/relationships"><Relationship Id="rId1" Type="${types}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="${types}/styles" Target="styles.xml"/></Relationships>`,
        ),
      ],
      [
        'xl/worksheets/sheet1.xml',
        part(
          `<worksheet xmlns="${main}"><sheetFormatPr defaultColWidth="16" defaultRowHeight="15"/><sheetData/></worksheet>`,
        ),
      ],
      ['xl/styles.xml', new TextEncoder().encode(new TargetFormats(undefined).text)],
    ]),
  );
}

export async function slotsXlsx(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { workbook } = await openWorkbook(source, tools);
  const shown = workbook.names.filter(({ hidden }) => !hidden);
  return formSlots(workbook.sheets, shown, (place) => takeXlsx(source, place, tools));
}

export const fillXlsx = (source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled> =>
  fillCells(source, values, (form, place, insertion) => insertXlsx(form, place, insertion, tools), tools?.language);
