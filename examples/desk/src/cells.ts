import { asBlocks, type Cell, type Content, plainText } from 'drawer';

/** What somebody typed: a number, or words. */
export const typed = (words: string): Cell => {
  const value = words.trim();
  if (value === '') return { type: 'empty' };
  return /^-?\d+(?:\.\d+)?$/.test(value)
    ? { type: 'number', value: Number(value), text: value }
    : { type: 'text', value: words };
};

/** Content as rows of cells: a range as it is, tables by their cells, anything else a block a cell. */
export function cellsOf(content: Content): readonly (readonly Cell[])[] {
  if (content.shape === 'cells') return content.rows;
  const text = (words: string): Cell => ({ type: 'text', value: words });
  if (content.shape !== 'blocks') return [[text(plainText(content))]];
  return asBlocks(content).flatMap((block): Cell[][] =>
    block.type === 'table'
      ? block.rows.map(({ cells }) => cells.map((cell) => text(plainText({ shape: 'blocks', blocks: cell.blocks }))))
      : block.type === 'list'
        ? block.items.map((item) => [text(plainText({ shape: 'blocks', blocks: item.blocks }))])
        : [[text(plainText({ shape: 'blocks', blocks: [block] }))]],
  );
}
