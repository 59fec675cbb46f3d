import { toHtml } from 'hast-util-to-html';
import { h } from 'hastscript';
import { asBlocks, type Content, type Media } from '../../content/index.ts';
import { type HtmlWriter, writeBlocks } from './write-blocks.ts';
import { writeInlines } from './write-inlines.ts';

/** Only what goes inside a body, for a page or a clipboard. Everything in it is made from the content, never passed through. */
export const htmlFragment = (content: Content, media: Media): string =>
  toHtml({ type: 'root', children: fragmentNodes(content, media) });

/** The same as a tree. */
export function fragmentNodes(content: Content, media: Media) {
  const writer: HtmlWriter = { media, footnotes: [] };
  const inside =
    content.shape === 'run' ? writeInlines(writer, content.inlines) : writeBlocks(writer, asBlocks(content));
  return [...inside, ...noteSection(writer)];
}

/** The notes' texts (DPUB-ARIA 1.1: doc-endnotes, doc-backlink); a note that a note refers to comes after it. */
function noteSection(writer: HtmlWriter) {
  const items = [];
  for (let index = 0; index < writer.footnotes.length; index++) {
    const number = index + 1;
    const back = h('p', [
      h('a', { href: `#reference-${number}`, role: 'doc-backlink' }, `Back to reference ${number}`),
    ]);
    items.push(
      h('li', { id: `note-${number}` }, [...writeBlocks(writer, writer.footnotes[index]?.blocks ?? []), back]),
    );
  }
  return items.length === 0 ? [] : [h('section', { role: 'doc-endnotes' }, [h('ol', items)])];
}
