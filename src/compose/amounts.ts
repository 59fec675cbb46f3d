import {
  type Cell,
  type Content,
  decimalNumber,
  decimalOf,
  decimalText,
  findValue,
  inlineText,
  isYear,
  type NumberCell,
  plainWords,
  readNumber,
  roundDecimal,
  shortestDecimal,
  type TableCell,
  ValueReader,
  type WrittenNumber,
} from '../content/index.ts';
import { findWords } from './pattern.ts';

/** A number with how it was shown; `value` is the double nearest to it. */
export interface Amount extends WrittenNumber {
  readonly value: number;
}

/**
 * The amount that words are, all of them: `£1,250.00`, `1.250,00 €`, `(300)`, `CHF 5.-`, `50 %`.
 * @param language a BCP 47 tag: how it writes numbers.
 */
export function parseAmount(words: string, language?: string): Amount | undefined {
  const number = new ValueReader(language).readNumber(words);
  return number && amountOf(number);
}

const amountOf = ({ exact, ...shown }: WrittenNumber): Amount => ({ value: decimalNumber(exact), exact, ...shown });

/** More places than these come out of a division, and are shown as their cell shows them. */
const mostPlaces = 10;

/** The amount in a typed cell; its text tells the unit. Codes and telephone numbers that a format makes of numbers are none. */
export function cellAmount(cell: Cell): Amount | undefined {
  if (cell.type !== 'number' || /^0{2,}$|[0#]\)?[-/ ]+\(?[0#]/.test(cell.format ?? '')) return undefined;
  const exact = decimalOf(cell.value);
  if (!exact) return undefined;
  const shown = shownNumber(cell);
  const isPercent = shown?.unit === '%';
  const own = shortestDecimal(exact).places - (isPercent ? 2 : 0);
  return {
    value: cell.value,
    exact,
    places: Math.max(shown?.places ?? 0, own <= mostPlaces ? own : 0),
    ...(shown?.unit !== undefined && { unit: shown.unit }),
    ...(shown?.unitFirst !== undefined && { unitFirst: shown.unitFirst }),
    ...(cell.format !== undefined && { format: cell.format }),
    ...(Number.isInteger(cell.value) && isYear(cell.text) && { isYearLike: true as const }),
  };
}

/** The text of a cell as a number: read so that it gives the cell's value or, where it was rounded, as workbooks show it. */
function shownNumber({ value, text }: NumberCell): WrittenNumber | undefined {
  const [point, comma] = (['.', ','] as const).map((decimal) => readNumber(text, { decimal, groupsBySpace: true }));
  return [point, comma].find((each) => each && decimalNumber(each.exact) === value) ?? point ?? comma;
}

/** The amount in a cell of a table in running text that has been read already. */
export function tableCellAmount(cell: TableCell): Amount | undefined {
  const value = findValue(cell);
  return value && cellAmount(value);
}

/** The one amount that content is; years, times of day and codes are none. */
export function findAmount(content: Content, language?: string): Amount | undefined {
  const [only] = content.shape === 'cells' && content.rows.length === 1 ? (content.rows[0] ?? []) : [];
  if (content.shape === 'cells' && content.rows[0]?.length === 1 && only && only.type !== 'text')
    return cellAmount(only);
  const found = findWords(content);
  const words = found && plainWords(found);
  return words === undefined ? undefined : parseAmount(words, language);
}

/** The words of content that is short enough to be an amount. */
export const amountWords = (content: Content): string => inlineText(findWords(content) ?? []);

/** `£1,250.00`, with the signs of a language. */
export function amountText({ exact, unit, unitFirst, places }: Amount, language: string): string {
  const isPercent = unit === '%';
  const share = isPercent ? { units: exact.units * 100n, places: exact.places } : exact;
  const numeral = decimalText(roundDecimal(share, places)).replace('-', '');
  const format = new Intl.NumberFormat(language, { minimumFractionDigits: places, maximumFractionDigits: places });
  const figures = format.format(numeral as Intl.StringNumericLiteral);
  const minus = exact.units < 0n ? '-' : '';
  if (unit === undefined) return minus + figures;
  if (isPercent) return `${minus}${figures}%`;
  const gap = unit.length > 1 ? ' ' : '';
  return unitFirst ? `${minus}${unit}${gap}${figures}` : `${minus}${figures} ${unit}`;
}
