import type { Block, Content, HeadingLevel } from './model.ts';

/** The content with its headings moved up or down together, so that the highest has `level`; the lowest stays within 6. */
export function shiftHeadings(content: Content, level: number): Content {
  if (content.shape !== 'blocks') return content;
  const highest = content.blocks.reduce(
    (least, block) => (block.type === 'heading' ? Math.min(least, block.level) : least),
    7,
  );
  const shift = level - highest;
  if (highest === 7 || shift === 0) return content;
  return {
    shape: 'blocks',
    blocks: content.blocks.map(
      (block): Block =>
        block.type === 'heading'
          ? { ...block, level: Math.min(6, Math.max(1, block.level + shift)) as HeadingLevel }
          : block,
    ),
  };
}
