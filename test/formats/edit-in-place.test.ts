import { readFileSync } from 'node:fs';
import { asBlocks, type Block, doc, paragraph, plainText, type Table } from 'drawer';
import { editInPlace, formatOf, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { unzipSync } from 'fflate';
import { joinText, keepUnshown } from '../../src/content/index.ts';
import { demoFiles } from '../support/cli.ts';

const files = ['application.docx', 'survey.docx', 'history.odt', 'log.md', 'letters.html'] as const;

const sourceFor = (name: string) => sourceOf(new Uint8Array(readFileSync(`${demoFiles}/${name}`)), name);
const blocksOf = async (bytes: Uint8Array, name: string): Promise<readonly Block[]> => {
  const source = sourceOf(bytes, name);
  const taken = await (await (await formatOf(source)).load()).read?.(source, { kind: 'whole' });
  return taken ? asBlocks(taken.content) : [];
};
const words = (blocks: readonly Block[]): string[] => blocks.map((block) => JSON.stringify(block));

it.each(files)('changes nothing in %s where nothing was changed', async (name) => {
  const source = sourceFor(name);
  const bytes = await source.read(0, source.size);
  const shown = await blocksOf(bytes, name);
  const { bytes: after, changes } = await editInPlace(source, { shown, edited: shown, media: new Map() });
  expect(changes).toBe(0);
  expect(Buffer.compare(after, bytes)).toBe(0);
});

it.each(files)('puts new paragraphs where they were written in %s, and leaves all else as it was', async (name) => {
  const source = sourceFor(name);
  const bytes = await source.read(0, source.size);
  const shown = await blocksOf(bytes, name);
  await fc.assert(
    fc.asyncProperty(fc.uniqueArray(fc.nat(shown.length), { minLength: 1, maxLength: 3 }), async (places) => {
      const edited: Block[] = [];
      for (let at = 0; at <= shown.length; at++) {
        if (places.includes(at)) edited.push(paragraph(`A new paragraph at ${at}.`));
        if (at < shown.length) edited.push(shown[at] as Block);
      }
      const { bytes: after } = await editInPlace(source, { shown, edited, media: new Map() });
      const now = await blocksOf(after, name);
      const fresh = now.filter((block) => JSON.stringify(block).includes('A new paragraph at'));
      expect(fresh).toHaveLength(places.length);
      expect(words(now.filter((block) => !fresh.includes(block)))).toEqual(words(shown));
      if (name.endsWith('x') || name.endsWith('odt')) {
        const [before, changed] = [unzipSync(bytes), unzipSync(after)];
        const parts = Object.keys(changed).filter(
          (part) => Buffer.compare(changed[part] ?? Buffer.of(), before[part] ?? Buffer.of()) !== 0,
        );
        expect(parts.every((part) => /^(?:word\/document|content|styles|word\/styles)\.xml$/.test(part))).toBe(true);
      }
    }),
    { numRuns: 6 },
  );
});

it('changes the words of a paragraph and keeps the look that the editor did not show', async () => {
  const name = 'survey.docx';
  const source = sourceFor(name);
  const originals = await blocksOf(await source.read(0, source.size), name);
  // An editor that shows no marks.
  const plainly = (blocks: readonly Block[]): Block[] =>
    blocks.map((block) =>
      block.type === 'paragraph' || block.type === 'heading'
        ? {
            ...block,
            inlines: joinText(
              block.inlines.map((inline) => (inline.type === 'text' ? { type: 'text', text: inline.text } : inline)),
            ),
          }
        : block,
    );
  const shown = plainly(originals);
  const at = shown.findIndex(
    (block) => block.type === 'paragraph' && JSON.stringify(block).includes('soft to a depth of'),
  );
  const edited = shown.map((block, index) =>
    index === at && block.type === 'paragraph'
      ? { ...block, inlines: [...block.inlines, { type: 'text', text: ' Seen in May.' } as const] }
      : block,
  );
  const { bytes, changes } = await editInPlace(source, { shown, edited, media: new Map() });
  expect(changes).toBe(1);
  const now = await blocksOf(bytes, name);
  expect(JSON.stringify(now[at])).toContain('Seen in May.');
  expect(JSON.stringify(now[at])).toContain('{"type":"text","text":"12 mm","marks":{"bold":true}}');
  expect(words(now.filter((_, index) => index !== at))).toEqual(words(originals.filter((_, index) => index !== at)));
  const whole = { shape: 'blocks', blocks: originals } as const;
  expect(keepUnshown(whole, { shape: 'blocks', blocks: shown }, { shape: 'blocks', blocks: shown })).toBe(whole);
});

it('takes out what was deleted, and says what it cannot change in place', async () => {
  const source = sourceFor('application.docx');
  const shown = await blocksOf(await source.read(0, source.size), 'application.docx');
  const gone = shown.findIndex(({ type }) => type === 'paragraph');
  const edited = shown.filter((_, index) => index !== gone);
  const { bytes } = await editInPlace(source, { shown, edited, media: new Map() });
  expect(words(await blocksOf(bytes, 'application.docx'))).toEqual(words(edited));
  await expect(editInPlace(source, { shown: shown.slice(1), edited, media: new Map() })).rejects.toMatchObject({
    reason: 'editor-hides-blocks',
  });
  const picture = sourceFor('hull-plan.png');
  await expect(editInPlace(picture, { shown: [], edited: [], media: new Map() })).rejects.toMatchObject({
    reason: 'format-not-edited',
  });
});

/** The source of a file's text. */
const textOf = (bytes: Uint8Array, name: string): string =>
  Buffer.from(
    name.endsWith('docx')
      ? (unzipSync(bytes)['word/document.xml'] ?? [])
      : name.endsWith('odt')
        ? (unzipSync(bytes)['content.xml'] ?? [])
        : bytes,
  ).toString();

/** The part of one text that differs from another, between a common beginning and a common end. */
function between(one: string, other: string): string {
  let [start, end] = [0, 0];
  while (start < Math.min(one.length, other.length) && one[start] === other[start]) start++;
  while (end < Math.min(one.length, other.length) - start && one.at(-1 - end) === other.at(-1 - end)) end++;
  return one.slice(start, one.length - end);
}

it.each(['application.docx', 'survey.docx', 'history.odt', 'log.md', 'letters.html'])(
  'changes a cell of a table in %s, and nothing else about the table',
  async (name) => {
    const source = sourceFor(name);
    const bytes = await source.read(0, source.size);
    const shown = await blocksOf(bytes, name);
    const at = shown.findIndex(({ type }) => type === 'table');
    const table = shown[at] as Table;
    const cells = table.rows.flatMap((row, down) => row.cells.map((_, across) => [down, across] as const));
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...cells),
        fc.constantFrom('', 'new words', '1,234.50'),
        fc.boolean(),
        async ([down, across], written, isBesideOthers) => {
          const blocks = written === '' ? [] : [paragraph(written)];
          const rows = table.rows.map((row, y) => ({
            cells: row.cells.map((cell, x) => (y === down && x === across ? { ...cell, blocks } : cell)),
          }));
          const edited = shown.toSpliced(at, 1, { ...table, rows });
          if (isBesideOthers) edited.splice(at + 1, 0, paragraph('A paragraph behind it.'));
          const { bytes: after } = await editInPlace(source, { shown, edited, media: new Map() });
          const now = (await blocksOf(after, name))[at] as Table;
          const cellNow = now.rows[down]?.cells[across];
          expect(plainText(doc(...(cellNow?.blocks ?? [])))).toBe(written);
          const rest = (each: Table): string =>
            JSON.stringify({
              ...each,
              rows: each.rows.map((row, y) => row.cells.filter((_, x) => y !== down || x !== across)),
            });
          expect(rest(now)).toBe(rest(table));
          if (isBesideOthers) return;
          const gone = between(textOf(bytes, name), textOf(after, name));
          expect(gone).not.toMatch(/<w:(?:tbl|tc|tr|shd)|<table:table-(?:cell|row)|<t[dr][ >]|\n/);
        },
      ),
      { numRuns: 12 },
    );
  },
);

it('changes a table as a whole where it has other rows now', async () => {
  const source = sourceFor('survey.docx');
  const shown = await blocksOf(await source.read(0, source.size), 'survey.docx');
  const at = shown.findIndex(({ type }) => type === 'table');
  const table = shown[at] as Table;
  const edited = shown.toSpliced(at, 1, { ...table, rows: table.rows.slice(4) });
  const { bytes } = await editInPlace(source, { shown, edited, media: new Map() });
  const now = (await blocksOf(bytes, 'survey.docx')).flatMap((block) => (block.type === 'table' ? [block] : []));
  expect(now.map(({ rows }) => rows.length)).toEqual([2]);
});
