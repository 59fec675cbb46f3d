import * as v from 'valibot';
import type { Block, Cell, Content, Inline, Marks, Table, TableCell } from './model.ts';
import { marksSchema } from './schema.ts';

/**
 * What of content is not seen to be valid at a glance, in its place: most of a large table or text is bare words and numbers,
 * for which the whole schema takes ten times as long. Content of which nothing is left over is valid.
 */
export function notPlainlyValid(content: Content): Content {
  switch (content.shape) {
    case 'run':
      return { ...content, inlines: without(content.inlines, isPlainInline) };
    case 'blocks':
      return { ...content, blocks: without(content.blocks, isPlainBlock) };
    case 'cells':
      return { ...content, rows: without(content.rows, (row) => Array.isArray(row) && row.every(isPlainCell)) };
    default:
      return content;
  }
}

/** A list without what is plain; one that is none stays as it is. */
const without = <T>(list: readonly T[], isPlain: (item: T) => boolean): readonly T[] =>
  Array.isArray(list) ? list.filter((item) => !isPlain(item)) : list;

const isPlainBlock = (block: Block): boolean =>
  block?.type === 'table' ? isPlainTable(block) : isPlainParagraph(block);

const isPlainTable = (table: Table): boolean =>
  hasOnly(table, tableMembers) &&
  Array.isArray(table.rows) &&
  table.rows.every(
    (row) =>
      row !== null &&
      typeof row === 'object' &&
      hasOnly(row, rowMembers) &&
      Array.isArray(row.cells) &&
      row.cells.every(isPlainTableCell),
  );

const isPlainTableCell = (cell: TableCell): boolean =>
  cell !== null &&
  typeof cell === 'object' &&
  hasOnly(cell, tableCellMembers) &&
  Array.isArray(cell.blocks) &&
  cell.blocks.every(isPlainParagraph);

const isPlainParagraph = (block: Block): boolean =>
  block?.type === 'paragraph' &&
  hasOnly(block, paragraphMembers) &&
  Array.isArray(block.inlines) &&
  block.inlines.every(isPlainInline);

const isPlainInline = (inline: Inline): boolean =>
  inline?.type === 'text' &&
  hasOnly(inline, textMembers) &&
  typeof inline.text === 'string' &&
  inline.text !== '' &&
  !/[\u0000-\u0008\u000a-\u001f\u007f-\u009f]/.test(inline.text) &&
  hasValidMarks(inline);

function isPlainCell(cell: Cell): boolean {
  if (cell?.type === 'empty') return hasOnly(cell, emptyMembers);
  if (cell?.type === 'text') return hasOnly(cell, textCellMembers) && isShown(cell.value) && hasValidMarks(cell);
  return (
    cell?.type === 'number' &&
    hasOnly(cell, numberMembers) &&
    Number.isFinite(cell.value) &&
    isShown(cell.text) &&
    (!('format' in cell) || typeof cell.format === 'string') &&
    hasValidMarks(cell)
  );
}

const paragraphMembers = new Set(['type', 'inlines']);
const tableMembers = new Set(['type', 'rows']);
const rowMembers = new Set(['cells']);
const tableCellMembers = new Set(['blocks']);
const textMembers = new Set(['type', 'text', 'marks']);
const emptyMembers = new Set(['type']);
const textCellMembers = new Set(['type', 'value', 'marks']);
const numberMembers = new Set(['type', 'value', 'text', 'format', 'marks']);

function hasOnly(value: object, members: ReadonlySet<string>): boolean {
  for (const name in value) if (!members.has(name)) return false;
  return true;
}

const isShown = (words: unknown): boolean => typeof words === 'string' && !/[\u007f-\u009f]/.test(words);

/** Readers give many words the same marks. */
const known = new WeakMap<object, boolean>();

function hasValidMarks(owner: { readonly marks?: Marks }): boolean {
  if (!('marks' in owner)) return true;
  const { marks } = owner;
  if (typeof marks !== 'object' || marks === null || Array.isArray(marks)) return false;
  const isValid = known.get(marks) ?? v.is(marksSchema, marks);
  known.set(marks, isValid);
  return isValid;
}
