import { asBlocks, cellText } from './as-blocks.ts';
import { rangeSize } from './gaps.ts';
import { columnCount } from './grid.ts';
import type { Message } from './message.ts';
import type { Block, Content, List, Table } from './model.ts';
import { blocksText, inlineText } from './plain-text.ts';

export const descriptionKinds = [
  'words',
  'cell',
  'table',
  'list',
  'picture',
  'section',
  'paragraph',
  'paragraphs',
  'heading',
  'quote',
  'code',
  'rule',
  'blocks',
  'nothing',
  'secret',
] as const;

/**
 * What content is: its kind, and how much of it there is: `rows` and `columns` of a table, `count` of items, paragraphs or
 * blocks, `width` and `height` of a picture in points.
 */
export interface Description {
  readonly kind: (typeof descriptionKinds)[number];
  readonly params?: Readonly<Record<string, number>>;
}

/** What content is, as a part of a sentence. */
export const summaryOf = ({ kind, params }: Description): Message =>
  kind === 'picture' && params
    ? { kind: 'what.picture.sized', params }
    : { kind: `what.${kind}`, ...(params && { params }) };

/** Describes content by its kind and measure; the words are made by whoever shows it. */
export function describe(content: Content): Description {
  switch (content.shape) {
    case 'run':
      return { kind: 'words' };
    case 'cells':
      return describeCells(rangeSize(content));
    case 'picture':
      return describePicture(content.picture);
    case 'blocks':
      return describeBlocks(content.blocks);
  }
}

const describeCells = ({ rows, columns }: ReturnType<typeof rangeSize>): Description =>
  rows === 1 && columns === 1 ? { kind: 'cell' } : { kind: 'table', params: { rows, columns } };

const describePicture = ({ width, height }: { width?: number; height?: number }): Description =>
  width && height
    ? { kind: 'picture', params: { width: Math.round(width), height: Math.round(height) } }
    : { kind: 'picture' };

function describeBlocks(blocks: readonly Block[]): Description {
  const [only] = blocks;
  if (only === undefined) return { kind: 'nothing' };
  if (blocks.length === 1) return describeBlock(only);
  if (only.type === 'heading') return { kind: 'section' };
  const areParagraphs = blocks.every((block) => block.type === 'paragraph');
  return { kind: areParagraphs ? 'paragraphs' : 'blocks', params: { count: blocks.length } };
}

function describeBlock(block: Block): Description {
  switch (block.type) {
    case 'list':
      return { kind: 'list', params: { count: block.items.length } };
    case 'table':
      return { kind: 'table', params: { rows: block.rows.length, columns: columnCount(block) } };
    case 'picture':
      return describePicture(block);
    default:
      return { kind: block.type };
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
