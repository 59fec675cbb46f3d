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
