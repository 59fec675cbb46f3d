import { joinText } from './build.ts';
import type { Block, Content, HeadingLevel, Inline, Picture } from './model.ts';

/** The blocks directly inside a block: a quote's, a list's items' and a table's cells'. */
export function childBlocks(block: Block): readonly Block[] {
  switch (block.type) {
    case 'list':
      return block.items.flatMap((item) => item.blocks);
    case 'table':
      return block.rows.flatMap((row) => row.cells.flatMap((cell) => cell.blocks));
    case 'quote':
      return block.blocks;
    default:
      return [];
  }
}

/** Every block in reading order, each before those inside it; footnotes are left to `inlinesIn`. */
export function* blocksIn(blocks: readonly Block[]): Generator<Block> {
  for (const block of blocks) {
    yield block;
    yield* blocksIn(childBlocks(block));
  }
}

/** Every inline in reading order, those inside footnotes after their reference. */
export function* inlinesIn(blocks: readonly Block[]): Generator<Inline> {
  for (const block of blocksIn(blocks)) if ('inlines' in block) yield* withNotes(block.inlines);
}

function* withNotes(inlines: readonly Inline[]): Generator<Inline> {
  for (const inline of inlines) {
    yield inline;
    if (inline.type === 'footnote') yield* inlinesIn(inline.blocks);
  }
}

/** Every picture of the content, in reading order. */
export function* picturesIn(content: Content): Generator<Picture> {
  if (content.shape === 'picture') yield content.picture;
  if (content.shape === 'run')
    for (const inline of withNotes(content.inlines)) if (inline.type === 'picture') yield inline;
  if (content.shape !== 'blocks') return;
  for (const block of blocksIn(content.blocks)) {
    if (block.type === 'picture') yield block;
    if (!('inlines' in block)) continue;
    for (const inline of withNotes(block.inlines)) if (inline.type === 'picture') yield inline;
  }
}

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

/** One UTF-16 unit stands for a break, a picture or a footnote, so that offsets map back to inlines. */
const unitOf = { break: '\n', picture: '\ufffc', footnote: '\ufffc' } as const;
export const inlineUnits = (inline: Inline): string => (inline.type === 'text' ? inline.text : unitOf[inline.type]);

/** The part of inlines between two offsets in UTF-16 units. */
export function sliceInlines(inlines: readonly Inline[], from: number, to: number): Inline[] {
  let at = 0;
  const kept = inlines.flatMap((inline): Inline[] => {
    const length = inlineUnits(inline).length;
    const start = Math.max(from - at, 0);
    const end = Math.min(to - at, length);
    at += length;
    if (start >= end) return [];
    return [inline.type === 'text' ? { ...inline, text: inline.text.slice(start, end) } : inline];
  });
  return joinText(kept);
}
