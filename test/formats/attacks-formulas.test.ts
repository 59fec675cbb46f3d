import { type Cell, noMedia, parseFragment } from 'drawer';
import { type Format, formatNamed, type Insertion, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import Papa from 'papaparse';
import type { CellsContent } from '../../src/content/index.ts';

const cells = (...rows: readonly Cell[][]): CellsContent => ({ shape: 'cells', rows });
const insertion = (content: CellsContent): Insertion => ({ content, media: noMedia, style: 'local' });
const load = async (name: 'csv' | 'xlsx' | 'ods') => (await formatNamed(name).load()) as Required<Format>;

async function asCsv(content: CellsContent, text: string): Promise<string> {
  const source = sourceOf(new TextEncoder().encode(text), 'x.csv');
  const { bytes } = await (await load('csv')).insert(source, parseFragment(''), insertion(content));
  return new TextDecoder().decode(bytes);
}

const sign = fc.constantFrom(...'=+-@\t\r＝＋－＠');
const separator = fc.constantFrom(',', ';', '\t', '|');
/** What people attack spreadsheets with, and words around it. */
const words = fc
  .array(fc.oneof(sign, separator, fc.constantFrom("cmd|'/c x'!A1", '4+4', 'SUM(1)', ' ', '"', "'", '\n', 'oak')), {
    minLength: 1,
    maxLength: 6,
  })
  .map((parts) => parts.join(''));
/** Every kind of cell that shows words of the file's own. */
const cell: fc.Arbitrary<Cell> = fc.oneof(
  words.map((value): Cell => ({ type: 'text', value })),
  words.map((value): Cell => ({ type: 'error', value })),
  words.map((text): Cell => ({ type: 'boolean', value: true, text })),
  fc
    .tuple(words, fc.double({ noNaN: true, noDefaultInfinity: true }))
    .map(([text, value]): Cell => ({ type: 'number', value, text })),
  words.map((text): Cell => ({ type: 'date', value: '2026-05-04', text })),
);

const isNumber = (field: string): boolean => field.trim() !== '' && Number.isFinite(Number(field));

it('lets no cell of any kind begin a formula in separated values, whatever separates them there', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(cell, { minLength: 1, maxLength: 4 }), separator, async (row, mark) => {
      const written = await asCsv(cells(row), `a${mark}b${mark}c${mark}d\r\n1${mark}2${mark}3${mark}4\r\n`);
      const fields = Papa.parse<string[]>(written, { delimiter: mark }).data.flat();
      for (const field of fields) if (!isNumber(field)) expect(field.trimStart()).not.toMatch(/^[=+\-@＝＋－＠]/);
    }),
    { numRuns: 300 },
  );
});

it('puts the words into quotes where another separator would end them in front of a formula', async () => {
  expect(await asCsv(cells([{ type: 'text', value: 'x;=4+4' }]), 'a,b\n1,2\n')).toBe('a,b\n1,2\n"x;=4+4",\n');
  expect(await asCsv(cells([{ type: 'number', value: -5, text: '-5' }]), 'a,b\n1,2\n')).toBe('a,b\n1,2\n-5,\n');
});

it.each(['xlsx', 'ods'] as const)('writes no formula and no made-up error into .%s', async (name) => {
  await fc.assert(
    fc.asyncProperty(fc.array(cell, { minLength: 1, maxLength: 4 }), async (row) => {
      const { create } = await load(name);
      const { bytes } = await create(parseFragment(''), insertion(cells(row)));
      const sheet = strFromU8(
        unzipSync(bytes)[name === 'xlsx' ? 'xl/worksheets/sheet1.xml' : 'content.xml'] ?? new Uint8Array(),
      );
      expect(sheet).not.toMatch(/<f[ >]|table:formula=|t="e"/);
    }),
    { numRuns: 40 },
  );
});

it('takes for an error only what is the name of one', async () => {
  const { create, read } = await load('xlsx');
  const row: Cell[] = [
    { type: 'error', value: '#N/A' },
    { type: 'error', value: '=1+1' },
  ];
  const { bytes } = await create(parseFragment(''), insertion(cells(row)));
  const { content } = await read(sourceOf(bytes, 'x.xlsx'), parseFragment('A1:B1'), {});
  expect(content).toMatchObject({ rows: [[{ type: 'error' }, { type: 'text', value: '=1+1' }]] });
});
