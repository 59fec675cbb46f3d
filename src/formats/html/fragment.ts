import type { Element } from 'hast';
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

/** The notes' texts in a section of their own (DPUB-ARIA 1.1: doc-endnotes); none where there are no notes. */
export function noteSection(writer: HtmlWriter): Element[] {
  const items = noteItems(writer);
  return items.length === 0 ? [] : [h('section', { role: 'doc-endnotes' }, [h('ol', items)])];
}

/** The notes' texts with ways back (doc-backlink); a note that a note refers to comes after it. */
export function noteItems(writer: HtmlWriter): Element[] {
  const items: Element[] = [];
  for (let index = 0; index < writer.footnotes.length; index++) {
    const number = (writer.firstNote ?? 1) + index;
    const back = h('p', [
      h('a', { href: `#reference-${number}`, role: 'doc-backlink' }, `Back to reference ${number}`),
    ]);
    items.push(
      h('li', { id: `note-${number}` }, [...writeBlocks(writer, writer.footnotes[index]?.blocks ?? []), back]),
    );
  }
  return items;
}
