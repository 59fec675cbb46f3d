import type { Block, Content, Inline, Picture } from './model.ts';

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
