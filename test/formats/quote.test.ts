import {
  asBlocks,
  type Block,
  bullets,
  type Content,
  doc,
  heading,
  paragraph,
  parseContent,
  parseFragment,
  plainText,
  printFragment,
  table,
} from 'drawer';
import { sourceOf } from 'drawer/formats';
import { html } from 'drawer/formats/html';
import * as fc from 'fast-check';
import { blocksIn, bold, cell, code, inlineText, quote } from '../../src/content/index.ts';
import { allMedia } from '../support/arbitrary.ts';

/** Takes quoted words from a page of these blocks. */
async function quoted(
  content: Content,
  words: { start: string; end?: string; prefix?: string; suffix?: string },
): Promise<Content> {
  const page = await html.write(content, { media: allMedia });
  const place = printFragment({ kind: 'quote', ...words });
  return (await html.read(sourceOf(page, 'x.html'), parseFragment(place))).content;
}

const word = fc.constantFrom(
  'oak',
  'larch',
  'elm',
  'keel',
  'stem',
  'frame',
  'and',
  'of',
  'the',
  'plank-end',
  'don’t',
  'Über',
  '12',
  '£5',
);
const sentence = fc.array(word, { minLength: 3, maxLength: 9 }).map((all) => all.join(' '));
/** Each paragraph ends with a word of its own, so that every quote stands in one place only. */
const paragraphs = fc
  .array(sentence, { minLength: 1, maxLength: 4 })
  .map((all) => all.map((each, index) => `start${index} ${each} stop${index}`));

const holder: readonly ((words: string) => Block)[] = [
  (words) => paragraph(words),
  (words) => paragraph(words.slice(0, 8), bold(words.slice(8))),
  (words) => heading(2, words),
  (words) => bullets(words),
  (words) => quote(words),
  (words) => table(0, [cell(words)]),
  (words) => code(words),
];

it('finds whatever words are quoted, wherever they stand, and nothing beside them', async () => {
  await fc.assert(
    fc.asyncProperty(
      paragraphs,
      fc.array(fc.nat(holder.length - 1), { minLength: 4, maxLength: 4 }),
      fc.nat(),
      fc.nat(),
      async (texts, kinds, from, length) => {
        const content = doc(...texts.map((words, index) => (holder[kinds[index] ?? 0] as (typeof holder)[0])(words)));
        const all = texts.flatMap((text) => text.split(' '));
        const first = from % all.length;
        const chosen = all.slice(first, first + 1 + (length % (all.length - first)));
        const start = texts.findIndex((text) => text.split(' ').includes(chosen[0] ?? ''));
        const [only] = texts.filter((text) => text.includes(chosen.join(' ')));
        // A quote within one text is given whole; one that goes over ends by its first and last words, with what is around.
        const taken = only !== undefined && start >= 0 ? await quoted(content, { start: chosen.join(' ') }) : undefined;
        if (!taken) return;
        parseContent(taken);
        expect(plainText(taken).replace(/^(- |> )/, '')).toBe(chosen.join(' '));
      },
    ),
    { numRuns: 150 },
  );
});

it('takes from the first words to the last, over paragraph ends', async () => {
  await fc.assert(
    fc.asyncProperty(paragraphs, async (texts) => {
      const last = texts.length - 1;
      const taken = await quoted(doc(...texts.map((words) => paragraph(words))), {
        start: 'start0',
        end: `stop${last}`,
      });
      const found =
        taken.shape === 'run'
          ? [inlineText(taken.inlines)]
          : [...blocksIn(asBlocks(taken))].map((block) => ('inlines' in block ? inlineText(block.inlines) : ''));
      expect(found).toEqual(texts);
      expect(taken.shape).toBe('blocks');
    }),
    { numRuns: 60 },
  );
});

describe('which of several', () => {
  const letters = doc('oak for the keel', 'oak for the stem', paragraph('oak', bold('um'), ' and oak'));

  it.each([
    [{ start: 'oak' }, 'oak'],
    [{ start: 'oak', suffix: 'for the stem' }, 'oak'],
    [{ start: 'stem' }, 'stem'],
    [{ start: 'for the', prefix: 'stem oak' }, undefined],
    [{ start: 'oak', prefix: 'and' }, 'oak'],
    [{ start: 'OAK FOR', end: 'Stem' }, 'oak for the keel\n\noak for the stem'],
    [{ start: 'oaku' }, undefined],
    [{ start: 'oakum' }, 'oakum'],
    [{ start: 'keel', end: 'for' }, 'keel\n\noak for'],
  ])('%j', async (words, expected) => {
    const taken = quoted(letters, words);
    if (expected === undefined) await expect(taken).rejects.toMatchObject({ code: 'not-found' });
    else expect(plainText(await taken)).toBe(expected);
  });

  it('finds words in scripts without spaces', async () => {
    expect(plainText(await quoted(doc('渡し船は木造です。'), { start: '木造' }))).toBe('木造');
  });

  it('looks for signs that patterns would take for something else', async () => {
    expect(plainText(await quoted(doc('costs (a+b)* [$5] {x}? | y'), { start: '(a+b)* [$5]' }))).toBe('(a+b)* [$5]');
  });

  it('takes no longer than the text, whatever is looked for', async () => {
    const content = doc(paragraph(`${'a '.repeat(20_000)}b`));
    const started = process.cpuUsage().user;
    await expect(quoted(content, { start: `${'a '.repeat(30)}c` })).rejects.toMatchObject({ code: 'not-found' });
    expect(process.cpuUsage().user - started).toBeLessThan(20_000_000); // microseconds; a backtracking search takes minutes
  });
});
