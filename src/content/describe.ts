import { asBlocks, cellText } from './as-blocks.ts';
import { rangeSize } from './gaps.ts';
import { columnCount } from './grid.ts';
import type { Block, Content, List, Table } from './model.ts';
import { blocksText, inlineText } from './plain-text.ts';
import { plural } from './plural.ts';

/** What content is, in a word or two: `words`, `section`, `table, 4 × 3`, `list, 5 items`, `picture, 640 × 480`. */
export function describe(content: Content): string {
  switch (content.shape) {
    case 'run':
      return 'words';
    case 'cells':
      return cellsDescription(rangeSize(content));
    case 'picture':
      return pictureDescription(content.picture);
    case 'blocks':
      return blocksDescription(content.blocks);
  }
}

const cellsDescription = ({ rows, columns }: ReturnType<typeof rangeSize>): string =>
  rows === 1 && columns === 1 ? 'cell' : `table, ${rows} × ${columns}`;

const pictureDescription = ({ width, height }: { width?: number; height?: number }): string =>
  width && height ? `picture, ${Math.round(width)} × ${Math.round(height)} pt` : 'picture';

function blocksDescription(blocks: readonly Block[]): string {
  const [only] = blocks;
  if (only === undefined) return 'nothing';
  if (blocks.length === 1) return blockDescription(only);
  if (only.type === 'heading') return 'section';
  return blocks.every((block) => block.type === 'paragraph')
    ? plural(blocks.length, 'paragraph')
    : plural(blocks.length, 'block');
}

function blockDescription(block: Block): string {
  switch (block.type) {
    case 'list':
      return `list, ${plural(block.items.length, 'item')}`;
    case 'table':
      return `table, ${block.rows.length} × ${columnCount(block)}`;
    case 'picture':
      return pictureDescription(block);
    default:
      return block.type;
  }
}

/** How content begins, on one line, at most `length` UTF-16 units; a cut shows as `…`. */
export function preview(content: Content, length = 160): string {
  const line = beginning(content, length * 4)
    .replace(/\s+/g, ' ')
    .trim();
  return clipped(line, length);
}

/** Words of at most `length` UTF-16 units, none of them half a character; a cut shows as `…`. */
export function clipped(words: string, length: number): string {
  if (words.length <= length) return words;
  const cut = words.slice(0, length - 1);
  return `${/[\uD800-\uDBFF]$/.test(cut) ? cut.slice(0, -1) : cut}…`;
}

/** Enough of the start to make a preview of, without writing out a long document. */
function beginning(content: Content, enough: number): string {
  if (content.shape === 'run') return inlineText(content.inlines);
  if (content.shape === 'cells')
    return rowsBeginning(
      content.rows.map((row) => row.map(cellText)),
      enough,
    );
  let words = '';
  for (const block of asBlocks(content)) {
    words += `${blockBeginning(block, enough)} `;
    if (words.length > enough) break;
  }
  return words;
}

function blockBeginning(block: Block, enough: number): string {
  if (block.type === 'table') return tableBeginning(block, enough);
  return block.type === 'list' ? listBeginning(block) : blocksText([block]);
}

const listBeginning = ({ items }: List): string =>
  items.map(({ blocks }) => blocks.map((block) => blockBeginning(block, 200)).join(' · ')).join(' · ');

const tableBeginning = (table: Table, enough: number): string =>
  rowsBeginning(
    table.rows.slice(0, enough).map(({ cells }) => cells.map(({ blocks }) => blocksText(blocks, ' '))),
    enough,
  );

function rowsBeginning(rows: readonly (readonly string[])[], enough: number): string {
  let words = '';
  for (const row of rows) {
    words += `${row.filter((cell) => cell.trim() !== '').join(' · ')} / `;
    if (words.length > enough) break;
  }
  return words.replace(/( \/ )+$/, '');
}
