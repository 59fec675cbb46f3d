/**
 * A hybrid logical clock (Kulkarni et al. 2014): stamps rise on every device, follow the time of day closely, and no two are the
 * same. A stamp is compared as a string: milliseconds since 1970, a counter, and the device that made it.
 */

const [timeDigits, countDigits] = [9, 4];

/** How far the clock of another device may be ahead of this one's, in milliseconds. */
export const mostAhead = 10 * 60_000;

/** The lowest stamp; of what no device has changed since it took part. */
export const zero = '';

const digits = (value: number, length: number): string => value.toString(36).padStart(length, '0');

/** The stamp of a moment. */
export const stampOf = (milliseconds: number, count: number, device: string): string =>
  digits(milliseconds, timeDigits) + digits(count, countDigits) + device;

/** The milliseconds since 1970 in a stamp. */
export const timeOf = (stamp: string): number => Number.parseInt(stamp.slice(0, timeDigits), 36) || 0;

/** The device that made a stamp. */
export const deviceOf = (stamp: string): string => stamp.slice(timeDigits + countDigits);

/** A stamp of a device that is higher than the last one, even where its clock was put back. */
export function stampAfter(last: string, now: number, device: string): string {
  const time = timeOf(last);
  if (now > time) return stampOf(now, 0, device);
  const count = Number.parseInt(last.slice(timeDigits, timeDigits + countDigits), 36) || 0;
  return stampOf(time, count + 1, device);
}
