import { type Cell, parseFragment } from 'drawer';
import { type Source, sourceOf } from 'drawer/formats';
import { xlsx } from 'drawer/formats/xlsx';
import type { CellsContent } from '../../src/content/index.ts';
import { formatStyles, type WorkbookParts, workbookSource } from '../support/office.ts';
import { inWords, noteInWords } from '../support/said.ts';

const takeFrom = (source: Source, place: string) => xlsx.read(source, parseFragment(place));
const cellsOf = async (parts: WorkbookParts, place: string): Promise<readonly (readonly Cell[])[]> =>
  ((await takeFrom(workbookSource(parts), place)).content as CellsContent).rows;
const textsOf = async (parts: WorkbookParts, place: string): Promise<string[][]> =>
  (await cellsOf(parts, place)).map((row) =>
    row.map((cell) => (cell.type === 'empty' ? '' : 'text' in cell ? cell.text : cell.value)),
  );

/** One sheet whose first column holds these cells, a row each. */
const column = (...cells: string[]): Record<string, string> => ({
  S: `<sheetData>${cells.map((cell, index) => `<row r="${index + 1}">${cell.replace('<c', `<c r="A${index + 1}"`)}</row>`).join('')}</sheetData>`,
});

describe('values', () => {
  it('are typed, from every way of storing them', async () => {
    const sheets = column(
      '<c t="s"><v>1</v></c>',
      '<c t="inlineStr"><is><r><t>in</t></r><r><t>line</t></r></is></c>',
      '<c t="str"><f>A1&amp;"x"</f><v>larchx</v></c>',
      '<c t="b"><v>1</v></c>',
      '<c t="e"><f>1/0</f><v>#DIV/0!</v></c>',
      '<c><v>0.30000000000000004</v></c>',
      '<c t="d"><v>2026-05-03T00:00:00</v></c>',
      '<c/>',
      '<c t="s"><v>2</v></c>',
    );
    const strings =
      '<si><t>oak</t></si><si><r><t>lar</t></r><r><t>ch</t></r><rPh sb="0" eb="1"><t>never</t></rPh></si><si><t>a_x000D_b</t></si>';
    expect((await cellsOf({ sheets, strings }, 'S!A1:A9')).map(([cell]) => cell)).toEqual([
      { type: 'text', value: 'larch' },
      { type: 'text', value: 'inline' },
      { type: 'text', value: 'larchx', formula: 'A1&"x"' },
      { type: 'boolean', value: true, text: 'TRUE' },
      { type: 'error', value: '#DIV/0!', formula: '1/0' },
      { type: 'number', value: 0.30000000000000004, text: '0.3' },
      { type: 'date', value: '2026-05-03', text: '2026-05-03' },
      { type: 'empty' },
      { type: 'text', value: 'a\rb' },
    ]);
  });

  it.each([
    ['"£"#,##0.00', 1250, '£1,250.00'],
    ['[$£-809]#,##0.00;[RED]-[$£-809]#,##0.00', -12.5, '-£12.50'],
    ['[$€-407]#,##0.00', 1008, '€1,008.00'],
    ['0.0%', 0.31, '31.0%'],
    ['# ?/?', 1.5, '1 1/2'],
    ['#,##0;(#,##0);"nil"', 0, 'nil'],
    ['[>=1000]0.0,"k";0', 2500, '2.5k'],
    ['d mmm yyyy', 46145, '3 May 2026'],
    ['[h]:mm', 1.5, '36:00'],
    ['yyyy-mm-dd hh:mm', 46145.75, '2026-05-03 18:00'],
    ['not [a format', 7, '7'],
    ['#,##0.00', 1234567890.5, '1,234,567,890.50'],
    ['#,##0', 1e17, '100,000,000,000,000,000'],
    ['0.00', 1e16, '10000000000000000.00'],
    ['General', 1234567.891234567, '1234567.891'],
    ['General', -0.000123456789, '-0.000123457'],
  ])('show by the format %s as their workbook shows them', async (code, value, shown) => {
    expect(await textsOf({ sheets: column(`<c s="0"><v>${value}</v></c>`), styles: formatStyles(code) }, 'A1')).toEqual(
      [[shown]],
    );
  });

  it('count dates from 1900 or from 1904', async () => {
    const parts = {
      sheets: column('<c s="0"><v>1</v></c>', '<c s="0"><v>61</v></c>', '<c s="0"><v>0.5</v></c>'),
      styles: formatStyles('yyyy-mm-dd hh:mm:ss'),
    };
    const dates = async (properties: string) =>
      (await cellsOf({ ...parts, properties }, 'A1:A3')).map(([cell]) => cell?.type === 'date' && cell.value);
    expect(await dates('<workbookPr/>')).toEqual(['1900-01-01', '1900-03-01', '12:00:00']);
    expect(await dates('<workbookPr date1904="1"/>')).toEqual(['1904-01-02', '1904-03-02', '12:00:00']);
  });

  it('keep the look of their cells where it differs from the workbook’s own', async () => {
    const styles = `<fonts><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="14"/><color rgb="FFB5482F"/><name val="Calibri"/></font></fonts>
      <fills><fill/><fill><patternFill patternType="solid"><fgColor rgb="FFE6ECEF"/></patternFill></fill></fills>
      <cellXfs><xf fontId="0" fillId="0"/><xf fontId="1" fillId="1"><alignment horizontal="center"/></xf></cellXfs>`;
    expect(
      await cellsOf({ sheets: column('<c s="1"><v>1</v></c>', '<c s="0"><v>2</v></c>'), styles }, 'A1:A2'),
    ).toEqual([
      [
        {
          type: 'number',
          value: 1,
          text: '1',
          marks: { bold: true, size: 14, colour: '#b5482f' },
          background: '#e6ecef',
          align: 'center',
        },
      ],
      [{ type: 'number', value: 2, text: '2' }],
    ]);
  });
});

const c = (reference: string, value: number | '') => `<c r="${reference}">${value === '' ? '' : `<v>${value}</v>`}</c>`;
const grid: WorkbookParts = {
  sheets: {
    First: `<sheetData><row r="2">${c('B2', 1)}${c('C2', 2)}</row><row r="4">${c('B4', 3)}${c('D4', 4)}</row></sheetData>`,
    'Sources of money': `<sheetData><row>${'<c><v>5</v></c><c><v>6</v></c>'}</row></sheetData>`,
    Merged: `<sheetData><row r="1">${c('A1', 1)}${c('B1', '')}${c('C1', 2)}</row><row r="2">${c('A2', '')}</row><row r="3">${c('A3', 7)}${c('C3', 3)}</row></sheetData><mergeCells count="1"><mergeCell ref="A1:B2"/></mergeCells>`,
    Hidden: `<cols><col min="2" max="2" hidden="1" width="9"/></cols><sheetData><row r="1">${c('A1', 1)}${c('B1', 2)}${c('C1', 3)}</row><row r="2" hidden="1">${c('A2', 4)}</row><row r="3">${c('A3', 5)}</row></sheetData>`,
  },
  names:
    '<definedNames><definedName name="Prices">First!$B$2:$C$2</definedName><definedName name="Broken">#REF!</definedName></definedNames>',
};

describe('ranges', () => {
  it.each<[string, string[][]]>([
    [
      'First!B2:C4',
      [
        ['1', '2'],
        ['', ''],
        ['3', ''],
      ],
    ],
    [
      'First',
      [
        ['1', '2', ''],
        ['', '', ''],
        ['3', '', '4'],
      ],
    ],
    [
      'First!C:D',
      [
        ['2', ''],
        ['', ''],
        ['', '4'],
      ],
    ],
    ['first!2:2', [['1', '2']]],
    ['B2', [['1']]],
    [
      'First!A1:Z99',
      [
        ['', '', '', ''],
        ['', '1', '2', ''],
        ['', '', '', ''],
        ['', '3', '', '4'],
      ],
    ],
    ["'Sources of money'!A1:B1", [['5', '6']]],
    ['Prices', [['1', '2']]],
    ['First!X1:Z9', []],
  ])('%s', async (place, expected) => {
    expect(await textsOf(grid, place)).toEqual(expected);
  });

  it('carry merged areas as spans, also when only part of one is taken', async () => {
    expect(await cellsOf(grid, 'Merged!A1:C3')).toMatchObject([
      [{ value: 1, rowSpan: 2, columnSpan: 2 }, { type: 'empty' }, { value: 2 }],
      [{}, {}, {}],
      [{ value: 7 }, {}, { value: 3 }],
    ]);
    expect((await cellsOf(grid, 'Merged!A2:C3'))[0]?.[0]).toEqual({ type: 'empty', columnSpan: 2 });
  });

  it('leave hidden rows and columns out, and say so', async () => {
    const taken = await takeFrom(workbookSource(grid), 'Hidden!A1:C3');
    expect(
      (taken.content as CellsContent).rows.map((row) => row.map((cell) => ('value' in cell ? cell.value : ''))),
    ).toEqual([
      [1, 3],
      [5, ''],
    ]);
    expect(taken.notes.map((note) => [noteInWords(note).split(',')[0], note.count])).toEqual([
      ['hidden row', 1],
      ['hidden column', 1],
    ]);
  });

  it('are the whole workbook when nothing is said: a heading and a table for each sheet', async () => {
    const { content } = await takeFrom(workbookSource(grid), '');
    expect(content.shape === 'blocks' && content.blocks.map(({ type }) => type)).toEqual([
      'heading',
      'table',
      'heading',
      'table',
      'heading',
      'table',
      'heading',
      'table',
    ]);
    expect((await takeFrom(workbookSource({ sheets: column('<c><v>1</v></c>') }), '')).content.shape).toBe('cells');
  });

  it.each([
    ['Frist!A1', 'not-found', { near: 'First!' }],
    ['Prises', 'not-found', { near: 'Prices' }],
    ['Broken', 'unsupported', { name: 'Broken' }],
    ['section=Hull', 'unsupported', { example: 'First!B2:D9' }],
  ])('%s is an error that says what would do', async (place, code, next) => {
    await expect(takeFrom(workbookSource(grid), place)).rejects.toMatchObject({
      code,
      params: next,
    });
  });
});

it('lists every sheet with its used range', async () => {
  const outline = await xlsx.outline(workbookSource(grid));
  expect(outline.entries.map(({ place, size }) => [place, inWords(size)])).toEqual([
    ['First!A1:D4', '4 × 4'],
    ["'Sources of money'!A1:B1", '1 × 2'],
    ['Merged!A1:C3', '3 × 3'],
    ['Hidden!A1:C3', '3 × 3'],
    ['Prices', '1 × 2'],
  ]);
});

it('reads no more of a sheet than the range needs', async () => {
  const rows = Array.from(
    { length: 20_000 },
    (_, row) => `<row r="${row + 1}"><c r="A${row + 1}"><v>${Math.sin(row)}</v></c></row>`,
  ).join('');
  const source = workbookSource({ sheets: { Long: `<sheetData>${rows}</sheetData>` } });
  let read = 0;
  const counting: Source = {
    ...source,
    read: (start, end) => {
      read += end - start;
      return source.read(start, end);
    },
  };
  await takeFrom(counting, 'Long!A1:A9');
  expect(read).toBeLessThan(source.size / 2);
});

it('makes one clear error of any flipped byte', async () => {
  const source = workbookSource(grid);
  const whole = await source.read(0, source.size);
  for (let at = 0; at < whole.length; at += 5) {
    const bytes = whole.map((byte, index) => (index === at ? byte ^ 0xff : byte));
    await takeFrom(sourceOf(bytes, 'x.xlsx'), 'First!A1:D4').catch((error) =>
      expect(error).toMatchObject({ name: 'DrawerError' }),
    );
  }
});
