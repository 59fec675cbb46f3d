/**
 * Content as HTML for the body of a page, or for a clipboard.
 * @packageDocumentation
 */

import type { Element, ElementContent } from 'hast';
import { asBlocks, type Content, type Media } from '../../content/index.ts';
import { element, markup } from './markup.ts';
import { type HtmlWriter, writeBlock, writeBlocks } from './write-blocks.ts';
import { writeInlines } from './write-inlines.ts';

/** Only what goes inside a body, for a page or a clipboard. Everything in it is made from the content, never passed through. */
export function htmlFragment(content: Content, media: Media): string {
  let html = '';
  for (const node of eachNode(content, { media, footnotes: [], isFinal: true })) html += markup([node]);
  return html;
}

/** The same as a tree. */
export const fragmentNodes = (content: Content, media: Media): ElementContent[] => [
  ...eachNode(content, { media, footnotes: [] }),
];

/** A block at a time, so that one can be forgotten before the next is made. */
function* eachNode(content: Content, writer: HtmlWriter): Generator<ElementContent> {
  if (content.shape === 'run') yield* writeInlines(writer, content.inlines);
  else for (const block of asBlocks(content)) yield writeBlock(writer, block);
  yield* noteSection(writer);
}

/** The notes' texts in a section of their own (DPUB-ARIA 1.1: doc-endnotes); none where there are no notes. */
export function noteSection(writer: HtmlWriter): Element[] {
  const items = noteItems(writer);
  return items.length === 0 ? [] : [element('section', { role: 'doc-endnotes' }, [element('ol', undefined, items)])];
}

/** The notes' texts with ways back (doc-backlink); a note that a note refers to comes after it. */
export function noteItems(writer: HtmlWriter): Element[] {
  const items: Element[] = [];
  for (let index = 0; index < writer.footnotes.length; index++) {
    const number = (writer.firstNote ?? 1) + index;
    const back = element('p', undefined, [
      element('a', { href: `#reference-${number}`, role: 'doc-backlink' }, `Back to reference ${number}`),
    ]);
    items.push(
      element('li', { id: `note-${number}` }, [...writeBlocks(writer, writer.footnotes[index]?.blocks ?? []), back]),
    );
  }
  return items;
}
