import { type Source, sourceOf } from 'drawer/formats';
import { strToU8, zipSync } from 'fflate';

/** Small office files built from the XML that a test is about. */

const types = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

export const relationships = (entries: Record<string, string>): string =>
  `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${Object.entries(entries)
    .map(([id, entry]) => {
      const [type, target] = entry.split(' ');
      const external = target?.includes('://') || target?.includes(':') ? ' TargetMode="External"' : '';
      return `<Relationship Id="${id}" Type="${types}/${type}" Target="${target}"${external}/>`;
    })
    .join('')}</Relationships>`;

export const zipOf = (parts: Record<string, string | Uint8Array>): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries(parts).map(([name, part]) => [name, typeof part === 'string' ? strToU8(part) : part]),
    ),
  );

const word =
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';

export interface DocumentParts {
  readonly body: string;
  readonly styles?: string;
  readonly numbering?: string;
  readonly links?: Record<string, string>;
  readonly parts?: Record<string, string | Uint8Array>;
}

export function documentBytes({
  body,
  styles = '',
  numbering = '',
  links = {},
  parts = {},
}: DocumentParts): Uint8Array {
  return zipOf({
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': relationships({ rId1: 'officeDocument word/document.xml' }),
    'word/_rels/document.xml.rels': relationships({ s: 'styles styles.xml', n: 'numbering numbering.xml', ...links }),
    'word/document.xml': `<w:document ${word}><w:body>${body}</w:body></w:document>`,
    'word/styles.xml': `<w:styles ${word}>${styles}</w:styles>`,
    'word/numbering.xml': `<w:numbering ${word}>${numbering}</w:numbering>`,
    ...parts,
  });
}

export const documentSource = (parts: DocumentParts): Source => sourceOf(documentBytes(parts), 'test.docx');

const sheetNamespace =
  'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';

export interface WorkbookParts {
  /** The inside of each sheet, by name. */
  readonly sheets: Record<string, string>;
  readonly styles?: string;
  readonly strings?: string;
  readonly properties?: string;
  readonly names?: string;
  readonly links?: Record<string, string>;
  readonly parts?: Record<string, string | Uint8Array>;
}

export function workbookSource({
  sheets,
  styles = '',
  strings = '',
  properties = '',
  names = '',
  links = {},
  parts = {},
}: WorkbookParts): Source {
  const list = Object.keys(sheets);
  const bytes = zipOf({
    '_rels/.rels': relationships({ rId1: 'officeDocument xl/workbook.xml' }),
    'xl/_rels/workbook.xml.rels': relationships({
      st: 'styles styles.xml',
      ss: 'sharedStrings sharedStrings.xml',
      ...Object.fromEntries(list.map((_, index) => [`s${index}`, `worksheet worksheets/sheet${index}.xml`])),
      ...links,
    }),
    'xl/workbook.xml': `<workbook ${sheetNamespace}>${properties}<sheets>${list.map((name, index) => `<sheet name="${name}" sheetId="${index + 1}" r:id="s${index}"/>`).join('')}</sheets>${names}</workbook>`,
    'xl/styles.xml': `<styleSheet ${sheetNamespace}>${styles}</styleSheet>`,
    'xl/sharedStrings.xml': `<sst ${sheetNamespace}>${strings}</sst>`,
    ...Object.fromEntries(
      list.map((name, index) => [
        `xl/worksheets/sheet${index}.xml`,
        `<worksheet ${sheetNamespace}>${sheets[name]}</worksheet>`,
      ]),
    ),
    ...parts,
  });
  return sourceOf(bytes, 'test.xlsx');
}

/** A number format for each code, as the cell formats 0, 1, 2 … */
export const formatStyles = (...codes: string[]): string =>
  `<numFmts>${codes.map((code, index) => `<numFmt numFmtId="${200 + index}" formatCode="${code.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}"/>`).join('')}</numFmts>
   <fonts><font><sz val="11"/><name val="Calibri"/></font></fonts><fills><fill/></fills>
   <cellXfs>${codes.map((_, index) => `<xf numFmtId="${200 + index}" fontId="0" fillId="0"/>`).join('')}</cellXfs>`;

const openNamespaces = Object.entries({
  office: 'office',
  style: 'style',
  text: 'text',
  table: 'table',
  number: 'datastyle',
  draw: 'drawing',
  fo: 'xsl-fo-compatible',
  svg: 'svg-compatible',
})
  .map(([prefix, name]) => `xmlns:${prefix}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
  .concat('xmlns:xlink="http://www.w3.org/1999/xlink"')
  .join(' ');

export interface OpenDocumentParts {
  /** The inside of the body: paragraphs, or sheets. */
  readonly body: string;
  readonly automatic?: string;
  readonly styles?: string;
  readonly parts?: Record<string, string | Uint8Array>;
}

/** An OpenDocument file built from the XML that a test is about; its list of parts names a file of declarations, as old ones do. */
export function openDocument(
  kind: 'text' | 'spreadsheet',
  { body, automatic = '', styles = '', parts = {} }: OpenDocumentParts,
): Source {
  const bytes = zipOf({
    mimetype: `application/vnd.oasis.opendocument.${kind}`,
    'content.xml': `<office:document-content ${openNamespaces}><office:automatic-styles>${automatic}</office:automatic-styles><office:body><office:${kind}>${body}</office:${kind}></office:body></office:document-content>`,
    'styles.xml': `<office:document-styles ${openNamespaces}><office:styles>${styles}</office:styles></office:document-styles>`,
    'META-INF/manifest.xml':
      '<!DOCTYPE manifest:manifest PUBLIC "-//OpenOffice.org//DTD Manifest 1.0//EN" "Manifest.dtd"><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>',
    ...parts,
  });
  return sourceOf(bytes, kind === 'text' ? 'x.odt' : 'x.ods');
}
