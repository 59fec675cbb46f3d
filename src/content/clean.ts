import * as v from 'valibot';
import type { Block, Cell, Content, Inline, Marks, Table, TableCell } from './model.ts';
import { contentSchema, marksSchema } from './schema.ts';

/** Content that a reader made, and how many things of it no snippet can hold were left out or changed. */
export interface Cleaned {
  readonly content: Content;
  readonly cleaned: number;
}

type Json = Record<string | number, unknown>;

/**
 * Makes content valid whatever a file says: control characters go out of words, and so do sizes, names, colours, links and the
 * like that the model does not have; what cannot be without them goes too. Valid content is given back with nothing changed in it.
 */
export function cleanContent(content: Content): Cleaned {
  const rest = notPlainlyValid(content);
  const read = v.safeParse(contentSchema, rest, { abortEarly: true });
  // The schema takes an empty list for an object without members: that has to be one.
  if (read.success && JSON.stringify(read.output) === JSON.stringify(rest)) return { content, cleaned: 0 };
  const value = unshared(content) as Json;
  let cleaned = 0;
  // Each round mends one level. The next round finds what was wrong inside a mended object.
  for (;;) {
    const result = v.safeParse(contentSchema, value);
    if (result.success) return { content: result.output, cleaned };
    const gone = new Map<unknown[], Set<unknown>>();
    const mended = result.issues.filter((issue) => mend(value, keysOf(issue), gone)).length;
    for (const [array, elements] of gone)
      array.splice(0, array.length, ...array.filter((element) => !elements.has(element)));
    if (mended === 0) return { content: { shape: 'blocks', blocks: [] }, cleaned: cleaned + 1 };
    cleaned += mended;
  }
}

/** A copy in which no object stands in two places, as merged cells or the blank paragraphs of a reader may: mending one is not to touch another. */
function unshared(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(unshared);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, unshared(inner)]));
}

const keysOf = ({
  path = [],
}: {
  readonly path?: readonly { readonly key?: unknown }[] | undefined;
}): (string | number)[] => path.flatMap(({ key }) => (typeof key === 'string' || typeof key === 'number' ? [key] : []));

/** What an object cannot be without: it goes as a whole. */
const required = new Set([
  'type',
  'shape',
  'text',
  'value',
  'media',
  'mediaType',
  'picture',
  'ordered',
  'before',
  'count',
]);
/** What an object has to have, and may have none of. */
const lists = new Set(['blocks', 'inlines', 'items', 'rows', 'cells']);

/** Mends one thing; what is to leave a list is told in `gone`. `false` where nothing can be done. */
function mend(root: Json, keys: readonly (string | number)[], gone: Map<unknown[], Set<unknown>>): boolean {
  const [parent, key] = [at(root, keys.slice(0, -1)), keys.at(-1)];
  if (key === undefined || typeof parent !== 'object' || parent === null) return false;
  if (Array.isArray(parent))
    return typeof key === 'number' ? leave(parent, parent[key], gone) : mend(root, keys.slice(0, -1), gone);
  const owner = parent as Json;
  const found = owner[key];
  if (typeof found === 'string' && withoutControls(found) !== found && withoutControls(found) !== '')
    owner[key] = withoutControls(found);
  else if (key === 'level') owner[key] = Math.min(6, Math.max(1, Math.round(Number(found)) || 1));
  else if (lists.has(String(key)) && !Array.isArray(found)) owner[key] = [];
  else if (key === 'href') return mend(root, keys.slice(0, -1), gone);
  else if (key === 'value' && typeof found === 'number') toText(owner);
  else if (required.has(String(key)) && !(key === 'value' && typeof found === 'object'))
    return mend(root, keys.slice(0, -1), gone);
  else delete owner[key];
  return true;
}

/** A number that is none is the words that stand for it. */
function toText(cell: Json): void {
  const { text, format: _, ...look } = cell;
  for (const name of Object.keys(cell)) delete cell[name];
  Object.assign(cell, look, { type: 'text', value: typeof text === 'string' ? text : '' });
}

const at = (root: unknown, keys: readonly (string | number)[]): unknown =>
  keys.reduce((value, key) => (typeof value === 'object' && value !== null ? (value as Json)[key] : undefined), root);

function leave(array: unknown[], element: unknown, gone: Map<unknown[], Set<unknown>>): boolean {
  const elements = gone.get(array) ?? new Set();
  gone.set(array, elements.add(element));
  return true;
}

/** Line ends are spaces within a paragraph. */
const withoutControls = (words: string): string =>
  words.replace(/[\n\r\v\f\u0085\u2028\u2029]+/g, ' ').replace(/[\u0000-\u0008\u000e-\u001f\u007f-\u009f]/g, '');

/**
 * What of content is not seen to be valid at a glance, in its place: most of a large table or text is bare words and numbers,
 * for which the whole schema takes ten times as long. Content of which nothing is left over is valid.
 */
function notPlainlyValid(content: Content): Content {
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
