import { type Cell, type Content, cellText, noMedia, parseFragment } from 'drawer';
import { type Format, formatNamed, type Insertion, type Source, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import { strFromU8, unzipSync } from 'fflate';
import { openDocument, relationships, workbookSource } from '../support/office.ts';
import { noteInWords } from '../support/said.ts';

const tools = nodeTools;
const load = (name: 'xlsx' | 'ods') => formatNamed(name).load() as Promise<Required<Format>>;

const range = (...rows: (string | number)[][]): Content => ({
  shape: 'cells',
  rows: rows.map((row) =>
    row.map(
      (value): Cell =>
        typeof value === 'number' ? { type: 'number', value, text: String(value) } : { type: 'text', value },
    ),
  ),
});

async function insert(
  name: 'xlsx' | 'ods',
  source: Source,
  place: string,
  content: Content,
  more: Partial<Insertion> = {},
) {
  const insertion = { content, media: noMedia, style: 'local' as const, ...more };
  const made = await (await load(name)).insert(source, parseFragment(place), insertion, tools);
  return { ...made, source: sourceOf(made.bytes, `x.${name}`), told: made.notes.map(noteInWords).join('; ') };
}

async function shown(name: 'xlsx' | 'ods', source: Source, place: string): Promise<string[][]> {
  const { content } = await (await load(name)).read(source, parseFragment(place), tools);
  return content.shape === 'cells' ? content.rows.map((row) => row.map(cellText)) : [];
}

const number = (address: string, value: number, style = ''): string => `<c r="${address}"${style}><v>${value}</v></c>`;
const text = (address: string, words: string): string => `<c r="${address}" t="inlineStr"><is><t>${words}</t></is></c>`;
const formula = (address: string, words: string, value: number): string =>
  `<c r="${address}"><f>${words}</f><v>${value}</v></c>`;

/** Three rows of goods with a formula each, which a table, names, a filter, rules and formulas here and there reach over. */
const rows = [
  [
    1,
    text('A1', 'Plank'),
    text('B1', 'Pieces'),
    text('C1', 'Price'),
    text('D1', 'Sum'),
    formula('F1', 'SUM(D2:D4)', 32),
  ],
  [2, text('A2', 'oak'), number('B2', 2), number('C2', 3), formula('D2', 'B2*C2', 6), formula('F2', 'SUM(D$2:D2)', 6)],
  [
    3,
    text('A3', 'elm'),
    number('B3', 4),
    number('C3', 5),
    formula('D3', 'B3*C3', 20),
    formula('F3', 'SUM(D$2:D3)', 26),
  ],
  [
    4,
    text('A4', 'ash'),
    number('B4', 1),
    number('C4', 6),
    formula('D4', 'B4*C4', 6),
    formula('F4', 'AVERAGE(B4:C4)', 3.5),
  ],
].map(([at, ...cells]) => `<row r="${at}">${cells.join('')}</row>`);
const rules =
  '<conditionalFormatting sqref="B2:B4 H2:H9"><cfRule type="cellIs" priority="1" operator="lessThan"><formula>AVERAGE($B$2:$B$4)</formula></cfRule></conditionalFormatting>' +
  '<dataValidations count="1"><dataValidation type="whole" sqref="B2:B4"><formula1>1</formula1></dataValidation></dataValidations>';

const book = (more = ''): Source =>
  workbookSource({
    sheets: {
      Goods: `<sheetData>${rows.join('')}</sheetData>${rules}<tableParts count="1"><tablePart r:id="rId9"/></tableParts>`,
      Sums: `<sheetData><row r="1">${formula('A1', 'SUM(Goods!B2:B4)+SUM(B2:B4)+SUM(Goods!B2:B3)', 13)}</row></sheetData>`,
    },
    names: '<definedName name="Pieces">Goods!$B$2:$B$4</definedName><definedName name="Oak">Goods!$B$2</definedName>',
    parts: {
      'xl/worksheets/_rels/sheet0.xml.rels': relationships({ rId9: 'table ../tables/table1.xml' }),
      'xl/tables/table1.xml': `<table xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" id="1" name="Planks" displayName="Planks" ref="A1:D4"${more}><autoFilter ref="A1:D4"/><tableColumns count="4"/></table>`,
    },
  });
const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name] as Uint8Array);

describe('rows below the last of a workbook', () => {
  test('are reached by all that ended there, and have the formulas of their columns', async () => {
    const made = await insert('xlsx', book(), 'Goods!A5', range(['fir', 3, 2], ['yew', 1, 1]));
    const sheet = part(made.bytes, 'xl/worksheets/sheet0.xml');
    expect(sheet).toContain('sqref="B2:B6 H2:H9"');
    expect(sheet).toContain('<formula>AVERAGE($B$2:$B$6)</formula>');
    expect(sheet).toMatch(/<dataValidation type="whole" sqref="B2:B6">/);
    expect(part(made.bytes, 'xl/tables/table1.xml')).toMatch(/ref="A1:D6".*<autoFilter ref="A1:D6"\/>/);
    expect(part(made.bytes, 'xl/workbook.xml')).toMatch(/>Goods!\$B\$2:\$B\$6<.*>Goods!\$B\$2</);
    expect(part(made.bytes, 'xl/worksheets/sheet1.xml')).toContain('SUM(Goods!B2:B6)+SUM(B2:B4)+SUM(Goods!B2:B3)');
    expect(await shown('xlsx', made.source, 'Goods!A5:D6')).toEqual([
      ['fir', '3', '2', '6'],
      ['yew', '1', '1', '1'],
    ]);
    // The sum below is the new one; running totals and what ends elsewhere are as they were.
    expect(await shown('xlsx', made.source, 'Goods!F1:F4')).toEqual([['39'], ['6'], ['26'], ['3.5']]);
    expect(await shown('xlsx', made.source, 'Sums!A1')).toEqual([['17']]);
    expect(made.told).toMatch(/^extended to the new rows: the formula in D4, a conditional format, .* and \d more$/);
  });

  test.each([
    ['over cells in use', 'Goods!A4', range(['fir', 3, 2]), true],
    ['further down', 'Goods!A6', range(['fir', 3, 2]), false],
    ['with a total of their own', 'Goods!A5', range(['fir', 3, 2], ['Total', 10, '']), false],
    ['beside them', 'Goods!J5', range(['fir', 3, 2]), false],
  ])('%s change none of it', async (_, place, content, over) => {
    const before = unzipSync(await book().read(0, book().size));
    const made = await insert('xlsx', book(), place, content, { over });
    expect(made.told).not.toContain('extended');
    const after = unzipSync(made.bytes);
    for (const name of ['xl/tables/table1.xml', 'xl/workbook.xml'])
      expect(strFromU8(after[name] as Uint8Array).replace(/<calcPr[^<>]*>/, '')).toBe(
        strFromU8(before[name] as Uint8Array),
      );
    expect(strFromU8(after['xl/worksheets/sheet0.xml'] as Uint8Array)).toContain(rules);
  });

  test('are reached in a spreadsheet of the other family too', async () => {
    const float = (value: number, more = ''): string =>
      `<table:table-cell${more} office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
    const row = (price: number, at: number): string =>
      `<table:table-row>${float(at)}${float(price, ' table:content-validation-name="val1"')}${float(at * price, ` table:formula="of:=[.A${at}]*[.B${at}]"`)}</table:table-row>`;
    const body =
      `<table:table table:name="S">${row(3, 1)}${row(5, 2)}${row(6, 3)}` +
      '<calcext:conditional-formats xmlns:calcext="urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"><calcext:conditional-format calcext:target-range-address="S.B1:S.B3"/></calcext:conditional-formats></table:table>' +
      `<table:table table:name="T"><table:table-row>${float(31, ` table:formula="of:=SUM([S.C1:.C3])+SUM([.C1:.C3])"`)}</table:table-row></table:table>` +
      '<table:named-expressions><table:named-range table:name="Prices" table:base-cell-address="$S.$A$1" table:cell-range-address="$S.$B$1:.$B$3"/></table:named-expressions>' +
      '<table:database-ranges><table:database-range table:name="Data" table:target-range-address="S.A1:S.C3"/></table:database-ranges>';
    const made = await insert('ods', openDocument('spreadsheet', { body }), 'S!A4', range([4, 2], [5, 1]));
    const content = part(made.bytes, 'content.xml');
    expect(content).toContain('calcext:target-range-address="S.B1:S.B5"');
    expect(content).toContain('table:cell-range-address="$S.$B$1:.$B$5"');
    expect(content).toContain('table:target-range-address="S.A1:S.C5"');
    expect(content).toContain('of:=SUM([S.C1:.C5])+SUM([.C1:.C3])');
    expect(content.match(/val1/g)).toHaveLength(5);
    expect(await shown('ods', made.source, 'S!A4:C5')).toEqual([
      ['4', '2', '8'],
      ['5', '1', '5'],
    ]);
    expect(await shown('ods', made.source, 'T!A1')).toEqual([['44']]);
    expect(made.told).toMatch(/^extended to the new rows: the formula in C3, .*the name Prices, the table Data/);
  });

  test('leave a table with a row of totals as it is', async () => {
    const made = await insert('xlsx', book(' totalsRowCount="1"'), 'Goods!A5', range(['fir', 3, 2]));
    expect(part(made.bytes, 'xl/tables/table1.xml')).toContain('ref="A1:D4"');
  });
});
