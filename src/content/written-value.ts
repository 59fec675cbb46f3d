import type { BooleanCell, DateCell, NumberCell } from './model.ts';
import {
  decimalNumber,
  type NumberSigns,
  numberSigns,
  otherSigns,
  readNumber,
  type WrittenNumber,
} from './written-number.ts';

/** A cell whose value was written as words. */
export type WrittenCell = NumberCell | DateCell | BooleanCell;

/** Two words of one column that write decimals in different ways, so that its numbers cannot be told. */
export type Ambiguity = readonly [string, string];

/** What the words of one column, or of one place, are as values. */
export interface ColumnValues {
  /** A value for each of the words, in their order; `undefined` where they stay words. */
  readonly values: readonly (WrittenCell | undefined)[];
  /** The number behind each value that is one. */
  readonly numbers: readonly (WrittenNumber | undefined)[];
  readonly ambiguity?: Ambiguity;
}

/** How spreadsheets of a language write truth values; elsewhere than in English only in capitals, since they are words too. */
const truths: Readonly<Record<string, readonly [yes: string, no: string]>> = {
  de: ['WAHR', 'FALSCH'],
  es: ['VERDADERO', 'FALSO'],
  fr: ['VRAI', 'FAUX'],
  it: ['VERO', 'FALSO'],
  nl: ['WAAR', 'ONWAAR'],
  pt: ['VERDADEIRO', 'FALSO'],
};

/** Reads values that were written as words of one language: numbers, money, percentages, dates, times, truth values. */
export class ValueReader {
  readonly #language: string;
  readonly #signs: NumberSigns;
  #names: DateNames | undefined;

  /** @param language a BCP 47 tag; words that are right in another way of writing numbers only are read in that one. */
  constructor(language = 'en-GB') {
    this.#language = language;
    this.#signs = numberSigns(language);
  }

  /** The value that words write, all of them; `undefined` where they are words. */
  read(words: string): WrittenCell | undefined {
    return this.readColumn([words]).values[0];
  }

  /** The number that words write. */
  readNumber(words: string): WrittenNumber | undefined {
    return this.readColumn([words]).numbers[0];
  }

  /**
   * The values of words that stand together. They are read as the language writes numbers or, where none of its numbers
   * could mean anything else, the other way round; where some could, none is read: `1.200` beside `3,50`.
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

/** Only words with a point or a comma can be read in two ways. */
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

/** A day or a time of day as it was written: its value and a format code that shows it so. */
export type WrittenDate = Required<Pick<DateCell, 'value' | 'format'>>;

/** How a language writes days: the order of numbers, and the names of months. */
export interface DateNames {
  /** Whether the day stands in front of the month; `undefined` where the language alone does not tell, as in English. */
  readonly isDayFirst: boolean | undefined;
  /** Months from 0 by their names, long and short, in lower case without full stops. */
  readonly months: ReadonlyMap<string, number>;
}

/** How a language writes days (Unicode CLDR), with English names beside its own. @param language a BCP 47 tag */
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

/** By itself and behind a day, which some languages write another way. */
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

/** Longer words name more than a day. */
const longest = 40;

/**
 * The day, moment or time of day that words write, all of them: `2026-05-03`, `3 May 2026`, `03.01.2026`, `09:30`. A year
 * has four digits, from 1900 on, which is as far back as sheets count. What could be two days is none.
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

/** Where only one order gives a day. */
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
