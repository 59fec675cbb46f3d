import { copyFileSync, readFileSync } from 'node:fs';
import { type Cell, noMedia, parseFragment } from 'drawer';
import { type Format, formatNamed, sourceOf } from 'drawer/formats';
import { readFromFile, wholeOf } from 'drawer/node';
import { strFromU8, unzipSync } from 'fflate';
import { type Workplace, workplace } from '../support/cli.ts';
import { openDocument, workbookSource } from '../support/office.ts';
import { noteInWords } from '../support/said.ts';

/** Results of formulas after an edit: right, or absent and said so. */

const cellsOf = async (format: Format, bytes: Uint8Array, place = ''): Promise<readonly (readonly Cell[])[]> => {
  const taken = await format.read?.(sourceOf(bytes, 'x'), parseFragment(place), { hidden: true });
  if (taken?.content.shape !== 'cells') throw new Error('it is no range');
  return taken.content.rows;
};
const number = (value: number) => ({
  content: { shape: 'cells', rows: [[{ type: 'number', value, text: String(value) }]] } as const,
  media: noMedia,
  style: 'local' as const,
  over: true,
});

/** A column of 1, 2, 3, 4 and formulas beside it, each with the result that is kept for these. */
const formulas: readonly [formula: string, kept: number | string, after: number | string | boolean | undefined][] = [
  ['SUM(A1:A4)', 10, 19],
  ['SUM($A$1:A2)*2+1', 7, 25],
  ['A1/A2-A3%', 0.47, 9.97 / 2 + -9.97 / 2 + (10 / 2 - 3 / 100)],
  ['ROUND(AVERAGE(A1:A4),1)', 2.5, 4.8],
  ['IF(A1>5,MAX(A1:A4),MIN(A1:A4))', 1, 10],
  ['COUNT(A1:A5)', 4, 4],
  ['SUBTOTAL(9,A1:A4)', 10, 19],
  ['B1+B2', 17, 44],
  ['-A1^2', 1, 100],
  ['A1/A5', '#DIV/0!', '#DIV/0!'],
  ['"n: "&A1', 'n: 1', 'n: 10'],
  ['A2*2', 4, 4],
  ['VLOOKUP(A1,A1:A4,1)', 1, undefined],
  ['A1&"x"&A3/A2', '1x1.5', undefined],
];

it('are worked out anew in a workbook where that is certain, and stay where nothing they lean on changed', async () => {
  const format = await formatNamed('xlsx').load();
  const value = (kept: number | string): string => (typeof kept === 'number' ? `<v>${kept}</v>` : `<v>${kept}</v>`);
  const type = (kept: number | string): string =>
    typeof kept === 'number' ? '' : kept.startsWith('#') ? ' t="e"' : ' t="str"';
  const rows = formulas.map(([formula, kept], at) => {
    const own = at < 4 ? `<c r="A${at + 1}"><v>${at + 1}</v></c>` : '';
    return `<row r="${at + 1}">${own}<c r="B${at + 1}"${type(kept)}><f>${formula.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')}</f>${value(kept)}</c></row>`;
  });
  const source = workbookSource({ sheets: { Sheet1: `<sheetData>${rows.join('')}</sheetData>` } });
  const inserted = await format.insert?.(source, parseFragment('A1'), number(10));
  const now = await cellsOf(format, inserted?.bytes as Uint8Array, 'B1:B14');
  for (const [at, [formula, , after]] of formulas.entries()) {
    const cell = now[at]?.[0];
    const found = cell && 'value' in cell ? cell.value : undefined;
    if (typeof after === 'number') expect([formula, found]).toEqual([formula, expect.closeTo(after, 10)]);
    else expect([formula, found]).toEqual([formula, after]);
  }
  const taken = await format.read?.(sourceOf(inserted?.bytes as Uint8Array, 'x'), parseFragment('B1:B14'));
  expect(taken?.notes.map(noteInWords).join()).toMatch(/2 results are out of date/);
});

it('are worked out anew in an open spreadsheet, and those that lean on nothing new are as they were', async () => {
  const format = await formatNamed('ods').load();
  const cell = (value: number, formula = ''): string =>
    `<table:table-cell${formula === '' ? '' : ` table:formula="of:=${formula}"`} office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
  const source = openDocument('spreadsheet', {
    body: `<table:table table:name="S"><table:table-row>${cell(1)}${cell(3, 'SUM([.A1:.A2])')}${cell(4, '[.A2]*2')}</table:table-row><table:table-row>${cell(2)}${cell(6, '[.B1]*2')}</table:table-row></table:table>`,
  });
  const inserted = await format.insert?.(source, parseFragment('A1'), number(10));
  const now = await cellsOf(format, inserted?.bytes as Uint8Array);
  expect(now.map((row) => row.map((each) => ('value' in each ? each.value : undefined)))).toEqual([
    [10, 12, 4],
    [2, 24, undefined],
  ]);
  const xml = strFromU8(unzipSync(inserted?.bytes as Uint8Array)['content.xml'] as Uint8Array);
  expect(xml).toContain(cell(4, '[.A2]*2'));
});

describe('of the demo budget', () => {
  let place: Workplace;
  beforeEach(() => {
    place = workplace();
    copyFileSync(place.demo('costs.xlsx'), place.path('costs.xlsx'));
  });
  afterEach(() => place.remove());

  it('are there for whoever reads it next', async () => {
    await place.run('copy', '--text', '£2,000.00');
    expect((await place.run('paste', '1', '--into', 'costs.xlsx#Timber!C2', '--over')).code).toBe(0);
    const { content } = await readFromFile({
      ...wholeOf(place.path('costs.xlsx')),
      fragment: parseFragment('Timber!C6'),
    });
    expect(content).toMatchObject({ rows: [[{ type: 'number', value: 3178.05 }]] });
    const before = readFileSync(place.demo('costs.xlsx'));
    await place.run('undo');
    expect(readFileSync(place.path('costs.xlsx')).equals(before)).toBe(true);
  });
});
