import { bullets, doc, heading, numbers, paragraph, table, text } from 'drawer';
import * as fc from 'fast-check';
import { gfmToMarkdown } from 'mdast-util-gfm';
import { toMarkdown } from 'mdast-util-to-markdown';
import { bold, italic } from '../../src/content/index.ts';
import { directBlock } from '../../src/formats/markdown/direct.ts';
import { markdown } from '../../src/formats/markdown/markdown.ts';
import { writeBlocks } from '../../src/formats/markdown/write-blocks.ts';
import { allMedia, blocks, block as everyBlock } from '../support/arbitrary.ts';

const options = { media: allMedia };
type Blocks = Parameters<typeof writeBlocks>[1];

/** What the serialiser of trees makes of blocks. */
const serialised = (of: Blocks): string =>
  toMarkdown(
    { type: 'root', children: writeBlocks({ options, footnotes: [] }, of) },
    { bullet: '-', emphasis: '*', rule: '-', listItemIndent: 'one', extensions: [gfmToMarkdown()] },
  );

/** Words of what Markdown reads as signs, and of what it does not. */
const risky = fc
  .array(
    fc.constantFrom(
      ...'a b é 1 9 . , ; : ! ? - – + = # * _ ` ~ | \\ / ( ) [ ] < > & " \' £ @ € …'.split(' '),
      ' ',
      'www.',
      'http://',
      '1. ',
      '- ',
      '& b',
      '&amp;',
      'a@b.c',
    ),
    { minLength: 1, maxLength: 10 },
  )
  .map((signs) => signs.join(''));
const mild = fc
  .array(fc.constantFrom('oak', 'larch', 'é', '9.50', '£12', ' & ', ', ', '. ', ': ', ' – ', 'well-kept', '1,000'), {
    minLength: 1,
    maxLength: 5,
  })
  .map((signs) => signs.join(' ').trim().replace(/ +/g, ' '));
const words = fc.oneof({ weight: 2, arbitrary: mild }, { weight: 1, arbitrary: risky });
const inline = fc.oneof(
  { weight: 4, arbitrary: words.map((each) => text(each)) },
  { weight: 1, arbitrary: words.map((each) => bold(each)) },
  { weight: 1, arbitrary: words.map((each) => italic(each)) },
);
const line = fc.array(inline, { minLength: 1, maxLength: 3 }).map((inlines) => paragraph(...inlines));
const riskyBlock = fc.oneof(
  line,
  fc.tuple(fc.integer({ min: 1, max: 6 }), line).map(([level, { inlines }]) => heading(level as 1, ...inlines)),
  fc.array(words, { minLength: 1, maxLength: 3 }).map((items) => bullets(...items)),
  fc.array(words, { minLength: 1, maxLength: 3 }).map((items) => numbers(...items)),
  fc.array(fc.tuple(words, words), { minLength: 1, maxLength: 3 }).map((rows) => table(1, ...rows)),
);

it('puts plain blocks together as the serialiser of trees does', () => {
  let direct = 0;
  fc.assert(
    fc.property(fc.oneof(riskyBlock, everyBlock), (block) => {
      const made = directBlock(block);
      if (made === undefined) return;
      direct++;
      expect(`${made}\n`).toBe(serialised([block]));
    }),
    { numRuns: Number(process.env.RUNS ?? 3_000) },
  );
  expect(direct).toBeGreaterThan(100);
});

it('writes any blocks as the serialiser of trees does', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.oneof(
        blocks,
        fc.array(riskyBlock, { maxLength: 5 }).map((all) => doc(...all)),
      ),
      async (content) => {
        const hasNotes = JSON.stringify(content).includes('"footnote"'); // their texts stand behind all else
        if (!hasNotes)
          expect(new TextDecoder().decode(await markdown.write(content, options))).toBe(serialised(content.blocks));
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 500) },
  );
});
