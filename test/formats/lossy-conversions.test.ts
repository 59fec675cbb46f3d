import {
  asBlocks,
  type Block,
  bullets,
  type Content,
  doc,
  type List,
  paragraph,
  run,
  type Table,
  table,
  text,
} from 'drawer';
import { type FormatName, formatNamed, lossyConversions, sourceOf } from 'drawer/formats';
import { bold, cell, checkItem, code, footnote, item, lineBreak, quote, rule } from '../../src/content/index.ts';
import { allMedia } from '../support/arbitrary.ts';
import { samplePictures } from '../support/pictures.ts';

const [sample] = samplePictures as [(typeof samplePictures)[0]];
const picture = { media: sample.hash, mediaType: 'image/png' as const, width: 30, height: 15 };
const wideTable = { ...table(0, ['a', 'b']), columnWidths: [600, 300] };

/** Goes one list deeper for each level. */
const nested = (levels: number): List => bullets(levels === 1 ? 'deep' : item('x', nested(levels - 1)));
const depthOf = (list: List): number =>
  1 +
  Math.max(
    0,
    ...list.items.flatMap(({ blocks }) => blocks.map((block) => (block.type === 'list' ? depthOf(block) : 0))),
  );

/** For each row of the table: content that it is about, and what must come back (or, as text, what is written). */
const samples: Record<string, { content: Content; comesBack?: Content | ((back: Block[]) => void); writes?: string }> =
  {
    'words from inside a paragraph': {
      content: run('oak ', bold('and'), ' larch'),
      comesBack: doc(paragraph('oak ', bold('and'), ' larch')),
    },
    'a range of cells': {
      content: {
        shape: 'cells',
        rows: [
          [
            { type: 'text', value: 'Oak' },
            { type: 'number', value: 1250, text: '£1,250.00', format: '"£"#,##0.00', formula: 'B1*2' },
          ],
        ],
      },
      comesBack: (back) =>
        expect(back).toMatchObject([
          {
            type: 'table',
            rows: [
              { cells: [{ blocks: [paragraph('Oak')] }, { blocks: [{ ...paragraph('£1,250.00'), align: 'end' }] }] },
            ],
          },
        ]),
    },
    'a picture on its own': {
      content: { shape: 'picture', picture },
      comesBack: { shape: 'blocks', blocks: [{ type: 'picture', ...picture }] },
    },
    'a paragraph that holds only a picture': {
      content: doc(paragraph({ type: 'picture', ...picture })),
      comesBack: { shape: 'blocks', blocks: [{ type: 'picture', ...picture }] },
    },
    'empty paragraphs at the start or end': {
      content: doc(paragraph(), 'words', paragraph()),
      comesBack: doc('words'),
    },
    'a list without items': { content: doc('a', bullets(), 'b'), comesBack: doc('a', 'b') },
    'a mark in the language of the whole file': {
      content: doc(paragraph(text('a', { language: 'en-GB' }))),
      comesBack: doc('a'),
    },
    'a table without column widths': {
      content: doc(table(0, ['a', 'b'])),
      comesBack: (back) => expect(new Set((back[0] as Table).columnWidths).size).toBe(1),
    },
    'a table or picture wider than the page': {
      content: { shape: 'blocks', blocks: [wideTable, { type: 'picture', ...picture, width: 900, height: 450 }] },
      comesBack: ([first, second]) => {
        const [left = 0, right = 0] = (first as Table).columnWidths ?? [];
        expect(left / right).toBeCloseTo(2, 2);
        expect(left + right).toBeLessThan(460);
        expect(second).toMatchObject({ type: 'picture' });
        const { width, height } = second as { width: number; height: number };
        expect([width / height, width < 460]).toEqual([2, true]);
      },
    },
    'an empty paragraph between two tables': {
      content: doc(wideTable, paragraph(), wideTable),
      comesBack: (back) => expect(back.map(({ type }) => type)).toEqual(['table', 'table']),
    },
    'quotes one after another': { content: doc(quote('a'), quote('b')), comesBack: doc(quote('a', 'b')) },
    'code blocks one after another': { content: doc(code('a'), code('b')), comesBack: doc(code('a\nb')) },
    'the programming language of code': { content: doc(code('select 1', 'sql')), comesBack: doc(code('select 1')) },
    'a list, table or rule in a quote': {
      content: doc(quote('a', bullets('b'), rule)),
      comesBack: doc(quote('a'), bullets('b'), rule),
    },
    'a table, quote, heading or code in a list item': {
      content: doc({ ...bullets(item('a', code('x')), 'b') }),
      comesBack: doc(bullets('a'), code('x'), bullets('b')),
    },
    'lists more than nine deep': {
      content: doc(nested(11)),
      comesBack: ([first]) => expect(depthOf(first as List)).toBe(9),
    },
    'a footnote in a footnote': {
      content: doc(paragraph('a', footnote(paragraph('b', footnote('c'))))),
      comesBack: doc(paragraph('a', footnote('b'))),
    },
    'a mark with the font or size of the whole file': {
      content: doc(paragraph(text('a', { font: 'Calibri', size: 11 }))),
      comesBack: doc('a'),
    },
    'a paragraph said to run from left to right': {
      content: doc({ ...paragraph('a'), direction: 'ltr' }),
      comesBack: doc('a'),
    },
    'a tab in alternative text': {
      content: doc({ type: 'picture', ...picture, alt: 'a\tb' }),
      comesBack: doc({ type: 'picture', ...picture, alt: 'a b' }),
    },
    'the check box of a list item': {
      content: doc(bullets(checkItem(true, 'a'), checkItem(false, 'b'))),
      comesBack: doc(bullets('☒ a', '☐ b')),
    },
    'spaces in a row in alternative text': {
      content: doc({ type: 'picture', ...picture, alt: 'a  b' }),
      comesBack: doc({ type: 'picture', ...picture, alt: 'a b' }),
    },
    'underline, font, size, colours and language': {
      content: doc(
        paragraph(text('a', { underline: true, font: 'Georgia', size: 20, colour: '#ff0000', language: 'fr' })),
      ),
      writes: 'a\n',
    },
    'alignment, indent, direction and style names of paragraphs': {
      content: doc({ ...paragraph('a'), align: 'end', indent: 12, direction: 'rtl', style: 'X' }),
      writes: 'a\n',
    },
    'cells that cover several rows or columns': {
      content: doc(table(1, [{ ...cell('a'), columnSpan: 2 }], ['b', 'c'])),
      writes: '| a |   |\n| - | - |\n| b | c |\n',
    },
    'several paragraphs in a cell': {
      content: doc(table(1, ['a'], [cell('b', paragraph('c', lineBreak, 'd'))])),
      writes: '| a           |\n| ----------- |\n| b<br>c<br>d |\n',
    },
    'list markers other than numbers and bullets': {
      content: doc({ type: 'list', ordered: true, marker: 'upper-roman', items: [item('a')] }),
      writes: '1. a\n',
    },
    marks: { content: run(bold('a'), text(' b', { link: { href: 'https://ferry.example' } })), writes: 'a b\n' },
    tables: { content: doc(table(1, ['a', 'b'], ['c', 'd e'])), writes: 'a\tb\nc\td e\n' },
    pictures: {
      content: doc(paragraph('x ', { type: 'picture', ...picture, alt: 'a ferry' })),
      writes: 'x [picture: a ferry]\n',
    },
    footnotes: { content: doc(paragraph('a', footnote('b'), ' c')), writes: 'a [b] c\n' },
  };

const rows = lossyConversions.flatMap(({ formats, what, becomes }) =>
  formats.map((format): [FormatName, string, string] => [format, what, becomes]),
);

it('has a sample for every row, and a row for every sample', () => {
  expect(rows.length).toBeGreaterThan(20);
  expect(new Set(lossyConversions.map(({ what }) => what))).toEqual(new Set(Object.keys(samples)));
});

it.each(rows)('%s: %s: %s', async (name, what) => {
  const { content, comesBack, writes } = samples[what] as (typeof samples)[string];
  const format = await formatNamed(name).load();
  const bytes = (await format.write?.(content, { media: allMedia, language: 'en-GB' })) ?? new Uint8Array();
  if (writes !== undefined) return expect(new TextDecoder().decode(bytes)).toBe(writes);
  const back = (await format.read?.(sourceOf(bytes, 'x'), { kind: 'whole' }))?.content;
  if (typeof comesBack === 'function') comesBack([...asBlocks(back as Content)]);
  else expect(back).toEqual(comesBack);
});
