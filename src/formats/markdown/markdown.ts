import { gfmToMarkdown } from 'mdast-util-gfm';
import { toMarkdown } from 'mdast-util-to-markdown';
import { asBlocks, type Content } from '../../content/index.ts';
import type { Format, WriteOptions } from '../format.ts';
import { insertMarkdown } from './insert.ts';
import { outlineMarkdown, takeMarkdown } from './read.ts';
import { removeMarkdown } from './remove.ts';
import { type MarkdownWriter, writeBlocks, writeFootnotes } from './write-blocks.ts';
import { writeInlines } from './write-inlines.ts';

/** CommonMark with the GitHub Flavored Markdown extensions. */
export const markdown = {
  name: 'markdown',
  outline: outlineMarkdown,
  take: takeMarkdown,
  remove: removeMarkdown,
  insert: insertMarkdown,
  write: async (content, options) => new TextEncoder().encode(markdownText(content, options)),
} satisfies Format;

/** Words from within a paragraph stay without a line end; everything else ends with one. */
export function markdownText(content: Content, options: WriteOptions): string {
  const writer: MarkdownWriter = { options, footnotes: [] };
  const children =
    content.shape === 'run'
      ? [{ type: 'paragraph' as const, children: writeInlines(writer, content.inlines) }]
      : writeBlocks(writer, asBlocks(content));
  return toMarkdown(
    { type: 'root', children: [...children, ...writeFootnotes(writer)] },
    { bullet: '-', emphasis: '*', rule: '-', listItemIndent: 'one', extensions: [gfmToMarkdown()] },
  );
}
