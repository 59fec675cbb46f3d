import { readAll } from 'drawer/formats';
import { documentBytes, openDocument, workbookSource } from './office.ts';

/** A file that is small, or of a usual size, and asks for far more time or memory than that; made here, so that none is committed. */
export interface Attack {
  readonly what: string;
  /** Its name, which tells its format. */
  readonly name: string;
  bytes(): Promise<Uint8Array> | Uint8Array;
}

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const times = (count: number, piece: (at: number) => string): string =>
  Array.from({ length: count }, (_, at) => piece(at)).join('');
const paragraph = (words: string): string => `<w:p><w:r><w:t>${words}</w:t></w:r></w:p>`;
const word = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';

/** Notes of which each names the next one twice, so that their words double with every one. */
const doubling = (count: number): string =>
  `a[^1]\n\n${times(count, (at) => `[^${at + 1}]: x[^${at + 2}][^${at + 2}]\n\n`)}`;

const documentWithNotes = (body: string, notes: string): Uint8Array =>
  documentBytes({
    body,
    links: { f: 'footnotes footnotes.xml' },
    parts: { 'word/footnotes.xml': `<w:footnotes ${word}>${notes}</w:footnotes>` },
  });
const reference = (id: number): string => `<w:r><w:footnoteReference w:id="${id}"/></w:r>`;
const note = (id: number, inside: string): string => `<w:footnote w:id="${id}"><w:p>${inside}</w:p></w:footnote>`;

const sheetOf = (rows: string) =>
  readAll(openDocument('spreadsheet', { body: `<table:table table:name="A">${rows}</table:table>` }));
const textOf = (body: string) => readAll(openDocument('text', { body }));

export const explosions: readonly Attack[] = [
  { what: 'Markdown notes that name each other', name: 'notes.md', bytes: () => utf8(doubling(24)) },
  { what: 'a long chain of Markdown notes', name: 'chain.md', bytes: () => utf8(doubling(150)) },
  {
    what: 'a Markdown note that names itself',
    name: 'self.md',
    bytes: () => utf8(`a[^1]\n\n[^1]: ${'x[^1] '.repeat(40)}\n`),
  },
  {
    what: 'very many references to one Markdown note',
    name: 'one.md',
    bytes: () => utf8(`${'a[^1] '.repeat(20_000)}\n\n[^1]: ${'words '.repeat(2_000)}\n`),
  },
  {
    what: 'notes of a document that name each other',
    name: 'notes.docx',
    bytes: () =>
      documentWithNotes(
        `<w:p>${reference(1)}</w:p>`,
        times(30, (at) => note(at + 1, `<w:r><w:t>x</w:t></w:r>${reference(at + 2).repeat(2)}`)),
      ),
  },
  {
    what: 'very many references to one note of a document',
    name: 'one.docx',
    bytes: () =>
      documentWithNotes(
        `<w:p>${reference(1).repeat(20_000)}</w:p>`,
        note(1, `<w:r><w:t>${'words '.repeat(2_000)}</w:t></w:r>`),
      ),
  },
  {
    what: 'notes of a page that name each other',
    name: 'notes.html',
    bytes: () =>
      utf8(
        `<!doctype html><p>a<a href="#fn1" role="doc-noteref">1</a></p><section role="doc-endnotes"><ol>${times(26, (at) => `<li id="fn${at + 1}" role="doc-endnote"><p>x<a href="#fn${at + 2}" role="doc-noteref">1</a><a href="#fn${at + 2}" role="doc-noteref">1</a></p></li>`)}</ol></section>`,
      ),
  },
  {
    what: 'very many references to one note of a page',
    name: 'one.html',
    bytes: () =>
      utf8(
        `<!doctype html><p>${'a<a href="#fn1" role="doc-noteref">1</a>'.repeat(20_000)}</p><section role="doc-endnotes"><ol><li id="fn1" role="doc-endnote"><p>${'words '.repeat(2_000)}</p></li></ol></section>`,
      ),
  },
  {
    what: 'repeated rows and columns of a sheet',
    name: 'repeats.ods',
    bytes: () =>
      sheetOf(
        '<table:table-row table:number-rows-repeated="1048576"><table:table-cell table:number-columns-repeated="16384" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>',
      ),
  },
  {
    what: 'rows that are repeated and differ',
    name: 'rows.ods',
    bytes: () =>
      sheetOf(
        times(
          40,
          (at) =>
            `<table:table-row table:number-rows-repeated="25000"><table:table-cell table:number-columns-repeated="${100 + at}" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>`,
        ),
      ),
  },
  {
    what: 'repeated columns of a table',
    name: 'columns.odt',
    bytes: () =>
      textOf(
        `<table:table>${'<table:table-column table:number-columns-repeated="1000000"/>'.repeat(50)}<table:table-row><table:table-cell><text:p>x</text:p></table:table-cell></table:table-row></table:table>`,
      ),
  },
  {
    what: 'repeated cells of a table',
    name: 'cells.odt',
    bytes: () =>
      textOf(
        `<table:table><table:table-row table:number-rows-repeated="1000000"><table:table-cell table:number-columns-repeated="1000000"><text:p>x</text:p></table:table-cell></table:table-row></table:table>`,
      ),
  },
  {
    what: 'two far cells of a workbook',
    name: 'far.xlsx',
    bytes: () =>
      readAll(
        workbookSource({
          sheets: {
            A: '<sheetData><row r="1"><c r="A1"><v>1</v></c></row><row r="1048576"><c r="XFD1048576"><v>2</v></c></row></sheetData>',
          },
        }),
      ),
  },
  {
    what: 'a far cell in each of many rows',
    name: 'diagonal.xlsx',
    bytes: () =>
      readAll(
        workbookSource({
          sheets: {
            A: `<sheetData>${times(16_000, (at) => `<row r="${at * 60 + 1}"><c r="A${at * 60 + 1}"><v>1</v></c><c r="XFD${at * 60 + 1}"><v>1</v></c></row>`)}</sheetData>`,
          },
        }),
      ),
  },
  {
    what: 'ragged separated values',
    name: 'ragged.csv',
    bytes: () => utf8(`${'a,'.repeat(16_000)}b\n${'x\n'.repeat(10_000)}`),
  },
  { what: 'very many fields', name: 'fields.csv', bytes: () => utf8('a,b\n'.repeat(4_000_000)) },
  {
    what: 'very many cells of a workbook',
    name: 'many.xlsx',
    bytes: () =>
      readAll(
        workbookSource({
          sheets: { A: `<sheetData>${`<row>${'<c><v>1</v></c>'.repeat(20)}</row>`.repeat(104_000)}</sheetData>` },
        }),
      ),
  },
  {
    what: 'very many cells of a spreadsheet',
    name: 'many.ods',
    bytes: () =>
      sheetOf(
        `<table:table-row>${'<table:table-cell office:value-type="float" office:value="1"/>'.repeat(20)}</table:table-row>`.repeat(
          104_000,
        ),
      ),
  },
  {
    what: 'three million empty paragraphs',
    name: 'empty.docx',
    bytes: () => documentBytes({ body: '<w:p/>'.repeat(3_000_000) }),
  },
  {
    what: 'three million empty paragraphs of OpenDocument',
    name: 'empty.odt',
    bytes: () => textOf('<text:p/>'.repeat(3_000_000)),
  },
  {
    what: 'three million empty paragraphs of a page',
    name: 'empty.html',
    bytes: () => utf8(`<!doctype html>${'<p>x'.repeat(1_000_000)}`),
  },
  {
    what: 'a table of very many cells that span',
    name: 'spans.html',
    bytes: () =>
      utf8(`<!doctype html><table>${`<tr>${'<td rowspan=60000 colspan=1000>x'.repeat(50)}</tr>`.repeat(50)}</table>`),
  },
  { what: 'a text of 60 MB', name: 'long.txt', bytes: () => utf8('words of a line that go on\n'.repeat(2_200_000)) },
  {
    what: 'a zip bomb of words',
    name: 'bomb.docx',
    bytes: () => documentBytes({ body: paragraph('a '.repeat(100_000_000)) }),
  },
];

export const slowReading: readonly Attack[] = [
  {
    what: 'a chain of styles',
    name: 'styles.docx',
    bytes: () =>
      documentBytes({
        body: `<w:p><w:pPr><w:pStyle w:val="s0"/></w:pPr><w:r><w:t>x</w:t></w:r></w:p>`,
        styles: times(
          9_000,
          (at) =>
            `<w:style w:type="paragraph" w:styleId="s${at}"><w:name w:val="n${at}"/><w:basedOn w:val="s${at + 1}"/></w:style>`,
        ),
      }),
  },
  {
    what: 'a chain of styles of OpenDocument',
    name: 'styles.odt',
    bytes: () =>
      readAll(
        openDocument('text', {
          body: '<text:p text:style-name="s0">x</text:p>',
          styles: times(
            9_000,
            (at) => `<style:style style:name="s${at}" style:family="paragraph" style:parent-style-name="s${at + 1}"/>`,
          ),
        }),
      ),
  },
  { what: 'quotes in quotes', name: 'quotes.md', bytes: () => utf8(`${'>'.repeat(50_000)} a\n`) },
  { what: 'lists in lists', name: 'lists.md', bytes: () => utf8(`${'- '.repeat(20_000)}a\n`) },
  { what: 'numbered lists in lists', name: 'numbers.md', bytes: () => utf8(`${'1. '.repeat(10_000)}a\n`) },
  { what: 'links that never end', name: 'links.md', bytes: () => utf8('[a]('.repeat(200_000)) },
  { what: 'brackets that never end', name: 'brackets.md', bytes: () => utf8('['.repeat(200_000)) },
  { what: 'emphasis that never ends', name: 'emphasis.md', bytes: () => utf8('*a_'.repeat(70_000)) },
  { what: 'headings by a line below', name: 'headings.md', bytes: () => utf8('a\n===\n'.repeat(20_000)) },
  { what: 'quotes and lines in turn', name: 'turns.md', bytes: () => utf8('> a\n\nb\n\n'.repeat(5_000)) },
  { what: 'quotes with lazy lines in turn', name: 'lazy.md', bytes: () => utf8('> a\nb\n'.repeat(20_000)) },
  {
    what: 'a number format of brackets',
    name: 'format.xlsx',
    bytes: () =>
      readAll(
        workbookSource({
          sheets: { A: '<sheetData><row r="1"><c r="A1" s="0"><v>1</v></c></row></sheetData>' },
          styles: `<numFmts><numFmt numFmtId="200" formatCode="${'[['.repeat(16_000)}0"/></numFmts><fonts><font/></fonts><fills><fill/></fills><cellXfs><xf numFmtId="200"/></cellXfs>`,
        }),
      ),
  },
  {
    what: 'elements in elements of a page',
    name: 'deep.html',
    bytes: () => utf8(`<!doctype html>${'<div>'.repeat(100_000)}x`),
  },
  {
    what: 'tables in tables',
    name: 'tables.docx',
    bytes: () =>
      documentBytes({
        body: `${'<w:tbl><w:tr><w:tc>'.repeat(3_000)}${paragraph('x')}${'</w:tc></w:tr></w:tbl>'.repeat(3_000)}`,
      }),
  },
];
