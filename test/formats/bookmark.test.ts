import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Block, bullets, type Content, doc, heading, paragraph, plainText, run, table } from 'drawer';
import { insert, outline, read, remove } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { demoFiles } from '../support/cli.ts';

/** What lands inside a bookmark can be found by it and replaced, again and again, and all around it stays. */

const runs = Number(process.env.RUNS ?? 8);
const name = 'Drawer_part1';
const place = `bookmark=${name}`;
const demo = (file: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, file)));
/** Signs of lists and tables are told in other ways from format to format. */
const dense = (content: Content): string => plainText(content).replace(/[\s|]+|[-•–] |\d+\. /g, '');

const words = fc.stringMatching(/^[a-z]{1,8}( [a-z]{1,8}){0,3}$/);
const block: fc.Arbitrary<Block> = fc.oneof(
  words.map((each) => paragraph(each)),
  words.map((each) => heading(2, each)),
  fc.array(words, { minLength: 1, maxLength: 3 }).map((items) => bullets(...items)),
  fc.tuple(words, words, words).map(([one, two, three]) => table(1, [one, two], [three, ''])),
);
const blocks = fc.array(block, { minLength: 1, maxLength: 4 }).map((each) => doc(...each));

describe.each(['survey.docx', 'application.docx', 'history.odt', 'letters.html', 'log.md'])('%s', (file) => {
  it('finds what landed in a bookmark, and replaces it with anything, leaving all else', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom<[string, 'before' | 'after' | undefined]>(
          ['', undefined],
          ['paragraph=2', 'after'],
          ['paragraph=1', 'before'],
        ),
        fc.array(blocks, { minLength: 2, maxLength: 4 }),
        async ([at, side], contents) => {
          const around = dense((await read(demo(file), '', { name: file })).content);
          let bytes = demo(file);
          for (const [index, content] of contents.entries()) {
            const [where, which] = index === 0 ? [at, side] : [place, 'replace' as const];
            ({ bytes } = await insert(bytes, where, content, { name: file, side: which, bookmark: name }));
            const part = dense((await read(bytes, place, { name: file })).content);
            expect(part).toBe(dense(content));
            const all = dense((await read(bytes, '', { name: file })).content);
            expect(all.replace(part, '')).toHaveLength(around.length);
          }
          const named = (await outline(bytes, { name: file })).entries.filter((entry) => entry.place === place);
          expect(named).toHaveLength(file.endsWith('.html') ? 0 : 1);
        },
      ),
      { numRuns: runs },
    );
  });

  it('lays bookmarks beside one another', async () => {
    let { bytes } = await insert(demo(file), 'paragraph=2', doc(table(0, ['a', ''])), {
      name: file,
      side: 'after',
      bookmark: 'one',
    });
    for (const [at, content, bookmark] of [
      ['bookmark=one', doc(bullets('b')), 'two'],
      ['bookmark=two', doc('c'), 'three'],
    ] as const)
      ({ bytes } = await insert(bytes, at, content, { name: file, side: 'after', bookmark }));
    const held = await Promise.all(
      ['one', 'two', 'three'].map(async (each) =>
        dense((await read(bytes, `bookmark=${each}`, { name: file })).content),
      ),
    );
    expect(held).toEqual(['a', 'b', 'c']);
  });
});

it('lays a bookmark behind one that ends between paragraphs, however its end is written', async () => {
  const options = { name: 'a.docx', side: 'after' } as const;
  const { bytes } = await insert(demo('survey.docx'), 'paragraph=2', doc('a'), { ...options, bookmark: 'one' });
  const parts = unzipSync(bytes);
  const body = strFromU8(parts['word/document.xml'] ?? new Uint8Array());
  const moved = body.replace(/(<w:bookmarkEnd [^>]*)\/><\/w:p>/, '</w:p>$1></w:bookmarkEnd>');
  expect(moved).not.toBe(body);
  const file = zipSync({ ...parts, 'word/document.xml': strToU8(moved) });
  const { bytes: made } = await insert(file, 'bookmark=one', doc('b'), { ...options, bookmark: 'two' });
  expect(strFromU8(unzipSync(made)['word/document.xml'] ?? new Uint8Array())).toMatch(
    /<w:bookmarkEnd [^>]*><\/w:bookmarkEnd>/,
  );
  const held = ['one', 'two'].map(async (each) => dense((await read(made, `bookmark=${each}`, options)).content));
  expect(await Promise.all(held)).toEqual(['a', 'b']);
});

const cells = (rows: readonly (readonly string[])[]): Content => ({
  shape: 'cells',
  rows: rows.map((row) => row.map((value) => (value === '' ? { type: 'empty' } : { type: 'text', value }))),
});
const range = fc
  .tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 3 }))
  .chain(([height, width]) =>
    fc.array(fc.array(words, { minLength: width, maxLength: width }), { minLength: height, maxLength: height }),
  );

describe.each(['budget.xlsx', 'crew.ods'])('%s', (file) => {
  const sheet = file === 'budget.xlsx' ? 'Lines' : 'Hours';
  const options = { name: file };
  const held = async (bytes: Uint8Array, at: string): Promise<string> =>
    plainText((await read(bytes, at, options)).content);

  it('names the cells that something landed in, and clears what is left of them when it is replaced', async () => {
    const beside = async (bytes: Uint8Array): Promise<string> => (await held(bytes, `${sheet}!A1:B6`)).trim();
    const around = await beside(demo(file));
    await fc.assert(
      fc.asyncProperty(fc.array(range, { minLength: 2, maxLength: 3 }), async (ranges) => {
        let bytes = demo(file);
        for (const [index, rows] of ranges.entries()) {
          const [at, side] = index === 0 ? [`${sheet}!F2`, undefined] : [place, 'replace' as const];
          ({ bytes } = await insert(bytes, at, cells(rows), { ...options, side, bookmark: name }));
          const landed = rows.map((row) => row.join('\t')).join('\n');
          expect(await held(bytes, place)).toBe(landed);
          expect((await held(bytes, `${sheet}!F1:Z40`)).trim().replace(/\t+$/gm, '')).toBe(landed);
          expect(await beside(bytes)).toBe(around);
        }
        const { entries } = await outline(bytes, options);
        expect(entries.filter((entry) => entry.place === name)).toHaveLength(1);
        const next = await insert(bytes, place, run('below'), { ...options, side: 'after', bookmark: 'two' });
        expect(next.cells).toBe(`${sheet}!F${(ranges.at(-1)?.length ?? 0) + 3}`);
        expect(await held(next.bytes, 'bookmark=two')).toBe('below');
        const cut = await remove(next.bytes, 'bookmark=two', options);
        await expect(held(cut.bytes, 'bookmark=two')).resolves.toBe('');
        expect(await held(cut.bytes, place)).toBe(await held(bytes, place));
      }),
      { numRuns: runs },
    );
  });

  it('writes over no cells in the way of what has become longer, unless that is said', async () => {
    let { bytes } = await insert(demo(file), `${sheet}!F2`, cells([['a']]), { ...options, bookmark: name });
    ({ bytes } = await insert(bytes, `${sheet}!F3`, run('in the way'), options));
    const longer = { ...options, side: 'replace', bookmark: name } as const;
    await expect(insert(bytes, place, cells([['b'], ['c']]), longer)).rejects.toMatchObject({ reason: 'cells-taken' });
    ({ bytes } = await insert(bytes, place, cells([['b'], ['c']]), { ...longer, over: true }));
    expect(await held(bytes, place)).toBe('b\nc');
  });

  it('refuses a name that a cell has', async () => {
    for (const bookmark of ['A1', 'abc12', 'R1C1', 'a b'])
      await expect(insert(demo(file), '', run('x'), { ...options, bookmark })).rejects.toMatchObject({
        reason: 'bookmark-name',
      });
  });
});

it('gives merged cells a new shape where they are replaced, and none twice', async () => {
  const wide = (columnSpan: number): Content => ({
    shape: 'cells',
    rows: [[{ type: 'text', value: 'a', ...(columnSpan > 1 && { columnSpan }) }, { type: 'empty' }, { type: 'empty' }]],
  });
  const options = { name: 'budget.xlsx', bookmark: name, side: 'replace' } as const;
  const merges = (bytes: Uint8Array): string[] =>
    strFromU8(unzipSync(bytes)['xl/worksheets/sheet1.xml'] ?? new Uint8Array()).match(/(?<=<mergeCell ref=")[^"]+/g) ??
    [];
  const [title] = merges(demo('budget.xlsx'));
  let { bytes } = await insert(demo('budget.xlsx'), 'Lines!F2', wide(2), { name: 'budget.xlsx', bookmark: name });
  for (const [span, merged] of [
    [2, ['F2:G2']],
    [3, ['F2:H2']],
    [1, []],
    [2, ['F2:G2']],
  ] as const) {
    ({ bytes } = await insert(bytes, place, wide(span), options));
    expect(merges(bytes)).toEqual([title, ...merged]);
  }
  ({ bytes } = await insert(bytes, 'Lines!F2', wide(2), { name: 'budget.xlsx', over: true }));
  expect(merges(bytes)).toEqual([title, 'F2:G2']);
  await expect(insert(bytes, 'Lines!F2', wide(3), { name: 'budget.xlsx', over: true })).rejects.toMatchObject({
    reason: 'cells-merged-into-one',
  });
});

it('leaves no bookmark in separated values, and says so', async () => {
  await expect(insert(demo('sailings.csv'), '', doc('x'), { name: 'a.csv', bookmark: name })).rejects.toMatchObject({
    reason: 'bookmark-not-here',
  });
});

it('refuses a name that is none, and several cells in one bookmark', async () => {
  const options = { name: 'survey.docx' };
  await expect(insert(demo('survey.docx'), '', doc('x'), { ...options, bookmark: 'a b' })).rejects.toMatchObject({
    reason: 'bookmark-name',
  });
  const row: Content = {
    shape: 'cells',
    rows: [
      [
        { type: 'text', value: 'a' },
        { type: 'text', value: 'b' },
      ],
    ],
  };
  await expect(
    insert(demo('survey.docx'), 'table=1!A2', row, { ...options, over: true, bookmark: name }),
  ).rejects.toMatchObject({ reason: 'bookmark-not-here' });
});

it('keeps what replaces all that an element of a page or a bookmark around a table holds', async () => {
  const two = doc(paragraph('new'), paragraph('newer'));
  for (const page of [
    '<div id="x"><p>a</p><p>b</p></div>',
    '<div id="x">\n<p>a</p>\n<table><tr><td>1</td></tr></table>\n</div>',
  ]) {
    const { bytes } = await insert(new TextEncoder().encode(`<p>z</p>${page}`), 'bookmark=x', two, {
      name: 'a.html',
      side: 'replace',
    });
    expect(plainText((await read(bytes, '', { name: 'a.html' })).content)).toBe('z\n\nnew\n\nnewer');
    expect(new TextDecoder().decode(bytes).match(/<\/?div/g)).toHaveLength(2);
  }
  const one = await insert(demo('survey.docx'), '', doc(table(0, ['a'], ['b'])), { name: 'a.docx', bookmark: name });
  const other = await insert(one.bytes, place, run('words'), { name: 'a.docx', side: 'replace' });
  expect(plainText((await read(other.bytes, '', { name: 'a.docx' })).content)).toMatch(/words\s*$/);
});
