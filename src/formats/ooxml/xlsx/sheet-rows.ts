import { DrawerError } from '../../../content/index.ts';
import { findAddress, maxRows } from '../../../places/index.ts';
import { rootTag } from '../../xml/element.ts';
import { tagAttributes, tagPrefix } from '../../xml/source-tree.ts';
import { findEndTag } from './cells.ts';
import { dataTag } from './sheet-stream.ts';

/** A row of a sheet's source: its tag, and the cells in it. */
export interface RowSource {
  readonly number: number;
  readonly start: number;
  readonly end: number;
  readonly open: string;
  readonly cells: readonly CellSource[];
}

export interface CellSource {
  readonly column: number;
  readonly source: string;
}

/** Positions of the requested rows of a sheet, and where missing ones belong. */
export interface SheetRows {
  readonly prefix: string;
  readonly found: ReadonlyMap<number, RowSource>;
  /** Positions for missing rows, by their numbers. */
  readonly gaps: ReadonlyMap<number, number>;
  /** Number of the last row with a cell. */
  readonly last: number;
  /** The start tag of `sheetData`; `isEmpty` if it is a single tag. */
  readonly data: { readonly start: number; readonly end: number; readonly isEmpty: boolean };
  /** End of the rows; other elements of the sheet follow. */
  readonly end: number;
}

/**
 * Finds rows of a sheet's source by their numbers; other rows are not read.
 * @throws DrawerError `unreadable` if row numbers do not increase, or exceed the sheet's limit (ISO/IEC 29500-1, 18.3.1.73)
 */
export function findRows(text: string, wanted: ReadonlySet<number>): SheetRows {
  const [tag = '', prefix = '', slash = ''] = dataTag.exec(text) ?? [];
  const start = tag === '' ? text.length : text.indexOf(tag);
  const inner = start + tag.length;
  const end = slash === '/' || tag === '' ? inner : text.indexOf(`</${prefix}sheetData`, inner);
  const found = new Map<number, RowSource>();
  const gaps = new Map<number, number>();
  const sorted = [...wanted].sort((one, other) => one - other);
  const rowOpen = `<${prefix}row`;
  const rowClose = `</${prefix}row`;
  let [number, last, next] = [0, 0, 0];
  let at = slash === '/' ? -1 : text.indexOf(rowOpen, inner);
  while (at >= 0 && at < end) {
    const tagEnd = text.indexOf('>', at);
    const own = numberIn(text, at + rowOpen.length, tagEnd);
    const before = number;
    number = own ?? number + 1;
    if (number <= before || number > maxRows) throw misnumbered(before, number);
    for (; next < sorted.length && (sorted[next] ?? 0) < number; next++) gaps.set(sorted[next] ?? 0, at);
    const isEmpty = text[tagEnd - 1] === '/';
    const close = isEmpty ? tagEnd : findEndTag(text, rowClose, tagEnd);
    const rowEnd = isEmpty ? tagEnd + 1 : close < 0 ? end : text.indexOf('>', close) + 1;
    if (sorted[next] === number) {
      found.set(number, readRow(text, prefix, { number, start: at, tagEnd: tagEnd + 1, end: rowEnd, isEmpty }));
      next++;
    }
    if (!isEmpty && text[tagEnd + 1] === '<' && text[tagEnd + 2] !== '/') last = number;
    at = text.indexOf(rowOpen, rowEnd);
  }
  for (; next < sorted.length; next++) gaps.set(sorted[next] ?? 0, end);
  return { prefix, found, gaps, last, data: { start, end: inner, isEmpty: slash === '/' }, end };
}

export const misnumbered = (before: number, number: number): DrawerError =>
  new DrawerError('unreadable/rows-out-of-order', { row: String(number), before: String(before) });

/** The row's number from its `r` attribute. */
function numberIn(text: string, from: number, to: number): number | undefined {
  const [, number] = /\sr\s*=\s*["'](\d{1,10})["']/.exec(text.slice(from, to)) ?? [];
  return number === undefined ? undefined : Number(number);
}

interface RowExtent {
  readonly number: number;
  readonly start: number;
  readonly tagEnd: number;
  readonly end: number;
  readonly isEmpty: boolean;
}

function readRow(text: string, prefix: string, { number, start, tagEnd, end, isEmpty }: RowExtent): RowSource {
  const open = text.slice(start, tagEnd);
  if (isEmpty) return { number, start, end, open: `${open.slice(0, -2).trimEnd()}>`, cells: [] };
  const inside = text.slice(tagEnd, text.lastIndexOf('</', end - 1));
  const cells: CellSource[] = [];
  let column = 0;
  let at = 0;
  const cellOpen = `<${prefix}c`;
  const cellClose = `</${prefix}c`;
  for (at = inside.indexOf(cellOpen); at >= 0; at = inside.indexOf(cellOpen, at + 1)) {
    if (!/[\s>/]/.test(inside[at + cellOpen.length] ?? '')) continue;
    const openEnd = inside.indexOf('>', at) + 1;
    const close = findEndTag(inside, cellClose, openEnd);
    const isEmptyCell = inside[openEnd - 2] === '/';
    const cellEnd = isEmptyCell ? openEnd : close < 0 ? inside.length : inside.indexOf('>', close) + 1;
    column = findAddress(tagAttributes(inside.slice(at, openEnd)).r ?? '')?.column ?? column + 1;
    cells.push({ column, source: inside.slice(at, cellEnd) });
    at = cellEnd - 1;
  }
  return { number, start, end, open, cells };
}

/** Whether the source of a sheet or of cells has a formula; `prefix` is the sheet's own, with its colon. */
export const hasFormulas = (source: string, prefix = tagPrefix(rootTag(source))): boolean =>
  [`<${prefix}f>`, `<${prefix}f `, `<${prefix}f/>`].some((tag) => source.includes(tag));
