import { type Content, cellText, type Inline, textWithBreaks } from '../content/index.ts';

/** The words of content that is part of a line: a run, one paragraph, or one cell; `undefined` for anything longer. */
export function findWords(content: Content): readonly Inline[] | undefined {
  if (content.shape === 'run') return content.inlines;
  if (content.shape === 'cells') {
    const [only] = content.rows[0] ?? [];
    return content.rows.length === 1 && content.rows[0]?.length === 1 && only
      ? textWithBreaks(cellText(only), only.marks)
      : undefined;
  }
  if (content.shape === 'picture') return undefined;
  const [only] = content.blocks;
  return content.blocks.length === 1 && only?.type === 'paragraph' ? only.inlines : undefined;
}
