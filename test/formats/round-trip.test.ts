import { type Content, compose, parseContent } from 'drawer';
import { type Format, sourceOf } from 'drawer/formats';
import { docx } from 'drawer/formats/docx';
import { html } from 'drawer/formats/html';
import { odt } from 'drawer/formats/odt';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import type { BlocksContent } from '../../src/content/index.ts';
import { allMedia, blocks } from '../support/arbitrary.ts';

/** Writes a new file and takes the whole of it. */
async function roundTrip(format: Format, content: Content): Promise<Content> {
  const bytes = await format.write?.(content, { media: allMedia, language: 'en-GB' });
  const taken = await format.read?.(
    sourceOf(bytes ?? new Uint8Array(), `x.${format.name}`),
    { kind: 'whole' },
    nodeTools,
  );
  return (taken as { content: Content }).content;
}

/** A document always states its column widths; where the content states none, they are not compared. */
function likeFirst(content: Content, first: Content): Content {
  if (content.shape !== 'blocks' || first.shape !== 'blocks') return content;
  const without = content.blocks.map((block, index) => {
    const original = first.blocks[index];
    if (block.type !== 'table' || (original?.type === 'table' && original.columnWidths)) return block;
    const { columnWidths: _, ...rest } = block;
    return rest;
  });
  return { ...content, blocks: without };
}

/** An open text has no check boxes, and descriptions lose doubled spaces: tested among the limits. */
const held = <T>(content: T): T =>
  JSON.parse(JSON.stringify(content), (key, value) =>
    key === 'checked' || (key === 'alt' && /^\s|\s$|\s\s|[^\S ]/.test(value)) ? undefined : value,
  ) as T;

describe.each([docx, html, odt])('$name', (format) => {
  it('gives back whatever the builders make', async () => {
    await fc.assert(
      fc.asyncProperty(format.name === 'odt' ? blocks.map(held) : blocks, async (content) => {
        parseContent(content);
        const back = await roundTrip(format, content);
        parseContent(back);
        expect(likeFirst(back, content)).toEqual(content);
      }),
      { numRuns: Number(process.env.RUNS ?? 75) },
    );
  });

  it('pastes all as each in order', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(format.name === 'odt' ? blocks.map(held) : blocks, { minLength: 2, maxLength: 3 }),
        async (contents) => {
          const together = await roundTrip(format, composed(contents));
          const apart: Content[] = [];
          for (const content of contents) apart.push(await roundTrip(format, content));
          expect(withoutJoins(together)).toEqual(withoutJoins(composed(apart)));
        },
      ),
      { numRuns: 30 },
    );
  });
});

const composed = (contents: readonly Content[]): Content => compose(contents.map((content) => ({ content }))).content;

/** Quotes and code that meet become one, in the file and so here; widths follow the page. */
function withoutJoins(content: Content): unknown {
  const joined: BlocksContent['blocks'][number][] = [];
  for (const block of (content as BlocksContent).blocks) {
    const before = joined.at(-1);
    if (block.type === 'quote' && before?.type === 'quote')
      joined[joined.length - 1] = { ...before, blocks: [...before.blocks, ...block.blocks] };
    else if (block.type === 'code' && before?.type === 'code')
      joined[joined.length - 1] = { ...before, text: `${before.text}\n${block.text}` };
    else joined.push(block);
  }
  return joined;
}
