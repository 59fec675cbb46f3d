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
