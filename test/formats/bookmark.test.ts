import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Block, bullets, type Content, doc, heading, paragraph, plainText, run, table } from 'drawer';
import { insert, outline, read } from 'drawer/formats';
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

it.each(['budget.xlsx', 'sailings.csv'])('leaves no bookmark in %s, and says so', async (file) => {
  await expect(insert(demo(file), '', doc('x'), { name: file, bookmark: name })).rejects.toMatchObject({
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
