import { asBlocks, type BlocksContent, type Content } from '../content/index.ts';

const nothing: BlocksContent = { shape: 'blocks', blocks: [] };

/**
 * Many contents as one block, in the order given: words become a paragraph, a range a table. One content alone is that
 * content, the same object.
 */
export function compose(contents: readonly Content[]): Content {
  const [only] = contents;
  if (only === undefined) return nothing;
  return contents.length === 1 ? only : { shape: 'blocks', blocks: contents.flatMap(asBlocks) };
}
