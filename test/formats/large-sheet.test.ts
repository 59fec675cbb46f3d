import { type Content, cellText, noMedia, parseFragment } from 'drawer';
import { type Format, formatNamed, type Insertion, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { workbookSource } from '../support/office.ts';

/** So long that it is not had in memory: over 8 MB. */
const count = 40_000;
const words = 'a row of a long sheet, wide with words that nobody wants to lose but that have to be passed by';
const row = (number: number, cells = `<c r="A${number}"><v>${number}</v></c>`): string =>
  `<row r="${number}">${cells}<c r="C${number}" t="inlineStr"><is><t>${words} é ${number}</t></is></c><c r="F${number}" s="0"/></row>`;
const rows = Array.from({ length: count }, (_, index) => row(2 * index + 2)); // every second row is not there
const head = '<dimension ref="A2:F80000"/><cols><col min="2" max="2" width="30"/></cols>';
const tail = '<mergeCells><mergeCell ref="H1:I1"/></mergeCells><pageMargins left="1"/>';

async function bookOf(data: string, behind = tail): Promise<Uint8Array> {
  const source = workbookSource({ sheets: { S: `${head}<sheetData>${data}</sheetData>${behind}` } });
  return source.read(0, source.size);
}
const sheetOf = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)['xl/worksheets/sheet0.xml'] as Uint8Array);
const tools = nodeTools;

async function insert(bytes: Uint8Array, place: string, content: Content, asked: Partial<Insertion> = {}, by = tools) {
  const format = (await formatNamed('xlsx').load()) as Required<Format>;
  const insertion = { content, media: noMedia, style: 'local' as const, ...asked };
  return format.insert(sourceOf(bytes, 'x.xlsx'), parseFragment(place), insertion, by);
}
async function shown(bytes: Uint8Array, place: string): Promise<string[][]> {
  const format = (await formatNamed('xlsx').load()) as Required<Format>;
  const { content } = await format.read(sourceOf(bytes, 'x.xlsx'), parseFragment(place), tools);
  return content.shape === 'cells' ? content.rows.map((line) => line.map(cellText)) : [];
}

const cells = (...lines: string[][]): Content => ({
  shape: 'cells',
  rows: lines.map((line) => line.map((value) => ({ type: 'text', value }))),
});

let before: Uint8Array;
beforeAll(async () => {
  before = await bookOf(rows.join(''));
});

/** The most of which a property holds that holds of all less. */
function most(end: number, holds: (length: number) => boolean): number {
  let [low, high] = [0, end];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (holds(middle)) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** What stands between what is the same at both ends of two texts. */
function between(one: string, other: string): [string, string] {
  const length = Math.min(one.length, other.length);
  const start = most(length, (to) => one.slice(0, to) === other.slice(0, to));
  const end = most(length - start, (from) => one.endsWith(other.slice(other.length - from)));
  return [one.slice(start, one.length - end), other.slice(start, other.length - end)];
}

it('changes the rows it lands in and no others, wherever that is', async () => {
  const original = sheetOf(before).replace('ref="A2:F80000"', '');
  await fc.assert(
    fc.asyncProperty(
      fc.oneof(fc.integer({ min: 1, max: 2 * count + 2 }), fc.constantFrom(1, 2, 3, 2 * count - 1, 2 * count, 90_000)),
      fc.integer({ min: 1, max: 3 }),
      async (first, height) => {
        const lines = Array.from({ length: height }, (_, index) => [`new ${index}`, 'beside']);
        const { bytes, where } = await insert(before, `D${first}`, cells(...lines));
        expect(where.params).toEqual({ place: `S!D${first}:E${first + height - 1}` });
        expect(await shown(bytes, `D${first}:E${first + height - 1}`)).toEqual(lines);
        const [gone, come] = between(original, sheetOf(bytes).replace(/ref="A\d+:F\d+"/, ''));
        expect(gone.length).toBeLessThan(600);
        expect(come.length).toBeLessThan(1_400);
        expect(come).toContain('new 0');
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 8) },
  );
});

it('goes on below the last row that holds something, also without what a platform brings', async () => {
  const { bytes, where } = await insert(before, '', cells(['last']), {}, {} as typeof tools);
  expect(where.params).toEqual({ place: `S!A${2 * count + 1}` });
  expect(await shown(bytes, `A${2 * count}:A${2 * count + 1}`)).toEqual([[String(2 * count)], ['last']]);
  expect(sheetOf(bytes)).toContain(`ref="A2:F${2 * count + 1}"`);
});

it('names cells that hold something and leaves them alone', async () => {
  await expect(insert(before, 'C40000', cells(['over']))).rejects.toMatchObject({
    code: 'consent',
    params: { cells: [expect.stringContaining('C40000')] },
  });
  const { bytes, replaced } = await insert(before, 'C40000', cells(['over']), { over: true });
  expect(replaced).toEqual([expect.stringContaining('a row of a long sheet')]);
  expect(await shown(bytes, 'C40000')).toEqual([['over']]);
});

it.each<[string, (all: string[]) => string[], Record<string, unknown>]>([
  ['whose rows do not rise', (all) => [...all.slice(0, 500), row(4), ...all.slice(500)], { code: 'unreadable' }],
  ['whose rows go past the end of sheets', (all) => [...all, row(1_048_577)], { code: 'unreadable' }],
])('refuses one %s', async (_, change, problem) => {
  await expect(insert(await bookOf(change(rows).join('')), 'D90000', cells(['x']))).rejects.toMatchObject(problem);
});

it('refuses a merged area and a protected sheet by what stands behind the rows', async () => {
  await expect(insert(before, 'H1', cells(['a', 'b']))).rejects.toMatchObject({ code: 'unsupported' });
  const locked = await bookOf(rows.join(''), '<sheetProtection sheet="1"/>');
  await expect(insert(locked, 'D2', cells(['x']))).rejects.toMatchObject({ code: 'unsupported' });
});

it('is worked out again on opening where it holds formulas', async () => {
  const counted = row(2, '<c r="A2"><f>SUM(D3:D9)</f><v>7</v></c>');
  const { bytes } = await insert(await bookOf([counted, ...rows.slice(1)].join('')), 'D5', cells(['x']));
  expect(sheetOf(bytes)).toMatch(/<f>SUM\(D3:D9\)<\/f><v>(?!7<)[\d.]+<\/v><\/c>/); // worked out anew
  expect(strFromU8(unzipSync(bytes)['xl/workbook.xml'] as Uint8Array)).toContain('fullCalcOnLoad="1"');
});
