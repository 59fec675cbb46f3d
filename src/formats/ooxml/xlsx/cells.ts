import type { Cell, Marks } from '../../../content/index.ts';
import { isSafeHref } from '../../../content/index.ts';
import type { Display } from '../../sheets/display.ts';
import { unescapeXstring } from './strings.ts';
import { type CellStyle, general } from './styles.ts';

/** What the rest of the workbook says about its cells. */
export interface CellContext {
  readonly styleOf: (index: number) => CellStyle;
  readonly display: Display;
}

/** A cell of words that are known only by their number, until the shared strings have been read. */
export interface WaitingCell {
  readonly cell: { value: string };
  readonly string: number;
  readonly format: string | undefined;
}

/** A stored cell with its typed value (ISO/IEC 29500-1, 18.18.11), as its workbook shows it; shared strings come later. */
export function typedCell(
  type: string,
  style: number,
  value: string,
  formula: string | undefined,
  { styleOf, display }: CellContext,
  waiting: WaitingCell[],
): Cell {
  const { format, ...own } = styleOf(style);
  const look = formula === undefined ? own : { ...own, ...formulaLook(formula, own.marks) };
  switch (type) {
    case 's': {
      const cell = { type: 'text' as const, value: '', ...look };
      waiting.push({ cell, string: Number(value), format });
      return cell;
    }
    case 'str':
    case 'inlineStr':
      return textCell(display.words(unescapeXstring(value), format), look);
    case 'b': {
      const isTrue = value === '1' || value === 'true';
      return { type: 'boolean', value: isTrue, text: isTrue ? 'TRUE' : 'FALSE', ...withFormat(look, format) };
    }
    case 'e':
      return { type: 'error', value, ...look };
    case 'd':
      return dateCell(value, format, look);
    default:
      return numberCell(value, format, look, display);
  }
}

type Look = Omit<CellStyle, 'format'> & { readonly formula?: string };

const withFormat = (look: Look, format: string | undefined) => (format === undefined ? look : { ...look, format });

/** The formula, and where it leads when it is a link to a written address. */
function formulaLook(formula: string, marks: Marks | undefined): Pick<Look, 'formula' | 'marks'> {
  const [, address = ''] = /^HYPERLINK\(\s*"([^"]{1,2000})"/i.exec(formula) ?? [];
  return { formula, ...(isSafeHref(address) && { marks: { ...marks, link: { href: address } } }) };
}

export const textCell = (value: string, look: Look): Cell =>
  value === '' ? { type: 'empty', ...look } : { type: 'text', value, ...look };

/** Strict workbooks may write dates in full (18.18.11, `d`). */
function dateCell(value: string, format: string | undefined, look: Look): Cell {
  const moment = value.replace(/(?:\.\d+)?(?:Z|[+-]\d\d:\d\d)?$/, '').replace(/T00:00:00$/, '');
  return /^\d{4}-\d\d-\d\d(?:T\d\d:\d\d:\d\d)?$/.test(moment)
    ? { type: 'date', value: moment, text: moment.replace('T', ' '), ...withFormat(look, format) }
    : textCell(value, look);
}

function numberCell(value: string, format: string | undefined, look: Look, display: Display): Cell {
  const number = Number(value);
  if (value === '' || !Number.isFinite(number)) return { type: 'empty', ...look };
  const text = display.number(number, format);
  if (format === undefined)
    return look === general
      ? { type: 'number', value: number, text }
      : { type: 'number', value: number, text, ...look };
  const date = display.isDate(format) ? display.isoMoment(number) : undefined;
  return date === undefined
    ? { type: 'number', value: number, text, ...look, format }
    : { type: 'date', value: date, text, ...look, format };
}

/** Puts the shared strings into the cells that wait for them. */
export function fillStrings(waiting: readonly WaitingCell[], strings: readonly string[], display: Display): void {
  for (const { cell, string, format } of waiting) {
    const words = strings[string] ?? '';
    cell.value = format === undefined ? words : display.words(words, format);
  }
}
