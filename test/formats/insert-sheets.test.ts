import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Cell, type Content, cellText, doc, noMedia, paragraph, parseFragment, run, table } from 'drawer';
import { type Format, formatNamed, type Inserted, type Insertion, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync, zipSync } from 'fflate';
import type { CellsContent } from '../../src/content/index.ts';
import { demoFiles } from '../support/cli.ts';
import { formatStyles, openDocument, relationships, workbookSource } from '../support/office.ts';

const demo = (name: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, name)));
type Able = Required<Pick<Format, 'read' | 'insert' | 'create'>>;
const load = async (name: 'xlsx' | 'ods' | 'csv'): Promise<Able> =>
  (await formatNamed(name).load()) as Required<Format>;
const insert = async (
  name: 'xlsx' | 'ods' | 'csv',
  bytes: Uint8Array,
  place: string,
  content: Content,
  asked: Partial<Insertion> = {},
): Promise<Inserted> =>
  (await load(name)).insert(sourceOf(bytes, `x.${name}`), parseFragment(place), {
    content,
    media: noMedia,
    style: 'local',
    ...asked,
  });
const rowsAt = async (
  name: 'xlsx' | 'ods' | 'csv',
  bytes: Uint8Array,
  place: string,
): Promise<CellsContent['rows']> => {
  const { content } = await (await load(name)).read(sourceOf(bytes, `x.${name}`), parseFragment(place));
  return content.shape === 'cells' ? content.rows : [];
};
const shown = async (bytes: Uint8Array, place: string): Promise<string[][]> =>
  (await rowsAt('xlsx', bytes, place)).map((row) => row.map(cellText));

const name = (value: string): Cell => ({ type: 'text', value });
const range = (...rows: Cell[][]): Content => ({ shape: 'cells', rows });
const book = async (rows: string, behind = ''): Promise<Uint8Array> => {
  const source = workbookSource({ sheets: { S: `<sheetData>${rows}</sheetData>${behind}` } });
  return source.read(0, source.size);
};
const sheetOf = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)['xl/worksheets/sheet0.xml'] as Uint8Array);

describe('a workbook', () => {
  it.each<[string, Content, Partial<Insertion>, string[][]]>([
    ['words in one cell', run('oak'), {}, [['oak']]],
    ['a block a cell', doc('a', 'b'), {}, [['a'], ['b']]],
    ['all in one cell', doc('a', 'b'), { spread: 'cell' }, [['a\nb']]],
    [
      'a table',
      doc(table(1, ['x', 'y'], ['1', '2'])),
      {},
      [
        ['x', 'y'],
        ['1', '2'],
      ],
    ],
    ['pieces down', doc(), { pieces: [run('a'), run('b')] }, [['a'], ['b']]],
    ['pieces across', doc(), { pieces: [run('a'), run('b')], spread: 'across' }, [['a', 'b']]],
    [
      'a piece a row, its parts along it',
      doc(),
      { pieces: [doc('a', 'b'), run('c')], spread: 'rows' },
      [
        ['a', 'b'],
        ['c', ''],
      ],
    ],
    ['what looks like a formula as words', run('=1+1'), {}, [['=1+1']]],
  ])('takes %s', async (_, content, asked, expected) => {
    const { bytes, cells } = await insert(
      'xlsx',
      await book('<row r="9"><c r="A9"><v>9</v></c></row>'),
      'S!B2',
      content,
      asked,
    );
    expect(await shown(bytes, cells ?? '')).toEqual(expected);
    expect(await shown(bytes, 'S!A9')).toEqual([['9']]);
  });

  it('keeps values typed, with their number format', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.oneof(
            fc
              .double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 })
              .map((value): Cell => ({ type: 'number', value, text: '', format: '0.00' })),
            fc
              .date({
                min: new Date('1901-01-01T00:00:00Z'),
                max: new Date('2100-01-01T00:00:00Z'),
                noInvalidDate: true,
              })
              .map(
                (day): Cell => ({
                  type: 'date',
                  value: day.toISOString().slice(0, 10),
                  text: '',
                  format: 'd mmm yyyy',
                }),
              ),
            fc.boolean().map((value): Cell => ({ type: 'boolean', value, text: '' })),
            fc.constantFrom('a', 'x & <y>', '  two  ', 'é\nnew', '_x0041_', '1', '=A1').map(name),
          ),
          { minLength: 1, maxLength: 5 },
        ),
        async (row) => {
          const { bytes } = await insert(
            'xlsx',
            await book('<row r="1"><c r="A1"><v>1</v></c></row>'),
            'S!C1',
            range(row),
          );
          const [back = []] = await rowsAt('xlsx', bytes, `S!C1:${String.fromCharCode(66 + row.length)}1`);
          expect(
            back.map((cell) => [cell.type, 'value' in cell && cell.value, 'format' in cell ? cell.format : undefined]),
          ).toEqual(
            row.map((cell) => [
              cell.type,
              'value' in cell && (Object.is(cell.value, -0) ? 0 : cell.value),
              'format' in cell ? cell.format : undefined,
            ]),
          );
        },
      ),
      { numRuns: 40 },
    ));

  it('holds a time of day in full, so that programs that cut seconds off show the same minute', async () => {
    const time = fc.tuple(fc.nat(23), fc.nat(59)).map((parts) => parts.map((part) => String(part).padStart(2, '0')));
    const of = ([hours, minutes]: string[]): Cell => ({
      type: 'date',
      value: `${hours}:${minutes}:00`,
      text: '',
      format: 'hh:mm',
    });
    await fc.assert(
      fc.asyncProperty(fc.array(time, { minLength: 1, maxLength: 20 }), async (times) => {
        const { bytes } = await insert('xlsx', await book(''), 'S!A1', range(times.map(of)));
        const values = [...sheetOf(bytes).matchAll(/<v>([^<]*)</g)].map(([, value]) => Number(value));
        expect(values).toEqual(times.map(([hours, minutes]) => (Number(hours) * 60 + Number(minutes)) / 1440));
      }),
      { numRuns: 20 },
    );
  });

  it('names the cells that hold something, and leaves them unless told', async () => {
    const bytes = await book(
      '<row r="1"><c r="A1" t="inlineStr"><is><t>oak</t></is></c><c r="B1"><f>A1</f><v>7</v></c></row>',
    );
    await expect(insert('xlsx', bytes, 'S!A1', range([name('x'), name('y')]))).rejects.toMatchObject({
      code: 'consent',
      params: { cells: ['A1 “oak”', 'B1 “7”'] },
    });
    const over = await insert('xlsx', bytes, 'S!A1', range([name('x'), name('y')]), { over: true });
    expect([await shown(over.bytes, 'S!A1:B1'), over.replaced]).toEqual([[['x', 'y']], ['A1 “oak”', 'B1 “7”']]);
  });

  it.each([
    ['merged cells', 'S!A1', '<mergeCells><mergeCell ref="A1:B1"/></mergeCells>', /merged/],
    ['a protected sheet', 'S!A1', '<sheetProtection sheet="1"/>', /protected/],
  ])('leaves %s alone', async (_, place, behind, message) => {
    await expect(insert('xlsx', await book('', behind), place, range([name('x'), name('y')]))).rejects.toMatchObject({
      reason: expect.stringMatching(message),
    });
  });

  it('leaves the headings of its tables alone, and formulas that others share', async () => {
    const heads = '<c r="A1" t="inlineStr"><is><t>Item</t></is></c><c r="B1" t="inlineStr"><is><t>Price</t></is></c>';
    const shared = '<c r="D1"><f t="shared" ref="D1:D2" si="0">1+1</f><v>2</v></c>';
    const source = workbookSource({
      sheets: {
        S: `<sheetData><row r="1">${heads}${shared}</row><row r="2"><c r="D2"><f t="shared" si="0"/><v>2</v></c></row></sheetData><tableParts count="1"><tablePart r:id="t"/></tableParts>`,
      },
      parts: {
        'xl/worksheets/_rels/sheet0.xml.rels': relationships({ t: 'table ../tables/table1.xml' }),
        'xl/tables/table1.xml':
          '<table xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" id="1" name="Costs" displayName="Costs" ref="A1:B2"><tableColumns count="2"><tableColumn id="1" name="Item"/><tableColumn id="2" name="Price"/></tableColumns></table>',
      },
    });
    const bytes = await source.read(0, source.size);
    const over = { over: true };
    await expect(insert('xlsx', bytes, 'S!B1', run('Cost'), over)).rejects.toMatchObject({
      reason: 'table-headings-in-way',
      params: { table: 'Costs', row: '1' },
    });
    await expect(insert('xlsx', bytes, 'S!D1', run('x'), over)).rejects.toMatchObject({
      reason: 'formula-shared',
      params: { cell: 'D1' },
    });
    const below = await insert('xlsx', bytes, 'S!B2', run('12'), over);
    expect(await shown(below.bytes, 'S!A1:B2')).toEqual([
      ['Item', 'Price'],
      ['', '12'],
    ]);
    expect(await shown((await insert('xlsx', bytes, 'S!D2', run('x'), over)).bytes, 'S!D1:D2')).toEqual([['2'], ['x']]);
  });

  it('looks in a new cell as its row does, else as its column', async () => {
    const source = workbookSource({
      sheets: {
        S: '<cols><col min="2" max="2" width="9" style="2"/></cols><sheetData><row r="1" s="1" customFormat="1"/><row r="2" s="1"/></sheetData>',
      },
      styles: formatStyles('0', '0.0', '0.00'),
    });
    const { bytes } = await insert('xlsx', await source.read(0, source.size), 'S!B1', doc('a', 'b', 'c'));
    expect(sheetOf(bytes).match(/<c r="B\d" s="\d"/g)).toEqual([
      '<c r="B1" s="1"',
      '<c r="B2" s="2"',
      '<c r="B3" s="2"',
    ]);
  });

  it('puts rows and cells where they belong, and a row’s own format on new ones', async () => {
    const before = '<row r="2" spans="1:2"><c r="B2" s="0"><v>2</v></c></row><row r="5"><c r="A5"><v>5</v></c></row>';
    const { bytes } = await insert('xlsx', await book(before), 'S!A2', range([name('a')], [name('b')], [name('c')]));
    expect(
      sheetOf(bytes)
        .match(/ r="[A-Z]?\d+"/g)
        ?.map((each) => each.slice(4, -1)),
    ).toEqual(['2', 'A2', 'B2', '3', 'A3', '4', 'A4', '5', 'A5']);
    const appended = await insert('xlsx', await book(before), '', run('end'));
    expect(appended.where.params).toEqual({ place: 'S!A6' });
    const empty = await insert(
      'xlsx',
      await book('').then((all) =>
        zipSync({
          ...unzipSync(all),
          'xl/worksheets/sheet0.xml': Buffer.from(sheetOf(all).replace('<sheetData></sheetData>', '<sheetData/>')),
        }),
      ),
      'S!A1',
      run('x'),
    );
    expect(await shown(empty.bytes, 'S!A1')).toEqual([['x']]);
  });

  it('has its formulas worked out again, and every other part as it was', async () => {
    const bytes = demo('budget.xlsx');
    const { bytes: after } = await insert('xlsx', bytes, 'Lines!A4', run('Deck'));
    const [old, now] = [unzipSync(bytes), unzipSync(after)];
    const changed = Object.keys(now).filter(
      (part) => !old[part] || strFromU8(old[part]) !== strFromU8(now[part] as Uint8Array),
    );
    expect(changed.sort()).toEqual(['xl/workbook.xml', 'xl/worksheets/sheet1.xml']);
    expect(strFromU8(now['xl/workbook.xml'] as Uint8Array)).toContain('fullCalcOnLoad="1"');
  });

  it('adds a format once, however many cells want it', async () => {
    const price = (value: number): Cell => ({ type: 'number', value, text: '', format: '"£"#,##0.000' });
    const { bytes } = await insert(
      'xlsx',
      demo('budget.xlsx'),
      'Lines!E1',
      range(...Array.from({ length: 30 }, (_, index) => [price(index)])),
    );
    const again = await insert('xlsx', bytes, 'Lines!G1', range([price(1)]));
    const styles = (all: Uint8Array): string => strFromU8(unzipSync(all)['xl/styles.xml'] as Uint8Array);
    expect(styles(bytes).match(/#,##0\.000/g)).toHaveLength(1);
    expect(styles(again.bytes)).toBe(styles(bytes));
  });

  it('can be new, its sheet called as the place says', async () => {
    const { bytes, where } = await (await load('xlsx')).create(parseFragment("'My log'!B2"), {
      content: doc(paragraph('x')),
      media: noMedia,
      style: 'local',
    });
    expect([where.params?.place, await shown(bytes, "'My log'!B2")]).toEqual(["'My log'!B2", [['x']]]);
  });
});

describe('an open spreadsheet', () => {
  const sheet = (rows: string): string => `<table:table table:name="S"><table:table-column/>${rows}</table:table>`;
  const row = (cells: string, more = ''): string => `<table:table-row${more}>${cells}</table:table-row>`;
  const float = (value: number, more = ''): string =>
    `<table:table-cell${more} office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
  const put = async (
    body: string,
    place: string,
    content: Content,
    asked: Partial<Insertion> = {},
  ): Promise<string> => {
    const source = openDocument('spreadsheet', { body });
    const { bytes } = await insert('ods', await source.read(0, source.size), place, content, asked);
    return (
      /<office:spreadsheet>(.*)<\/office:spreadsheet>/s.exec(
        strFromU8(unzipSync(bytes)['content.xml'] as Uint8Array),
      )?.[1] ?? ''
    );
  };
  const x = '<table:table-cell office:value-type="string"><text:p>x</text:p></table:table-cell>';

  it.each<[string, string, string, string]>([
    ['beside a cell', row(float(1)), 'S!B1', row(float(1) + x)],
    [
      'with room between',
      row(float(1)),
      'S!D1',
      row(`${float(1)}<table:table-cell table:number-columns-repeated="2"/>${x}`),
    ],
    [
      'below the last row',
      row(float(1)),
      'S!A4',
      `${row(float(1))}${row('<table:table-cell/>', ' table:number-rows-repeated="2"')}${row(x)}`,
    ],
    [
      'into one of several that a cell stands for',
      row('<table:table-cell table:style-name="c" table:number-columns-repeated="3"/>'),
      'S!B1',
      row(
        '<table:table-cell table:style-name="c"/><table:table-cell table:style-name="c" office:value-type="string"><text:p>x</text:p></table:table-cell><table:table-cell table:style-name="c"/>',
      ),
    ],
    [
      'into one of several that a row stands for',
      row('<table:table-cell/>', ' table:number-rows-repeated="3"'),
      'S!A2',
      row('<table:table-cell/>') + row(x) + row('<table:table-cell/>'),
    ],
  ])('takes words %s', async (_, before, place, after) => {
    expect(await put(sheet(before), place, run('x'))).toBe(sheet(after));
  });

  it('drops the results of formulas, and names what holds something', async () => {
    const formula =
      '<table:table-cell table:formula="of:=[.A1]*2" office:value-type="float" office:value="2"><text:p>2</text:p></table:table-cell>';
    const body = sheet(row(float(1)) + row(formula));
    await expect(put(body, 'S!A1', run('x'))).rejects.toMatchObject({ code: 'consent' });
    expect(await put(body, 'S!A1', run('x'), { over: true })).toBe(
      sheet(
        row(x) + row('<table:table-cell table:formula="of:=[.A1]*2" office:value-type="float"></table:table-cell>'),
      ),
    );
  });

  it('leaves a protected sheet alone, and cells that others cover', async () => {
    const locked = `<table:table table:name="S" table:protected="true"><table:table-column/>${row(float(1))}</table:table>`;
    await expect(put(locked, 'S!A2', run('x'))).rejects.toMatchObject({
      reason: 'sheet-protected',
    });
    const merged = sheet(row(`${float(1, ' table:number-columns-spanned="2"')}<table:covered-table-cell/>`));
    await expect(put(merged, 'S!B1', run('x'))).rejects.toMatchObject({
      reason: 'cell-merged',
    });
  });

  it('keeps values typed, with their number format', async () => {
    const cells: Cell[] = [
      { type: 'number', value: 1250, text: '£1,250.00', format: '"£"#,##0.00' },
      { type: 'number', value: 0.25, text: '25%', format: '0%' },
      { type: 'date', value: '2026-05-03', text: '3 May 2026', format: 'd mmm yyyy' },
      { type: 'date', value: '09:30:00', text: '09:30', format: 'hh:mm' },
      { type: 'boolean', value: true, text: 'TRUE' },
      name('two  spaces\nand a line'),
    ];
    const { bytes } = await insert('ods', demo('crew.ods'), 'Hours!F1', range(cells));
    const [back = []] = await rowsAt('ods', bytes, 'Hours!F1:K1');
    // Without a style that says so, office programs show a truth value as 1.
    const xml = strFromU8(unzipSync(bytes)['content.xml'] as Uint8Array);
    const truth = /<number:boolean-style style:name="(\w+)"><number:boolean\/><\/number:boolean-style>/.exec(xml);
    expect(xml).toContain(`style:data-style-name="${truth?.[1]}"`);
    expect(
      back.map((cell) => [cell.type, 'value' in cell && cell.value, 'format' in cell ? cell.format : undefined]),
    ).toEqual(
      cells.map((cell) => [cell.type, 'value' in cell && cell.value, 'format' in cell ? cell.format : undefined]),
    );
  });
});

describe('separated values', () => {
  const insertText = async (
    before: string,
    place: string,
    content: Content,
    asked?: Partial<Insertion>,
  ): Promise<string> => strFromU8((await insert('csv', new TextEncoder().encode(before), place, content, asked)).bytes);

  it.each<[string, string, Content, Partial<Insertion>, string]>([
    ['a,b\n1,2\n3,4\n', 'row=2', range([name('x')]), {}, 'a,b\n1,2\nx,\n3,4\n'],
    ['a,b\n1,2\n3,4\n', 'row=2', range([name('x')]), { side: 'before' }, 'a,b\nx,\n1,2\n3,4\n'],
    ['a,b\n1,2\n3,4', '', range([name('x')]), {}, 'a,b\n1,2\n3,4\nx,'],
    ['a;b\r\n1;2\r\n', 'row=2', range([name('x;y'), name('z')]), { side: 'replace' }, 'a;b\r\n"x;y";z\r\n'],
    ['"a","b"\n"1",""\n', 'B2', run('say "hi"'), {}, '"a","b"\n"1","say ""hi"""\n'],
    ['a,b\n1\n', 'C2', run('z'), {}, 'a,b\n1,,z\n'],
    ['a,b\n', 'A2', run('=SUM(A1)'), {}, "a,b\n'=SUM(A1)\n"],
    ['a,b\n', 'A2', run('-12'), {}, 'a,b\n-12\n'],
    ['', '', doc('x', 'y'), {}, 'x\ny\n'],
  ])('%j #%s %j', async (before, place, content, asked, expected) => {
    expect(await insertText(before, place, content, asked)).toBe(expected);
  });

  it('names the fields that hold something', async () => {
    await expect(insertText('a,b\n', 'A1', run('x'))).rejects.toMatchObject({ code: 'consent' });
  });
});

it.each(['xlsx', 'ods'] as const)('refuses what would go past the end of a sheet of .%s', async (kind) => {
  const bytes = demo(kind === 'xlsx' ? 'budget.xlsx' : 'crew.ods');
  await expect(insert(kind, bytes, 'A1048576', doc('a', 'b'))).rejects.toMatchObject({ code: 'too-large' });
  const { cells } = await insert(kind, bytes, 'A1048576', run('the last'));
  expect(cells).toMatch(/A1048576$/);
});
