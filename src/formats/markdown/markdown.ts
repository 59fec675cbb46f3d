/**
 * Markdown (.md) alone.
 * @packageDocumentation
 */

import type { RootContent } from 'mdast';
import { gfmToMarkdown } from 'mdast-util-gfm';
import { toMarkdown } from 'mdast-util-to-markdown';
import { asBlocks, type Block, type Content } from '../../content/index.ts';
import { type ProseWriting, proseFormat } from '../prose-format.ts';
import { directBlock } from './direct.ts';
import { editMarkdown } from './edit.ts';
import { openMarkdown } from './read.ts';
import { type MarkdownWriter, writeBlocks, writeFootnotes, writeInlines } from './write-blocks.ts';

/** CommonMark with the GitHub Flavored Markdown extensions. */
export const markdown = proseFormat({
  name: 'markdown',
  open: openMarkdown,
  edit: editMarkdown,
  write: async (content, options) => new TextEncoder().encode(markdownText(content, options)),
});

/** Words from within a paragraph stay without a line end; everything else ends with one. */
export function markdownText(content: Content, options: ProseWriting): string {
  const writer: MarkdownWriter = { options, footnotes: [] };
  if (content.shape === 'run')
    return serialised([
      { type: 'paragraph', children: writeInlines(writer, content.inlines) },
      ...writeFootnotes(writer),
    ]);
  const parts = [...eachPart(writer, asBlocks(content))];
  const notes = writeFootnotes(writer);
  if (notes.length > 0) parts.push(part(notes));
  const text = parts.join('\n\n');
  return text === '' || text.endsWith('\n') ? text : `${text}\n`;
}

/** What a blank line parts: plain blocks one by one, and others together. Lists in a row need one another's signs. */
function* eachPart(writer: MarkdownWriter, blocks: readonly Block[]): Generator<string> {
  let waiting: Block[] = [];
  for (const [index, block] of blocks.entries()) {
    const isBesideList =
      block.type === 'list' && (blocks[index - 1]?.type === 'list' || blocks[index + 1]?.type === 'list');
    const direct = isBesideList ? undefined : directBlock(block);
    if (direct === undefined) {
      waiting.push(block);
      continue;
    }
    if (waiting.length > 0) yield part(writeBlocks(writer, waiting));
    waiting = [];
    yield direct;
  }
  if (waiting.length > 0) yield part(writeBlocks(writer, waiting));
}

/** Without the line end that is added behind all, and with one that is the text's own: what follows tells them apart. */
function part(children: RootContent[]): string {
  const text = serialised([...children, { type: 'html', value: behind }]);
  return text.slice(0, -`\n\n${behind}\n`.length);
}

const behind = '<!-- behind -->';

const serialised = (children: RootContent[]): string =>
  toMarkdown(
    { type: 'root', children },
    { bullet: '-', emphasis: '*', rule: '-', listItemIndent: 'one', extensions: [gfmToMarkdown()] },
  );
