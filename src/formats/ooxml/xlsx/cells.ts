import type { Cell, Marks } from '../../../content/index.ts';
import { isSafeHref } from '../../../content/index.ts';
import type { Display } from '../../sheets/display.ts';
import { unescapeXstring } from './strings.ts';
import type { CellLook } from './styles.ts';

/** What the rest of the workbook says about its cells. */
export interface CellContext {
  readonly styleOf: (index: number) => CellLook;
  readonly display: Display;
}

/** Cells of words that are known only by their number, until the shared strings have been read. */
export class WaitingCells {
  readonly #cells: { value: string }[] = [];
  readonly #strings: number[] = [];
  readonly #formats = new Map<{ value: string }, string>();

  add(cell: { value: string }, string: number, format: string | undefined): void {
    this.#cells.push(cell);
    this.#strings.push(string);
    if (format !== undefined) this.#formats.set(cell, format);
  }

  /** The number of the last string that is waited for; -1 when none is. */
  get last(): number {
    return this.#strings.reduce((last, string) => Math.max(last, string), -1);
  }

  fill(strings: readonly string[], display: Display): void {
    this.#cells.forEach((cell, at) => {
      const words = strings[this.#strings[at] ?? -1] ?? '';
      const format = this.#formats.size === 0 ? undefined : this.#formats.get(cell);
      cell.value = format === undefined ? words : display.words(words, format);
    });
  }
}

/** A stored cell with its typed value (ISO/IEC 29500-1, 18.18.11), as its workbook shows it; shared strings come later. */
export function typedCell(
  type: string,
  style: number,
  value: string,
  formula: string | undefined,
  { styleOf, display }: CellContext,
  waiting: WaitingCells,
): Cell {
  const known = styleOf(style);
  const { format, look: own } = known;
  if (type === 'n' && formula === undefined) return numberCell(value, known, own, display);
  const look = formula === undefined ? own : { ...own, ...formulaLook(formula, own.marks) };
  switch (type) {
    case 's': {
      const cell =
        known.plain && formula === undefined
          ? { type: 'text' as const, value: '' }
          : { type: 'text' as const, value: '', ...look };
      waiting.add(cell, Number(value), format);
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
      return numberCell(value, known, look, display);
  }
}

type Look = CellLook['look'] & { readonly formula?: string };

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

function numberCell(value: string, { format, plain }: CellLook, look: Look, display: Display): Cell {
  const number = Number(value);
  if (value === '' || !Number.isFinite(number)) return { type: 'empty', ...look };
  const text = display.number(number, format);
  const isBare = plain && look.formula === undefined;
  if (format === undefined)
    return isBare ? { type: 'number', value: number, text } : { type: 'number', value: number, text, ...look };
  const date = display.isDate(format) ? display.isoMoment(number) : undefined;
  if (date !== undefined) return { type: 'date', value: date, text, ...look, format };
  return isBare
    ? { type: 'number', value: number, text, format }
    : { type: 'number', value: number, text, ...look, format };
}
