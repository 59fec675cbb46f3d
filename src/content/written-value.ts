import type { BooleanCell, DateCell, NumberCell } from './model.ts';
import {
  decimalNumber,
  type NumberSigns,
  numberSigns,
  otherSigns,
  readNumber,
  type WrittenNumber,
} from './written-number.ts';

/** A cell with a value that was read from words. */
export type WrittenCell = NumberCell | DateCell | BooleanCell;

/** Two words of a column with different decimal separators, so that its numbers are ambiguous. */
export type Ambiguity = readonly [string, string];

/** The values of the words of a column or place. */
export interface ColumnValues {
  /** A value for each word in order; `undefined` if it stays text. */
  readonly values: readonly (WrittenCell | undefined)[];
  /** The number of each numeric value. */
  readonly numbers: readonly (WrittenNumber | undefined)[];
  readonly ambiguity?: Ambiguity;
}

/** Truth values as spreadsheets of a language write them; except in English only in capitals, because they are also ordinary words. */
const truths: Readonly<Record<string, readonly [yes: string, no: string]>> = {
  de: ['WAHR', 'FALSCH'],
  es: ['VERDADERO', 'FALSO'],
  fr: ['VRAI', 'FAUX'],
  it: ['VERO', 'FALSO'],
  nl: ['WAAR', 'ONWAAR'],
  pt: ['VERDADEIRO', 'FALSO'],
};

/** Reads values from words of a language: numbers, money, percentages, dates, times and truth values. */
export class ValueReader {
  readonly #language: string;
  readonly #signs: NumberSigns;
  #names: DateNames | undefined;

  /** @param language - a BCP 47 tag; words that are numbers only with the other separators are read with those */
  constructor(language = 'en-GB') {
    this.#language = language;
    this.#signs = numberSigns(language);
  }

  /** The value of words, if all of them form one. */
  read(words: string): WrittenCell | undefined {
    return this.readColumn([words]).values[0];
  }

  /** The number of words, if they are one. */
  readNumber(words: string): WrittenNumber | undefined {
    return this.readColumn([words]).numbers[0];
  }

  /**
   * The values of words that belong together. They are read with the separators of the language or, if that is unambiguous, with the
   * others. If both are possible, such as `1.200` beside `3,50`, none is read.
   */
  readColumn(words: readonly string[]): ColumnValues {
    const own = words.map((each) => readNumber(each, this.#signs));
    const others = words.map((each, at) => (mayDiffer(each) ? readNumber(each, otherSigns(this.#signs)) : own[at]));
    const foreign = words.findIndex((_, at) => !own[at] && others[at]);
    const doubtful = words.findIndex((_, at) => own[at] && !isSame(own[at], others[at]));
    const isAmbiguous = foreign >= 0 && doubtful >= 0;
    const numbers = isAmbiguous ? words.map(() => undefined) : foreign >= 0 ? others : own;
    return {
      values: words.map((each, at) => numberCell(each, numbers[at]) ?? this.#other(each)),
      numbers,
      ...(isAmbiguous && { ambiguity: [words[doubtful] ?? '', words[foreign] ?? ''] as const }),
    };
  }

  #other(words: string): DateCell | BooleanCell | undefined {
    const truth = this.#truth(words.trim());
    if (truth !== undefined) return { type: 'boolean', value: truth, text: words.trim() };
    if (!/\d/.test(words)) return undefined;
    this.#names ??= dateNames(this.#language);
    const date = readDate(words, this.#names);
    return date && { type: 'date', ...date, text: words.trim() };
  }

  #truth(words: string): boolean | undefined {
    if (/^(?:true|false)$/i.test(words)) return words.toLowerCase() === 'true';
    const at = truths[this.#language.slice(0, 2).toLowerCase()]?.indexOf(words) ?? -1;
    return at < 0 ? undefined : at === 0;
  }
}

/** Whether words can be read in two ways; only those with a point or comma can. */
const mayDiffer = (words: string): boolean => /[.,]/.test(words);

const isSame = (one: WrittenNumber, other: WrittenNumber | undefined): boolean =>
  one.exact.units === other?.exact.units && one.exact.places === other.exact.places;

function numberCell(words: string, number: WrittenNumber | undefined): NumberCell | undefined {
  return (
    number && {
      type: 'number',
      value: decimalNumber(number.exact),
      text: words.trim(),
      ...(number.format !== undefined && { format: number.format }),
    }
  );
}

/** A date or time with the format code that displays it as written. */
export type WrittenDate = Required<Pick<DateCell, 'value' | 'format'>>;

/** The date format of a language: the order of day and month, and the names of months. */
export interface DateNames {
  /** Whether the day precedes the month; `undefined` if the language alone does not tell, as in English. */
  readonly isDayFirst: boolean | undefined;
  /** Months (from 0) by their long and short names, in lower case without full stops. */
  readonly months: ReadonlyMap<string, number>;
}

/** The date format of a language (Unicode CLDR), with English month names added. @param language - a BCP 47 tag */
export function dateNames(language: string): DateNames {
  const order = new Intl.DateTimeFormat(language).formatToParts(0).map(({ type }) => type);
  const months = new Map<string, number>();
  for (const tag of ['en', language])
    for (const style of ['long', 'short'] as const)
      for (let month = 0; month < 12; month++)
        for (const name of monthNames(tag, style, month)) months.set(name, month);
  return {
    isDayFirst: /^en$/i.test(language) ? undefined : order.indexOf('day') < order.indexOf('month'),
    months,
  };
}

/** The names of a month by itself and after a day, which differ in some languages. */
function monthNames(language: string, month: 'long' | 'short', number: number): string[] {
  const date = Date.UTC(2000, number, 1);
  const parts = (options: Intl.DateTimeFormatOptions): Intl.DateTimeFormatPart[] =>
    new Intl.DateTimeFormat(language, { ...options, timeZone: 'UTC', calendar: 'gregory' }).formatToParts(date);
  return [{ month }, { month, day: 'numeric' as const }]
    .flatMap(parts)
    .filter(({ type, value }) => type === 'month' && !/\d/.test(value))
    .map(({ value }) => bareName(value));
}

const bareName = (name: string): string => name.toLowerCase().replace(/\.$/, '');

/** The maximum length of a date in words. */
const longest = 40;

/**
 * The date, moment or time of words such as `2026-05-03`, `3 May 2026`, `03.01.2026` or `09:30`. A year has four digits and is 1900
 * or later, where sheets begin to count. Ambiguous dates are not read.
 */
export function readDate(words: string, names: DateNames): WrittenDate | undefined {
  if (words.length > longest || !/\d/.test(words)) return undefined;
  const plain = words.trim();
  return readTime(plain) ?? readIso(plain) ?? readNumeric(plain, names) ?? readNamed(plain, names);
}

const pad = (number: number, length = 2): string => String(number).padStart(length, '0');

function day(year: number, month: number, date: number, format: string): WrittenDate | undefined {
  const isReal = month >= 1 && month <= 12 && date >= 1 && date <= new Date(Date.UTC(year, month, 0)).getUTCDate();
  return isReal && year >= 1900 ? { value: `${pad(year, 4)}-${pad(month)}-${pad(date)}`, format } : undefined;
}

function readTime(words: string): WrittenDate | undefined {
  const [whole, hour = '', minute = '', second, half] =
    /^(\d{1,2}):([0-5]\d)(?::([0-5]\d))?(?:\s?([ap])\.?m\.?)?$/i.exec(words) ?? [];
  if (whole === undefined) return undefined;
  const isAfternoon = /p/i.test(half ?? '');
  const hours = half === undefined ? Number(hour) : (Number(hour) % 12) + (isAfternoon ? 12 : 0);
  if (hours > 23 || (half !== undefined && (Number(hour) < 1 || Number(hour) > 12))) return undefined;
  const format = `${'h'.repeat(hour.length)}:mm${second === undefined ? '' : ':ss'}${half === undefined ? '' : ' AM/PM'}`;
  return { value: `${pad(hours)}:${minute}:${second ?? '00'}`, format };
}

function readIso(words: string): WrittenDate | undefined {
  const [whole, year, month, date, hour, minute, second] =
    /^(\d{4})-(\d\d)-(\d\d)(?:[T ]([01]\d|2[0-3]):([0-5]\d)(?::([0-5]\d))?)?$/.exec(words) ?? [];
  const found = whole === undefined ? undefined : day(Number(year), Number(month), Number(date), 'yyyy-mm-dd');
  if (!found || hour === undefined) return found;
  const seconds = second === undefined ? '' : ':ss';
  return { value: `${found.value}T${hour}:${minute}:${second ?? '00'}`, format: `yyyy-mm-dd hh:mm${seconds}` };
}

function readNumeric(words: string, { isDayFirst }: DateNames): WrittenDate | undefined {
  const [whole, one = '', sign = '', two = '', year] = /^(\d{1,2})([./-])\s?(\d{1,2})\2\s?(\d{4})$/.exec(words) ?? [];
  if (whole === undefined) return undefined;
  const dayFirst = sign === '.' ? true : (isDayFirst ?? orderOf(Number(one), Number(two)));
  if (dayFirst === undefined) return undefined;
  const [date, month] = dayFirst ? [one, two] : [two, one];
  const codes = [date.length === 1 ? 'd' : 'dd', month.length === 1 ? 'm' : 'mm'];
  const format = [...(dayFirst ? codes : codes.toReversed()), 'yyyy'].join(sign);
  return day(Number(year), Number(month), Number(date), format);
}

/** The date, if only one order of day and month is valid. */
const orderOf = (one: number, two: number): boolean | undefined =>
  one === two || (one > 12 && two <= 12) ? true : two > 12 && one <= 12 ? false : undefined;

function readNamed(words: string, { months }: DateNames): WrittenDate | undefined {
  const [before, dayBefore, name, year] =
    /^(\d{1,2})(?:st|nd|rd|th|er|º|\.)?\s(?:de\s)?(\p{L}[\p{L}\p{M}]*\.?)\s(?:de\s)?(\d{4})$/u.exec(words) ?? [];
  const [behind, nameBefore, dayBehind, yearBehind] =
    /^(\p{L}[\p{L}\p{M}]*\.?)\s(\d{1,2})(?:st|nd|rd|th)?,?\s(\d{4})$/u.exec(words) ?? [];
  const named = name ?? nameBefore;
  const month = named === undefined ? undefined : months.get(bareName(named));
  if (named === undefined || month === undefined) return undefined;
  const code = bareName(named).length <= 3 ? 'mmm' : 'mmmm';
  if (behind !== undefined) return day(Number(yearBehind), month + 1, Number(dayBehind), `${code} d, yyyy`);
  const dot = /^\d+\./.test(before ?? '') ? '.' : '';
  return day(Number(year), month + 1, Number(dayBefore), `d${dot} ${code} yyyy`);
}
