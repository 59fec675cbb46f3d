import { readFileSync, writeFileSync } from 'node:fs';
import { type Cell, type Content, compose, doc, paragraph, run, type Table, table } from 'drawer';
import { readFromFile, wholeOf } from 'drawer/node';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import type { Composable } from '../../src/compose/index.ts';
import { decimalText, parseDecimal, sumDecimals, ValueReader } from '../../src/content/index.ts';
import { type Workplace, workplace } from '../support/cli.ts';
import { noteInWords } from '../support/said.ts';

const pieces = (...contents: Content[]): Composable[] => contents.map((content) => ({ content }));
const tablesOf = (content: Content): Table[] =>
  content.shape === 'blocks' ? content.blocks.filter((block) => block.type === 'table') : [];
const rowWords = ({ rows }: Table): string[] =>
  rows.map(({ cells }) => cells.map(({ blocks }) => JSON.stringify(blocks)).join());
const cellsOf = (...rows: (string | number)[][]): Content => ({
  shape: 'cells',
  rows: rows.map((row) =>
    row.map(
      (value): Cell =>
        typeof value === 'number'
          ? { type: 'number', value, text: String(value) }
          : value === ''
            ? { type: 'empty' }
            : { type: 'text', value },
    ),
  ),
});

/** One content as a file of snippets. */
const exported = (content: Content): string =>
  JSON.stringify({
    format: 'drawer-snippets',
    version: 1,
    media: {},
    snippets: [
      {
        id: 'a',
        order: 'a0',
        origin: {},
        takenAt: '2026-05-03T00:00:00Z',
        facts: {
          shape: content.shape,
          what: { kind: 'words' },
          preview: 'x',
          characters: 1,
          words: 1,
          lines: 1,
          bytes: 1,
        },
        content,
      },
    ],
  });

describe('words that write a value', () => {
  const asRead = (words: string, language: string): unknown => {
    const cell = new ValueReader(language).read(words);
    return cell && [cell.type, cell.value, ...('format' in cell ? [cell.format] : [])];
  };

  it.each<[string, string, unknown]>([
    ['en-GB', '£1,250.00', ['number', 1250, '[$£]#,##0.00']],
    ['en-GB', '12.500', ['number', 12.5, '0.000']],
    ['en-GB', "12'500.50", ['number', 12500.5, '#,##0.00']],
    ['en-GB', '(300)', ['number', -300, '0;(0)']],
    ['en-GB', '−5.5', ['number', -5.5, '0.0']],
    ['en-GB', '1e3', ['number', 1000, '0.00E+00']],
    ['en-GB', 'CHF 5.-', ['number', 5, '[$CHF] 0']],
    ['en-GB', '50 %', ['number', 0.5, '0%']],
    ['en-GB', '1.250,00 €', ['number', 1250, '#,##0.00 [$€]']],
    ['de', '1.234,50', ['number', 1234.5, '#,##0.00']],
    ['de', '1.200', ['number', 1200, '#,##0']],
    ['fr', '1\u202f234,50 €', ['number', 1234.5, '#,##0.00 [$€]']],
    ['ar', '١٬٢٣٤٫٥', ['number', 1234.5, '#,##0.0']],
    ['de', '03.01.2026', ['date', '2026-01-03', 'dd.mm.yyyy']],
    ['en-GB', '03/01/2026', ['date', '2026-01-03', 'dd/mm/yyyy']],
    ['en-US', '03/01/2026', ['date', '2026-03-01', 'mm/dd/yyyy']],
    ['de', '3. Januar 2026', ['date', '2026-01-03', 'd. mmmm yyyy']],
    ['en-GB', '2026-01-03', ['date', '2026-01-03', 'yyyy-mm-dd']],
    ['en-GB', '9:30 pm', ['date', '21:30:00', 'h:mm AM/PM']],
    ['de', 'WAHR', ['boolean', true]],
    ['en-GB', 'false', ['boolean', false]],
  ])('in %s: %s', (language, words, value) => expect(asRead(words, language)).toEqual(value));

  it.each([
    ...['007', '+44 20 7946 0018', '1234567890123456', '555 123 4567', '555 123', '2E10', 'A-12', '10²', '1.2.3'],
    ...['TOP 10', '1/2', '3-4', '31/02/2026', '01/02/26', '1887-03-04', 'wahr', '12 m', '', '–', '£', '(5', '1,2,3'],
  ])('stay words: “%s”', (words) => expect(asRead(words, 'en-GB')).toBeUndefined());

  it('are read alike in a column, or not at all where they could be two things', () => {
    const column = (language: string, ...words: string[]) => new ValueReader(language).readColumn(words);
    expect(column('en', '1.200', '3,50')).toMatchObject({
      numbers: [undefined, undefined],
      ambiguity: ['1.200', '3,50'],
    });
    expect(column('de', '1.200', '3,50').values.map((cell) => cell?.value)).toEqual([1200, 3.5]);
    expect(column('en', '1.250,00', '3,50').values.map((cell) => cell?.value)).toEqual([1250, 3.5]);
    expect(column('en', '12.500', '7.250').values.map((cell) => cell?.value)).toEqual([12.5, 7.25]);
  });

  it('give back any amount that the language itself writes', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e11, max: 1e11 }),
        fc.integer({ min: 0, max: 4 }),
        fc.constantFrom('en-GB', 'de', 'fr', 'de-CH', 'sv', 'pt-BR', 'en-IN', 'ar-EG', 'pl'),
        fc.constantFrom(undefined, 'EUR', 'GBP', 'USD'),
        (units, places, language, currency) => {
          const numeral = decimalText({ units: BigInt(units), places });
          const format = new Intl.NumberFormat(language, {
            minimumFractionDigits: places,
            maximumFractionDigits: places,
            ...(currency && { style: 'currency', currency, currencyDisplay: 'code' }),
          });
          const words = format.format(numeral as Intl.StringNumericLiteral);
          expect([words, new ValueReader(language).read(words)?.value]).toEqual([words, Number(numeral) + 0]);
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('tables that meet', () => {
  const headings = fc.uniqueArray(fc.constantFrom('Area', 'Land', 'Passengers', 'Price', 'Day', 'Wood'), {
    minLength: 1,
    maxLength: 4,
  });
  const oneTable = headings.chain((names) =>
    fc
      .array(
        fc.array(fc.constantFrom('x', '1', '£2.50', 'oak'), { minLength: names.length, maxLength: names.length }),
        {
          minLength: 1,
          maxLength: 4,
        },
      )
      .map((rows) => ({ names, rows })),
  );

  it('are one only where their headings say the same, and no row is lost', () => {
    fc.assert(
      fc.property(fc.array(oneTable, { minLength: 2, maxLength: 4 }), (tables) => {
        const { content, notes } = compose(pieces(...tables.map(({ names, rows }) => doc(table(1, names, ...rows)))));
        const found = tablesOf(content);
        const runs = tables.filter(
          ({ names }, at) => at === 0 || [...names].sort().join() !== [...(tables[at - 1]?.names ?? [])].sort().join(),
        );
        expect(found).toHaveLength(runs.length);
        expect(found.flatMap((each) => rowWords(each).slice(1))).toHaveLength(
          tables.flatMap(({ rows }) => rows).length,
        );
        expect(notes).toHaveLength(tables.length - 1); // each meeting is told of
      }),
    );
  });

  it('are the same whatever case and spaces their headings have', () => {
    const { content } = compose(
      pieces(
        cellsOf(['Wood', 'Price'], ['oak', 1]),
        cellsOf([' wood ', 'PRICE'], ['elm', 2]),
        cellsOf(['Price', 'Wood'], [3, 'ash']),
      ),
    );
    expect(content).toEqual(cellsOf(['Wood', 'Price'], ['oak', 1], ['elm', 2], ['ash', 3]));
  });

  it.each(['paragraph', 'blank-line', undefined] as const)('stay apart with unlike headings, joined by %s', (join) => {
    const three = pieces(
      cellsOf(['Country', 'Land area'], ['Fjordland', 300]),
      cellsOf(['Month', 'Passengers'], ['May', 1200]),
      cellsOf(['Code', 'Name'], ['A1', 'Alder']),
    );
    const options = { totals: ['sum'], ...(join && { join }) } as const;
    const { content, parts } = compose(three, options);
    expect(tablesOf(content).map(({ rows }) => rows.length)).toEqual([3, 3, 3]);
    if (join !== 'blank-line') expect(parts).toHaveLength(3);
    const words = JSON.stringify(content);
    expect([words.includes('"300"'), words.includes('"1,200"'), words.includes('1,500')]).toEqual([true, true, false]);
  });

  it('are rows of one where that is asked for, without headings only as wide as each other', () => {
    const first = cellsOf([1, 2], [3, 4]);
    expect(compose(pieces(first, cellsOf([5, 6], [7, 8])), { join: 'rows' }).parts).toHaveLength(1);
    expect(compose(pieces(first, cellsOf([5, 6, 7])), { join: 'rows' }).parts).toHaveLength(2);
    expect(compose(pieces(first, cellsOf([5, 6], [7, 8]))).content).toMatchObject({ blocks: [{}, {}] });
    expect(compose(pieces(cellsOf(['oak', 1]), cellsOf(['elm', 2]))).content).toEqual(cellsOf(['oak', 1], ['elm', 2]));
    const partly = compose(pieces(cellsOf(['a', 'b'], ['x', 1]), cellsOf(['b', 'c'], [2, 'y'])), { join: 'rows' });
    expect(partly.content).toEqual(cellsOf(['a', 'b', 'c'], ['x', 1, ''], ['', 2, 'y']));
  });
});

describe('totals', () => {
  const lines = (content: Content): string => JSON.stringify(content);
  const totalled = (
    words: readonly string[],
    language = 'en-GB',
    totals: readonly ['sum'] | readonly ['sum', 'mean'] = ['sum'],
  ) =>
    compose(pieces(doc(table(1, ['What', 'How much'], ...words.map((each, at) => [`item ${at}`, each])))), {
      totals,
      language,
    });
  const shown = (content: Content): string[] =>
    tablesOf(content).flatMap(({ rows }) =>
      rows
        .slice(-1)
        .flatMap(({ cells }) =>
          cells.map(({ blocks: [only] }) =>
            only?.type === 'paragraph' && only.inlines[0]?.type === 'text' ? only.inlines[0].text : '',
          ),
        ),
    );

  it.each<[string, string[], string]>([
    ['en-GB', ['12.500', '7.250'], '19.750'],
    ['de', ['12.500', '7.250'], '19.750'],
    ['de', ['12.500,00', '7.250,5'], '19.750,50'],
    ['en-GB', ['1.005', '2.001'], '3.006'],
    ['en-GB', ['0.1', '0.2'], '0.3'],
    ['en-GB', ['(300)', "12'500.50", '1e3'], '13,200.50'],
    ['en-GB', ['CHF 5.-', 'CHF 2.50'], 'CHF 7.50'],
    ['en-GB', ['50 %', '12.5 %'], '62.5%'],
    ['en-GB', ['£5', '€3', 'GBP 2.50'], '£7.50; €3'],
  ])('%s: %j is %s', (language, words, sum) => expect(shown(totalled(words, language).content)[1]).toBe(sum));

  it.each<[string, string[]]>([
    ['in two ways of writing', ['1.200', '3,50']],
    ['years', ['1911', '1912', '2026']],
    ['telephone numbers', ['+44 20 7946 0018', '020 7946 0019']],
    ['codes', ['007', '0049']],
    ['times of day', ['09:30', '10:15']],
  ])('are absent from %s', (_, words) => expect(shown(totalled(words).content)[1] ?? '').toBe(''));

  it('name what is left out by its cell, and what is no amount by its column', () => {
    const { notes } = totalled(['£5', 'to follow', '£7']);
    expect(notes.map(noteInWords)).toEqual(['left out of the total: B3 “to follow”']);
    const { content, notes: more } = compose(
      pieces(cellsOf(['No.', 'Year', 'Crew', 'Total'], [1, 2024, 5, 10], [2, 2025, 7, 20], ['Total', '', 12, 30])),
      { totals: ['sum'] },
    );
    expect(content.shape === 'cells' && content.rows.at(-1)).toMatchObject([
      { value: 'Sum' },
      { type: 'empty' },
      { value: 12 },
      { value: 30 },
    ]);
    expect(more.map(noteInWords).join()).toMatch(/column A \(No\.\).*column B \(Year\).*left out of the total: C4/);
  });

  it('have a row each, as many as are asked for', () => {
    expect(tablesOf(totalled(['1', '2'], 'en-GB', ['sum', 'mean']).content)[0]?.rows).toHaveLength(5);
  });

  it('are the exact sum, to the last place, in any language', () => {
    const amount = fc.record({ units: fc.integer({ min: -1e7, max: 1e7 }), places: fc.integer({ min: 0, max: 6 }) });
    fc.assert(
      fc.property(
        fc.array(amount, { minLength: 1, maxLength: 12 }),
        fc.constantFrom('en-GB', 'de', 'fr'),
        (amounts, language) => {
          const texts = amounts.map(({ units, places }) => {
            const format = new Intl.NumberFormat(language, {
              minimumFractionDigits: places,
              maximumFractionDigits: places,
            });
            return format.format(decimalText({ units: BigInt(units), places }) as Intl.StringNumericLiteral);
          });
          const { content } = compose(
            pieces(...texts.map((each) => run(each))).map((piece) => ({ ...piece, language })),
            { totals: ['sum'], language, join: 'line' },
          );
          // The rational sum, by whole numbers over one million.
          const millionths = amounts.reduce(
            (sum, { units, places }) => sum + BigInt(units) * 10n ** BigInt(6 - places),
            0n,
          );
          const isYear = (words: string): boolean => /^(?:1[89]|20)\d\d$/.test(words);
          fc.pre(!texts.some(isYear));
          const [, found = ''] = /"Sum: ([^"]*)"/.exec(lines(content)) ?? [];
          const back = new ValueReader(language).readNumber(found);
          const most = Math.max(...amounts.map(({ places }) => places));
          expect(back?.places).toBe(most);
          expect((back?.exact.units ?? 0n) * 10n ** BigInt(6 - most)).toBe(millionths);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('add decimals as rational numbers are added', () => {
    const numeral = fc.tuple(fc.bigInt(-(10n ** 20n), 10n ** 20n), fc.integer({ min: 0, max: 12 }));
    fc.assert(
      fc.property(fc.array(numeral, { minLength: 1 }), (terms) => {
        const sum = sumDecimals(terms.map(([units, places]) => ({ units, places })));
        const over = 10n ** 12n;
        const expected = terms.reduce((whole, [units, places]) => whole + (units * over) / 10n ** BigInt(places), 0n);
        expect((sum.units * over) / 10n ** BigInt(sum.places)).toBe(expected);
        expect(parseDecimal(decimalText(sum))).toEqual(sum);
      }),
    );
  });
});

describe('in a sheet', () => {
  let place: Workplace;
  beforeEach(() => {
    place = workplace();
  });
  afterEach(() => place.remove());

  const valuesIn = async (file: string): Promise<unknown[]> => {
    const { content } = await readFromFile(wholeOf(place.path(file)));
    return content.shape === 'cells'
      ? content.rows.map((row) => row.map((cell) => ('value' in cell ? cell.value : '')))
      : [];
  };

  const figures = [
    '£1,250.00',
    '12.5 %',
    '03/01/2026',
    '09:30',
    'TRUE',
    '007',
    '+44 20 7946 0018',
    '1234567890123456',
    'oak',
  ];
  const landed = [1250, 0.125, '2026-01-03', '09:30:00', true, '007', '+44 20 7946 0018', '1234567890123456', 'oak'];
  const sources: [string, () => string[]][] = [
    ['typed text', () => ['--text', '£1,250.00']],
    ['a document', () => ['figures.docx#table=1']],
    ['a page', () => ['figures.html#table=1']],
    ['separated values', () => ['figures.csv']],
    ['Markdown', () => ['figures.md#table=1']],
  ];

  it.each(sources)('%s lands as values, whose kind other programs see', async (name, words) => {
    const rows = figures.map((each) => [each]);
    writeFileSync(place.path('figures.csv'), rows.map(([each]) => `"${each}"\n`).join(''));
    writeFileSync(place.path('figures.md'), `| Figure |\n| --- |\n${rows.map(([each]) => `| ${each} |\n`).join('')}`);
    writeFileSync(
      place.path('figures.html'),
      `<!doctype html><html lang="en-GB"><table><tr><th>Figure</th></tr>${rows.map(([each]) => `<tr><td>${each}</td></tr>`).join('')}</table></html>`,
    );
    await place.run('copy', 'figures.md#table=1');
    await place.run('paste', '1', '--into', 'figures.docx');
    await place.run('delete', '1');
    expect((await place.run('copy', ...words())).code).toBe(0);
    for (const file of ['out.xlsx', 'out.ods']) {
      const pasted = await place.run('paste', 'last', '--into', file);
      expect([name, pasted.code]).toEqual([name, 0]);
      const values = (await valuesIn(file)).flat();
      if (name === 'typed text') expect(values).toEqual([1250]);
      else expect(values.slice(values[0] === 'Figure' ? 1 : 0)).toEqual(landed);
    }
    const sheet = strFromU8(unzipSync(readFileSync(place.path('out.xlsx')))['xl/worksheets/sheet1.xml'] as Uint8Array);
    expect(sheet).toMatch(/<c r="A[12]"[^>]*(?<!t="\w+"[^>]*)><v>1250<\/v>/);
    const content = strFromU8(unzipSync(readFileSync(place.path('out.ods')))['content.xml'] as Uint8Array);
    expect(content).toMatch(/office:value="1250"/);
  });

  it('words stay words where that is asked for, and a workbook’s own words always', async () => {
    await place.run('copy', '--text', '£1,250.00');
    await place.run('paste', '1', '--into', 'words.xlsx', '--as-words');
    expect(await valuesIn('words.xlsx')).toEqual([['£1,250.00']]);
    await place.run('copy', 'words.xlsx');
    await place.run('paste', 'last', '--into', 'again.xlsx');
    expect(await valuesIn('again.xlsx')).toEqual([['£1,250.00']]);
  });

  it('are read in the snippet’s language, or the one that is said', async () => {
    await place.run('copy', '--text', '1.200', '--language', 'de');
    await place.run('paste', '1', '--into', 'own.xlsx');
    await place.run('paste', '1', '--into', 'said.xlsx', '--language', 'en-GB');
    expect([await valuesIn('own.xlsx'), await valuesIn('said.xlsx')]).toEqual([[[1200]], [[1.2]]]);
    await place.run('copy', '--text', '03.01.2026', '--language', 'de');
    await place.run('paste', '2', '--into', 'date.ods');
    expect(await valuesIn('date.ods')).toEqual([['2026-01-03']]);
  });

  it('keep what a workbook had behind what it showed, by way of a table in a document’s shape', async () => {
    const whole: Content = {
      shape: 'blocks',
      blocks: [
        paragraph('Rates'),
        table(0, [
          { blocks: [paragraph('1.33')], value: { type: 'number', value: 4 / 3, text: '1.33', format: '0.00' } },
        ]),
      ],
    };
    writeFileSync(place.path('rates.json'), exported(whole));
    await place.run('copy', 'rates.json');
    await place.run('paste', '1', '--into', 'rates.xlsx');
    expect(await valuesIn('rates.xlsx')).toEqual([['Rates'], [4 / 3]]);
  });
});

describe('between a sheet and a page or another sheet', () => {
  let place: Workplace;
  beforeEach(() => {
    place = workplace();
  });
  afterEach(() => place.remove());

  it('values, formats and merged cells arrive', async () => {
    const cells: Content = {
      shape: 'cells',
      rows: [
        [{ type: 'text', value: 'Fares', columnSpan: 2, rowSpan: 2 }, { type: 'empty' }, { type: 'text', value: 'c' }],
        [{ type: 'empty' }, { type: 'empty' }, { type: 'boolean', value: true, text: 'TRUE' }],
        [
          { type: 'number', value: 1250.5, text: '1,250.50 €', format: '#,##0.00\\ [$€-407]' },
          { type: 'date', value: '2026-05-03', text: '03.05.2026', format: 'dd.mm.yyyy' },
          { type: 'number', value: 0.125, text: '12.5%', format: '0.0%' },
        ],
      ],
    };
    writeFileSync(place.path('cells.json'), exported(cells));
    await place.run('copy', 'cells.json');
    for (const file of ['a.xlsx', 'a.ods', 'a.html']) {
      await place.run('paste', '1', '--into', file);
      const { content } = await readFromFile(wholeOf(place.path(file)));
      const rows = content.shape === 'cells' ? content.rows : [];
      const values = rows.map((row) => row.map((cell) => ('value' in cell ? cell.value : '')));
      expect([file, values]).toEqual([
        file,
        [
          ['Fares', '', 'c'],
          ['', '', true],
          [1250.5, '2026-05-03', 0.125],
        ],
      ]);
      expect([file, rows[0]?.[0]]).toMatchObject([file, { columnSpan: 2, rowSpan: 2 }]);
      const [money] = rows[2] ?? [];
      expect([file, money && 'format' in money && money.format?.includes('[$€-407]')]).toEqual([file, true]);
    }
  });

  it('letters that a page colours in the older way are coloured', async () => {
    writeFileSync(place.path('font.html'), '<p><font color="#c00000" face="Gentium">red</font> plain</p>');
    const { content } = await readFromFile(wholeOf(place.path('font.html')));
    expect(JSON.stringify(content)).toContain('"marks":{"font":"Gentium","colour":"#c00000"}');
  });
});
