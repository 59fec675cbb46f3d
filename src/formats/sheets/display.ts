import { dateFromSerial, format as formatNumber, isDateFormat } from 'numfmt';

/** Days between the two epochs (ISO/IEC 29500-1, 18.17.4.1). */
const epochDifference = 1462;

/** Works out what numbers show under format codes; each code is looked at once. */
export class Display {
  readonly #epoch1904: boolean;
  readonly #formats = new Map<string, KnownFormat>();
  /** The code that was looked at last, since a number is shown and then asked about. */
  #newest: { readonly code: string; readonly format: KnownFormat } | undefined;

  constructor(epoch1904 = false) {
    this.#epoch1904 = epoch1904;
  }

  /** What a number shows; a code that cannot be read shows the number plainly. */
  number(value: number, code: string | undefined): string {
    if (code === undefined) return general(value);
    const format = this.#known(code);
    if (format.simple && Math.abs(value) < 1e13) return format.simple(value);
    const serial = this.#epoch1904 && format.isDate ? value + epochDifference : value;
    try {
      return formatNumber(format.code, serial).trim() || (code.includes(';') ? '' : general(value));
    } catch {
      return general(value);
    }
  }

  /** What words show: only a code with a section for words changes them. */
  words(value: string, code: string | undefined): string {
    if (code === undefined || !code.includes('@') || code === '@') return value;
    try {
      return formatNumber(code, value);
    } catch {
      return value;
    }
  }

  /** Whether a code shows numbers as dates or times of day; a code for lengths of time shows a number. */
  isDate(code: string): boolean {
    return this.#known(code).isDate;
  }

  /**
   * A serial number as ISO 8601: a date, a date and time, or a time of day for numbers under one day. `undefined` before
   * the epoch and after the year 9999, where there are no dates.
   */
  isoMoment(serial: number): string | undefined {
    const whole = this.#epoch1904 ? serial + epochDifference : serial;
    if (!(serial >= 0) || whole >= 2_958_466) return undefined;
    const [year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0] = dateFromSerial(whole) as number[];
    const pad = (number: number, length = 2): string => String(Math.floor(number)).padStart(length, '0');
    const date = `${pad(year, 4)}-${pad(month)}-${pad(day)}`;
    const time = `${pad(hour)}:${pad(minute)}:${pad(second)}`;
    if (serial < 1) return time;
    return time === '00:00:00' ? date : `${date}T${time}`;
  }

  #known(code: string): KnownFormat {
    if (this.#newest?.code === code) return this.#newest.format;
    const format = this.#formats.get(code) ?? {
      code: withoutCurrencyLocale(code),
      isDate: isMoment(code),
      simple: simpleFormat(code),
    };
    this.#formats.set(code, format);
    this.#newest = { code, format };
    return format;
  }
}

interface KnownFormat {
  readonly code: string;
  readonly isDate: boolean;
  /** The commonest codes, read here since a sheet has them a million times. */
  readonly simple: ((value: number) => string) | undefined;
}

/** Words, digits that may be grouped by thousands, decimal places, a percent sign, words. */
const simpleCode = /^((?:"[^"]*"|\[\$[^\]-]+(?:-[^\]]*)?\]|[£$€¥ ])*)(#,##0|0)(?:\.(0{1,10}))?(%?)((?:"[^"]*"|[€ ])*)$/;

const wordsOf = (code: string): string => code.replace(/"([^"]*)"|\[\$([^\]-]+)(?:-[^\]]*)?\]/g, '$1$2');

function simpleFormat(code: string): ((value: number) => string) | undefined {
  const [isSimple, before = '', digits, decimals = '', percent = '', after = ''] = simpleCode.exec(code) ?? [];
  if (isSimple === undefined) return undefined;
  const [words, rest] = [wordsOf(before), percent + wordsOf(after)];
  const [start, end] = [words.trimStart(), rest.trimEnd()];
  const [places, isGrouped, factor] = [decimals.length, digits === '#,##0', percent === '' ? 1 : 100];
  return (value) => {
    const number = fixed(Math.abs(value) * factor, places, isGrouped);
    const isNegative = value < 0 && /[1-9]/.test(number);
    return isNegative ? `-${words}${number}${end}` : `${start}${number}${end}`;
  };
}

/** Decimal rounding of the fifteen digits that count, halves away from zero, as spreadsheets round. */
function fixed(value: number, places: number, isGrouped: boolean): string {
  const scale = 10 ** places;
  const scaled = value * scale;
  const near = Math.round(scaled);
  // Only close to a half do the digits beyond the fifteenth decide.
  const rounded = Math.abs(scaled - near) < 0.49 ? near : Math.round(Number(scaled.toPrecision(15)));
  if (rounded >= 1e15) return fixedDigits(String(rounded), places, isGrouped);
  const whole = Math.floor(rounded / scale);
  const shown = isGrouped && whole >= 1000 ? groupedNumber(whole) : String(whole);
  if (places === 0) return shown;
  const rest = rounded - whole * scale;
  return `${shown}.${places === 2 ? twoDigits[rest] : String(rest).padStart(places, '0')}`;
}

/** The same for what has more digits than arithmetic keeps. */
function fixedDigits(digits: string, places: number, isGrouped: boolean): string {
  const whole = places === 0 ? digits : digits.slice(0, -places);
  const shown = isGrouped ? byThousands(whole) : whole;
  return places === 0 ? shown : `${shown}.${digits.slice(-places)}`;
}

/** Sheets show a million numbers: what their digits look like is put together from these. */
const twoDigits = Array.from({ length: 100 }, (_, number) => String(number).padStart(2, '0'));
const threeDigits = Array.from({ length: 1000 }, (_, number) => String(number).padStart(3, '0'));

function groupedNumber(whole: number): string {
  const thousands = Math.floor(whole / 1000);
  const rest = threeDigits[whole - thousands * 1000];
  return `${thousands < 1000 ? thousands : groupedNumber(thousands)},${rest}`;
}

/** A number without a format: at most eleven signs (ISO/IEC 29500-1, 18.8.30, General). */
function general(value: number): string {
  const size = Math.abs(value);
  const plain = String(value);
  if (plain.length <= 11 && !plain.includes('e')) return plain;
  if (size < 1e-4 || size >= 1e10) return formatNumber('General', value, { throws: false });
  const digits = size < 1 ? 1 : Math.floor(Math.log10(size)) + 1;
  const shown = fixed(size, Math.max(0, 10 - digits), false).replace(/(?:\.0+|(\.\d*?)0+)$/, '$1');
  return value < 0 ? `-${shown}` : shown;
}

function isMoment(code: string): boolean {
  try {
    return isDateFormat(code) && !/\[(h+|m+|s+)\]/i.test(code);
  } catch {
    return false;
  }
}

/** The locale beside a currency sign (`[$€-407]`) chooses the sign's name; separators stay the workbook's own. */
const withoutCurrencyLocale = (code: string): string => code.replace(/\[\$([^\]-]{1,20})-[^\]]{0,20}\]/g, '[$$$1]');

function byThousands(digits: string): string {
  let grouped = digits.slice(-3);
  for (let at = digits.length - 3; at > 0; at -= 3) grouped = `${digits.slice(Math.max(0, at - 3), at)},${grouped}`;
  return grouped;
}

/** Milliseconds of a day. */
const day = 86_400_000;

/**
 * The serial number of a moment as sheets count it (ISO/IEC 29500-1, 18.17.4.1): days from the start of 1900 (which they
 * take for a leap year) or of 1904; a time alone is a part of a day, in full: cut short, 9:30 shows as 9:29:59.
 */
export function momentSerial(moment: string, epoch1904: boolean): number {
  const [, date, hours = '0', minutes = '0', seconds = '0'] =
    /^(\d{4}-\d\d-\d\d)?T?(?:(\d\d):(\d\d):(\d\d))?$/.exec(moment) ?? [];
  const time = (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) / 86_400;
  if (date === undefined) return time;
  const days = Date.parse(`${date}T00:00:00Z`) / day;
  if (epoch1904) return days + 24_107 + time;
  const since1900 = days + 25_569;
  return (since1900 < 61 ? since1900 - 1 : since1900) + time;
}

const [minus, point, zero] = [0x2d, 0x2e, 0x30];
/** Powers of ten that a double holds exactly, and one beyond the digits it does. */
const powers = Array.from({ length: 16 }, (_, power) => 10 ** power);

/**
 * A number of at most fifteen digits, read from where it stands in ASCII: a whole number that a double holds exactly, divided
 * by such a power of ten, is rounded as the whole text would be (IEEE 754, 5.4.1). Not a number where it is written in any
 * other way.
 */
export function decimal(bytes: Uint8Array, from: number, to: number): number {
  let at = from;
  const isNegative = (bytes[at] as number) === minus;
  if (isNegative) at++;
  if (to - at > 16) return Number.NaN;
  const first = at;
  let digits = 0;
  let places = -1;
  for (; at < to; at++) {
    const digit = (bytes[at] as number) - zero;
    if (digit >= 0 && digit <= 9) {
      digits = digits * 10 + digit;
      if (places >= 0) places++;
    } else if (digit === point - zero && places < 0) places = 0;
    else return Number.NaN;
  }
  if (digits > 999_999_999_999_999 || at - first === (places < 0 ? 0 : 1)) return Number.NaN;
  const number = places > 0 ? digits / (powers[places] as number) : digits;
  return isNegative ? -number : number;
}
