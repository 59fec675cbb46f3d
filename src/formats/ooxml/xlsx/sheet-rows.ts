import { DrawerError } from '../../../content/index.ts';
import { findAddress, maxRows } from '../../../places/index.ts';

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

/** Where the rows of a sheet's data stand: those asked for, and where missing ones go. */
export interface SheetRows {
  readonly prefix: string;
  readonly found: ReadonlyMap<number, RowSource>;
  /** Where a row that is not there goes, by its number. */
  readonly gaps: ReadonlyMap<number, number>;
  /** The last row that holds a cell. */
  readonly last: number;
  /** The place and form of `sheetData`, which may be empty. */
  readonly data: { readonly start: number; readonly end: number; readonly isEmpty: boolean };
  /** Where the rows end: what stands behind says what else there is of the sheet. */
  readonly end: number;
}

/**
 * Finds rows of a sheet's source by their numbers; the others are passed over without looking into them. Throws `unreadable`
 * where the numbers do not rise, or go past the sheet's end (ISO/IEC 29500-1, 18.3.1.73): nothing can land by them.
 */
export function findRows(text: string, wanted: ReadonlySet<number>): SheetRows {
  const [tag = '', prefix = '', slash = ''] = /<((?:[\w.-]+:)?)sheetData(?:\s[^<>]*?)?(\/?)>/.exec(text) ?? [];
  const start = tag === '' ? text.length : text.indexOf(tag);
  const inner = start + tag.length;
  const end = slash === '/' || tag === '' ? inner : text.indexOf(`</${prefix}sheetData`, inner);
  const found = new Map<number, RowSource>();
  const gaps = new Map<number, number>();
  const sorted = [...wanted].sort((one, other) => one - other);
  const rowOpen = `<${prefix}row`;
  const rowClose = `</${prefix}row>`;
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
    const close = isEmpty ? tagEnd : text.indexOf(rowClose, tagEnd);
    const rowEnd = isEmpty ? tagEnd + 1 : close < 0 ? end : close + rowClose.length;
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

/** The `r` attribute, first in nearly every row. */
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
  const inside = text.slice(tagEnd, end - `</${prefix}row>`.length);
  const cells: CellSource[] = [];
  let column = 0;
  let at = 0;
  const cellOpen = `<${prefix}c`;
  const cellClose = `</${prefix}c>`;
  for (at = inside.indexOf(cellOpen); at >= 0; at = inside.indexOf(cellOpen, at + 1)) {
    if (!/[\s>/]/.test(inside[at + cellOpen.length] ?? '')) continue;
    const openEnd = inside.indexOf('>', at) + 1;
    const close = inside.indexOf(cellClose, openEnd);
    const cellEnd = inside[openEnd - 2] === '/' ? openEnd : close < 0 ? inside.length : close + cellClose.length;
    const [, address = ''] = /\sr\s*=\s*["']([A-Za-z]+\d+)["']/.exec(inside.slice(at, openEnd)) ?? [];
    column = findAddress(address)?.column ?? column + 1;
    cells.push({ column, source: inside.slice(at, cellEnd) });
    at = cellEnd - 1;
  }
  return { number, start, end, open, cells };
}

/** Whether a sheet's source has a formula. */
export const hasFormulas = (text: string): boolean => {
  const prefix = /<((?:[\w.-]+:)?)worksheet[\s>]/.exec(text.slice(0, 4000))?.[1] ?? '';
  return text.includes(`<${prefix}f>`) || text.includes(`<${prefix}f `);
};
