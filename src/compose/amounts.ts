import { type Cell, type Content, inlineText } from '../content/index.ts';
import { findWords } from './words.ts';

/** A number with how it was shown. */
export interface Amount {
  readonly value: number;
  /** The sign or code as it stood: `£`, `EUR`; absent for bare numbers. */
  readonly currency?: string;
  /** Whether the sign stood in front. */
  readonly signFirst?: boolean;
  readonly decimals: number;
  readonly format?: string;
}

const sign = '[$£€¥₹₽₩]|CHF|kr|zł|Kč|[A-Z]{3}';
const figure = '\\d{1,3}(?:[ ,.\\u00a0\\u202f]\\d{3})+(?:[.,]\\d{1,2})?|\\d{1,15}(?:[.,]\\d{1,10})?';
const shape = new RegExp(`^([+\\-−]?)\\s?(?:(${sign})\\s?)?([+\\-−]?)(${figure})(?:\\s?(${sign}))?$`);

/** The amount that words are, all of them: `£1,250.00`, `1.250,00 €`, `-12`. */
export function parseAmount(words: string): Amount | undefined {
  const [whole, minus, before, innerMinus, figures = '', after] = shape.exec(words.trim()) ?? [];
  if (whole === undefined || (before !== undefined && after !== undefined)) return undefined;
  const { value, decimals } = readFigures(figures);
  const currency = before ?? after;
  const isNegative = /[-−]/.test(`${minus}${innerMinus}`);
  return {
    value: isNegative ? -value : value,
    decimals,
    ...(currency !== undefined && { currency, signFirst: before !== undefined }),
  };
}

/** The last sign among the digits is the decimal one, unless three digits follow it and it could part thousands. */
function readFigures(figures: string): { value: number; decimals: number } {
  const [, whole = figures, mark = '', rest = ''] = /^(.*)([.,])(\d+)$/.exec(figures) ?? [];
  const isDecimal =
    mark !== '' && (rest.length !== 3 || (mark === '.' && !/[ ,\u00a0\u202f]/.test(whole) && /^0?$/.test(whole)));
  const digits = (part: string): string => part.replace(/\D/g, '');
  return isDecimal
    ? { value: Number(`${digits(whole)}.${rest}`), decimals: rest.length }
    : { value: Number(digits(figures)), decimals: 0 };
}

export function cellAmount(cell: Cell): Amount | undefined {
  if (cell.type === 'text') return parseAmount(cell.value);
  if (cell.type !== 'number') return undefined;
  const shown = parseAmount(cell.text);
  const decimals = shown?.decimals ?? Math.min(10, (/\.(\d+)$/.exec(String(cell.value))?.[1] ?? '').length);
  return {
    value: cell.value,
    decimals,
    ...(shown?.currency !== undefined && { currency: shown.currency, signFirst: shown.signFirst === true }),
    ...(cell.format !== undefined && { format: cell.format }),
  };
}

/** The one amount that content is. */
export function findAmount(content: Content): Amount | undefined {
  const [only] = content.shape === 'cells' && content.rows.length === 1 ? (content.rows[0] ?? []) : [];
  if (content.shape === 'cells' && content.rows[0]?.length === 1 && only) return cellAmount(only);
  const words = findWords(content);
  return words && parseAmount(inlineText(words));
}

/** `£1,250.00` */
export function amountText({ value, currency, signFirst, decimals }: Amount, language: string): string {
  const figures = new Intl.NumberFormat(language, {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  }).format(Math.abs(value));
  const minus = value < 0 ? '-' : '';
  if (currency === undefined) return minus + figures;
  const gap = currency.length > 1 ? ' ' : '';
  return signFirst ? `${minus}${currency}${gap}${figures}` : `${minus}${figures} ${currency}`;
}
