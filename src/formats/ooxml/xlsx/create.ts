import { pack } from '../../package/replace.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { TargetFormats } from './target-formats.ts';

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const types = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const packageSpace = 'http://schemas.openxmlformats.org/package/2006';
const sheetType = 'application/vnd.openxmlformats-officedocument.spreadsheetml';

/** The least that a workbook is (ISO/IEC 29500-1, 12.3). */
export function blankWorkbook(sheet: string): Uint8Array {
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
