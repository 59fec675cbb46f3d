import { type Block, bullets, doc, heading, numbers, paragraph, parseFragment } from 'drawer';
import { type Format, sourceOf } from 'drawer/formats';
import { docx } from 'drawer/formats/docx';
import { html } from 'drawer/formats/html';
import { markdown } from 'drawer/formats/markdown';
import { odt } from 'drawer/formats/odt';
import * as fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { BlocksContent } from '../../src/content/index.ts';
import { allMedia, block } from '../support/arbitrary.ts';

const names = ['Keel', 'Stem', 'Sails'] as const;
/** Blocks under a heading of the first level, with none of that level among them. */
const under = fc.array(
  block.filter(({ type, ...rest }) => type !== 'heading' || (rest as { level: number }).level > 1),
  { maxLength: 4 },
);
const parts = fc.tuple(under, under, under);

async function take(format: Format, bytes: Uint8Array, place: string): Promise<readonly Block[]> {
  const taken = await format.read?.(sourceOf(bytes, `x.${format.name}`), parseFragment(place));
  return (taken as { content: BlocksContent }).content.blocks;
}
const isBlank = (each: Block | undefined): boolean => each?.type === 'paragraph' && each.inlines.length === 0;
const isNamed = (each: Block): boolean =>
  each.type === 'heading' && each.level === 1 && names.includes((each.inlines[0] as { text?: string })?.text as 'Keel');

/** What stands under each of the names in the whole of a file. */
function sectionsIn(blocks: readonly Block[]): (readonly Block[])[] {
  const starts = blocks.flatMap((each, index) => (isNamed(each) ? [index] : []));
  return starts.map((start, index) => {
    const section = blocks.slice(start, starts[index + 1]);
    while (isBlank(section.at(-1))) section.pop();
    return section;
  });
}

it.each([docx, odt, html, markdown] as const)(
  'gives each section of $name as it stands in the whole, though what is around it is passed over',
  async (format) => {
    await fc.assert(
      fc.asyncProperty(parts, async (all) => {
        const content = doc(...all.flatMap((blocks, index) => [heading(1, names[index] ?? ''), ...blocks]));
        const bytes = await format.write(content, { media: allMedia });
        const sections = sectionsIn(await take(format, bytes, ''));
        expect(sections.length).toBe(3);
        for (const [index, name] of names.entries())
          expect(await take(format, bytes, `section=${name}`)).toEqual(sections[index]);
      }),
      { numRuns: Number(process.env.RUNS ?? 20) },
    );
  },
);

it('counts items and knows headings in what it passes over of a document', async () => {
  const bytes = await docx.write(
    doc(
      heading(1, 'Keel'),
      numbers('one', 'two'),
      heading(1, 'Stem'),
      paragraph('between'),
      bullets('a'),
      heading(1, 'Sails'),
      paragraph('last'),
    ),
    { media: allMedia },
  );
  const files = unzipSync(bytes);
  const body = strFromU8(files['word/document.xml'] as Uint8Array);
  const changed = body
    // The list under the last heading goes on with the numbers of the first.
    .replace(
      /(<w:p><w:r><w:t[^>]*>)last/,
      '<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr></w:pPr><w:r><w:t>last',
    )
    // A paragraph that says a level of its own is a heading, whatever its style.
    .replace(/<w:p>(<w:r><w:t[^>]*>between)/, '<w:p><w:pPr><w:outlineLvl w:val="0"/></w:pPr>$1');
  expect(changed).not.toBe(body);
  const again = zipSync({ ...files, 'word/document.xml': strToU8(changed) });
  expect(await take(docx, again, 'section=Sails')).toEqual([heading(1, 'Sails'), { ...numbers('last'), start: 3 }]);
  expect((await take(docx, again, 'section=between'))[0]).toEqual(heading(1, 'between'));
  expect(await take(docx, again, 'section=Stem')).toEqual([heading(1, 'Stem')]);
});
