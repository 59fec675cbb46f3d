import type { Alignment, Cell, Marks } from '../../../content/index.ts';
import { marksOf } from '../../flow/look.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { truthCode } from '../data-style.ts';
import type { StyleBook } from '../styles.ts';
import { a1Formula } from './addresses.ts';

/** How a cell of a style looks. */
export interface CellLook {
  readonly marks?: Marks;
  readonly background?: string;
  readonly align?: Alignment;
  readonly format?: string;
}

/** Looks by style name; most cells look like another. */
export class CellLooks {
  readonly #styles: StyleBook;
  readonly #known = new Map<string, CellLook>();

  constructor(styles: StyleBook) {
    this.#styles = styles;
  }

  of(name: string | undefined): CellLook {
    const key = name ?? 'Default';
    const known = this.#known.get(key);
    if (known) return known;
    const look = this.#workOut(key);
    this.#known.set(key, look);
    return look;
  }

  #workOut(name: string): CellLook {
    const style = this.#styles.find('table-cell', name);
    const plain = this.#styles.find('table-cell', 'Default');
    const marks = marksOf(style.run, plain.run);
    const { align } = style.paragraph;
    const format = this.#styles.formatOf(style.dataStyle);
    return {
      ...(Object.keys(marks).length > 0 && { marks }),
      ...(style.background !== undefined && { background: style.background }),
      ...(align && { align }),
      ...(format && format !== 'General' && { format }),
    };
  }
}

/** The same for a number, or for words where there is none, that nothing more is said of. */
export function plainCell(number: number | undefined, shown: string, { format, ...look }: CellLook): Cell {
  if (number === undefined) return { type: 'text', value: shown, ...look };
  return { type: 'number', value: number, text: shown, ...look, ...(format !== undefined && { format }) };
}

/** A cell with its typed value (ISO/IEC 26300-1, section 19.385), as its program shows it: `shown` is the text in it. */
export function typedCell(a: Attributes, shown: string, { format, ...look }: CellLook, link: string | undefined): Cell {
  const formula = a['table:formula'];
  const own = {
    ...look,
    ...(formula && { formula: a1Formula(formula) }),
    ...(link !== undefined && { marks: { ...look.marks, link: { href: link } } }),
  };
  const displayed = { text: shown, ...own, ...(format !== undefined && { format }) };
  if (a['calcext:value-type'] === 'error' && /^(?:#|Err:|$)/.test(shown))
    return { type: 'error', value: shown || '#ERR!', ...own };
  switch (a['office:value-type']) {
    case 'float':
    case 'percentage':
    case 'currency':
      return numberCell(Number(a['office:value']), displayed, own);
    case 'date':
      return dateCell(a['office:date-value'] ?? '', displayed, own);
    case 'time':
      return timeCell(a['office:time-value'] ?? '', displayed, own);
    case 'boolean':
      return {
        type: 'boolean',
        value: a['office:boolean-value'] === 'true',
        ...(format === truthCode ? own : displayed),
        text: shown || String(a['office:boolean-value']).toUpperCase(),
      };
    default:
      return words(shown || (a['office:string-value'] ?? ''), own);
  }
}

type Own = Omit<CellLook, 'format'> & { readonly formula?: string };
type Displayed = Own & { readonly text: string; readonly format?: string };

const words = (value: string, own: Own): Cell =>
  value === '' ? { type: 'empty', ...own } : { type: 'text', value, ...own };

const numberCell = (value: number, displayed: Displayed, own: Own): Cell =>
  Number.isFinite(value)
    ? { type: 'number', value, ...displayed, text: displayed.text || String(value) }
    : words(displayed.text, own);

function dateCell(moment: string, displayed: Displayed, own: Own): Cell {
  const value = moment.replace(/(?:[.,]\d+)?Z?$/, '').replace(/T00:00:00$/, '');
  return /^\d{4}-\d\d-\d\d(?:T\d\d:\d\d:\d\d)?$/.test(value)
    ? { type: 'date', value, ...displayed, text: displayed.text || value }
    : words(displayed.text, own);
}

/** A length of time such as `PT08H30M00S`: a time of day below one day, else a number of days. */
function timeCell(duration: string, displayed: Displayed, own: Own): Cell {
  const [isTime, sign = '', hours = '0', minutes = '0', seconds = '0'] =
    /^(-?)PT(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,9})(?:[.,]\d{1,12})?S)?$/.exec(duration) ?? [];
  if (isTime === undefined) return words(displayed.text, own);
  const total = Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds);
  const pad = (number: number): string => String(Math.floor(number)).padStart(2, '0');
  const clock = `${pad(total / 3600)}:${pad((total % 3600) / 60)}:${pad(total % 60)}`;
  if (total < 86_400 && sign === '' && !displayed.format?.startsWith('['))
    return { type: 'date', value: clock, ...displayed, text: displayed.text || clock };
  return numberCell((sign === '-' ? -total : total) / 86_400, displayed, own);
}
