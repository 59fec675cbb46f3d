/** A number as it was written: exact, with its unit and the way it looked. */
export interface WrittenNumber {
  /** Of a percentage the share: 12.5 % is 0.125. */
  readonly exact: Decimal;
  /** A currency's sign or code as it stood (`£`, `EUR`), or `%`; absent for bare numbers. */
  readonly unit?: string;
  /** Whether a currency stood in front. */
  readonly unitFirst?: boolean;
  /** Digits behind the decimal sign as it was written; of 12.5 % it is 1. */
  readonly places: number;
  /** A number format code (ISO/IEC 29500-1, 18.8.31) that shows it as it was written; absent means `General`. */
  readonly format?: string;
  /** Whether it is written as years are: four digits, from 1800 to 2099, and nothing else. */
  readonly isYearLike?: true;
}

/** How a language writes numbers. */
export interface NumberSigns {
  /** In front of decimals; the other one of the two parts thousands. */
  readonly decimal: '.' | ',';
  /** Whether a plain space parts thousands, as it does in French; elsewhere `555 123` is a code or a telephone number. */
  readonly groupsBySpace: boolean;
}

/** How a language writes numbers (Unicode CLDR). @param language a BCP 47 tag */
export function numberSigns(language: string): NumberSigns {
  const parts = new Intl.NumberFormat(language, { numberingSystem: 'latn' }).formatToParts(12_345.6);
  const sign = (type: string): string => parts.find((part) => part.type === type)?.value ?? '';
  return { decimal: sign('decimal') === ',' ? ',' : '.', groupsBySpace: /^\s$/.test(sign('group')) };
}

/** The same, with decimal sign and thousands the other way round. */
export const otherSigns = ({ decimal, groupsBySpace }: NumberSigns): NumberSigns => ({
  decimal: decimal === '.' ? ',' : '.',
  groupsBySpace,
});

const signs = 'US\\$|[A-Z]{1,2}\\$|[$£€¥₹₽₩₺₪₴₫฿]|zł|Kč|kr\\.?|Fr\\.|Ft|lei';
/** Codes (ISO 4217) that are read beside any number; others only where two decimals stand, since many are words. */
const commonCodes = new Set(
  'AED AUD BGN BRL CAD CHF CNY CZK DKK EGP EUR GBP HKD HUF ILS INR ISK JPY KRW KWD MAD MXN NOK NZD PLN QAR RON RUB SAR SEK SGD THB TND TWD UAH USD ZAR'.split(
    ' ',
  ),
);
const unit = `${signs}|[A-Z]{3}`;
/** Spaces that part thousands; a plain one does it as well. */
const space = ' \\u00a0\\u2009\\u202f';
const dash = '[-\\u2212\\u2013]';
const body = `\\d[\\d.,'’${space}]*`;
const shape = new RegExp(
  `^(\\()?(${dash})?[${space}]?(?:(${unit})[${space}]?)?(${dash})?(${body}?|\\.\\d+)([eE][+-]?\\d{1,3})?(?:[.,][-–—]{1,2})?(?:[${space}]?(%|${unit}))?(\\))?$`,
);

/** Longer words are no number. */
const longest = 60;

/**
 * The number that words write, all of them: `£1,250.00`, `12'500.50`, `1.250,00 €`, `(300)`, `1e3`, `CHF 5.-`, `50 %`.
 * What has a leading zero or plus, or more than 15 digits, is a code or a telephone number and no number.
 * @param words any text; other scripts' digits are read too.
 * @param numerals how the language of the words writes numbers.
 * @returns `undefined` where the words are no number, or none that is written so.
 */
export function readNumber(words: string, numerals: NumberSigns): WrittenNumber | undefined {
  if (words.length > longest || !/\p{Nd}/u.test(words)) return undefined;
  const [whole, opening, minus, before, innerMinus, figures = '', exponent = '', after, closing] =
    shape.exec(plainDigits(words.trim())) ?? [];
  if (whole === undefined || (opening === undefined) !== (closing === undefined)) return undefined;
  if (before !== undefined && after !== undefined) return undefined;
  const numeral = readFigures(figures.trim(), numerals.decimal);
  if (numeral === undefined || (exponent !== '' && (numeral.isGrouped || !isExponent(numeral.text, exponent))))
    return undefined;
  const size = parseDecimal(numeral.text + exponent);
  if (!size) return undefined;
  const currency = [before, after].find((each) => each !== undefined && each !== '%');
  if (currency !== undefined && !isCurrency(currency, size.places)) return undefined;
  const isPercent = after === '%';
  const isSpaced = figures.trim().includes(' ') && size.places === 0 && currency === undefined && !isPercent;
  if (isSpaced && !numerals.groupsBySpace) return undefined;
  const isNegative = opening !== undefined || minus !== undefined || innerMinus !== undefined;
  const exact = { units: isNegative ? -size.units : size.units, places: size.places + (isPercent ? 2 : 0) };
  const isBare = whole === figures;
  const found = isPercent ? '%' : currency;
  const format = formatCode({ ...numeral, places: size.places }, found, before !== undefined, opening !== undefined);
  return {
    exact,
    places: size.places,
    ...(found !== undefined && { unit: found, ...(!isPercent && { unitFirst: before !== undefined }) }),
    ...(exponent !== '' ? { format: '0.00E+00' } : format !== undefined && { format }),
    ...(isBare && isYear(figures) && { isYearLike: true as const }),
  };
}

/** Whether digits may be a year of ours rather than an amount. */
export const isYear = (digits: string): boolean => /^(?:1[89]|20)\d\d$/.test(digits);

/** Digits of other scripts, full width and Arabic signs as those of ASCII. */
function plainDigits(words: string): string {
  if (/^[\x20-\x7e]*$/.test(words)) return words;
  return words
    .replace(/\p{Nd}/gu, (digit) => String(digitValue(digit)))
    .replaceAll('٫', '.')
    .replaceAll('٬', "'")
    .replaceAll('٪', '%')
    .replace(/[\u200e\u200f\u061c]/g, '');
}

/** Decimal digits stand ten in a row, from zero (Unicode, chapter 4.6). */
function digitValue(digit: string): number {
  const code = digit.codePointAt(0) as number;
  if (code >= 0x1d7ce && code <= 0x1d7ff) return (code - 0x1d7ce) % 10; // mathematical digits, five sets in a row
  let zero = code;
  while (code - zero < 9 && /\p{Nd}/u.test(String.fromCodePoint(zero - 1))) zero--;
  return code - zero;
}

interface Numeral {
  /** With a `.` for the decimal sign, and nothing between thousands. */
  readonly text: string;
  readonly isGrouped: boolean;
}

function readFigures(figures: string, decimal: NumberSigns['decimal']): Numeral | undefined {
  const group = decimal === '.' ? ',' : '\\.';
  const mark = decimal === '.' ? '\\.' : ',';
  const [whole, digits = '', rest] =
    new RegExp(
      `^(\\d+|\\d{1,3}(?:(?:${group}\\d{3})+|(?:['’]\\d{3})+|(?:[${space}]\\d{3})+)|\\d{1,2}(?:${group}\\d{2})+${group}\\d{3}|)(?:${mark}(\\d+))?$`,
    ).exec(figures) ?? [];
  if (whole === undefined || digits + (rest ?? '') === '') return undefined;
  const plain = digits.replace(/\D/g, '');
  const isCode = /^0\d/.test(plain) || (plain + (rest ?? '')).replace(/^0+/, '').length > 15;
  if (isCode) return undefined;
  return { text: `${plain || '0'}${rest === undefined ? '' : `.${rest}`}`, isGrouped: plain.length < digits.length };
}

/** `2E10` is a part number more often than a number: an exponent is small, has a sign, or stands behind decimals. */
const isExponent = (numeral: string, exponent: string): boolean =>
  exponent.startsWith('e') || /[+-]/.test(exponent) || numeral.includes('.');

function isCurrency(unit: string, places: number): boolean {
  if (!/^[A-Z]{3}$/.test(unit) || commonCodes.has(unit)) return true;
  return places === 2 && Intl.supportedValuesOf('currency').includes(unit);
}

function formatCode(
  { isGrouped, places }: { readonly isGrouped: boolean; readonly places: number },
  unit: string | undefined,
  isFirst: boolean,
  inBrackets: boolean,
): string | undefined {
  if (!isGrouped && places === 0 && unit === undefined && !inBrackets) return undefined;
  const digits = `${isGrouped ? '#,##0' : '0'}${places === 0 ? '' : `.${'0'.repeat(places)}`}`;
  const gap = unit !== undefined && unit.length > 1 ? ' ' : '';
  const shown =
    unit === undefined
      ? digits
      : unit === '%'
        ? `${digits}%`
        : isFirst
          ? `[$${unit}]${gap}${digits}`
          : `${digits} [$${unit}]`;
  return inBrackets ? `${shown};(${shown})` : shown;
}

/** An exact decimal number: `units` × 10^-`places`. */
export interface Decimal {
  readonly units: bigint;
  /** Digits behind the decimal sign, 0 or more. */
  readonly places: number;
}

/** The largest exponent that is read; what is beyond it is no amount of anything. */
const largestExponent = 40;

/**
 * The decimal that a numeral writes: digits, at most one `.`, and an exponent, such as `-12.50` or `1e3`.
 * @returns `undefined` for anything else, and for exponents beyond 40.
 */
export function parseDecimal(numeral: string): Decimal | undefined {
  const [whole, sign = '', digits = '', rest = '', exponent = '0'] =
    /^(-?)(\d*)(?:\.(\d*))?(?:[eE]([+-]?\d{1,3}))?$/.exec(numeral) ?? [];
  if (whole === undefined || digits + rest === '' || Math.abs(Number(exponent)) > largestExponent) return undefined;
  const units = BigInt(`${sign}${digits}${rest}`);
  const places = rest.length - Number(exponent);
  return places >= 0 ? { units, places } : { units: units * 10n ** BigInt(-places), places: 0 };
}

/** A finite number as its shortest exact decimal: 0.1 becomes one tenth. */
export const decimalOf = (value: number): Decimal | undefined => parseDecimal(String(value));

const unitsAt = ({ units, places }: Decimal, wanted: number): bigint => units * 10n ** BigInt(wanted - places);

/** The exact sum, with as many places as the most precise of the terms. */
export function sumDecimals(terms: readonly Decimal[]): Decimal {
  const places = terms.reduce((most, each) => Math.max(most, each.places), 0);
  return { units: terms.reduce((sum, each) => sum + unitsAt(each, places), 0n), places };
}

/** Below 0, 0 or above 0, as `one` is less than, the same as or more than `other`. */
export function compareDecimals(one: Decimal, other: Decimal): number {
  const places = Math.max(one.places, other.places);
  const difference = unitsAt(one, places) - unitsAt(other, places);
  return difference < 0n ? -1 : difference > 0n ? 1 : 0;
}

/** A decimal divided by a count of 1 or more, to so many places, halves away from zero. */
export function divideDecimal(dividend: Decimal, count: number, places: number): Decimal {
  const wider = Math.max(places, dividend.places);
  const [numerator, divisor] = [unitsAt(dividend, wider), BigInt(count) * 10n ** BigInt(wider - places)];
  return { units: rounded(numerator, divisor), places };
}

/** A decimal to fewer places, halves away from zero; one with no more places than that is the same. */
export const roundDecimal = (decimal: Decimal, places: number): Decimal =>
  decimal.places <= places ? decimal : divideDecimal(decimal, 1, places);

function rounded(numerator: bigint, divisor: bigint): bigint {
  const size = numerator < 0n ? -numerator : numerator;
  const quotient = (2n * size + divisor) / (2n * divisor);
  return numerator < 0n ? -quotient : quotient;
}

/** `-12.50`: all of its places, a `.` for the decimal sign. */
export function decimalText({ units, places }: Decimal): string {
  const digits = String(units < 0n ? -units : units).padStart(places + 1, '0');
  const whole = digits.slice(0, digits.length - places);
  return `${units < 0n ? '-' : ''}${whole}${places > 0 ? `.${digits.slice(-places)}` : ''}`;
}

/** The double nearest to it (IEEE 754). */
export const decimalNumber = (decimal: Decimal): number => Number(decimalText(decimal));

/** Without zeros at its end. */
export function shortestDecimal(decimal: Decimal): Decimal {
  let { units, places } = decimal;
  while (places > 0 && units % 10n === 0n) {
    units /= 10n;
    places--;
  }
  return places === decimal.places ? decimal : { units, places };
}
