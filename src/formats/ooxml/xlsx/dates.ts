import { dateFromSerial, format as formatNumber, isDateFormat } from 'numfmt';

/** Days between the two epochs (ISO/IEC 29500-1, 18.17.4.1). */
const epochDifference = 1462;

/** What a number shows under a format code; a code that cannot be read shows the number plainly. */
export const displayNumber = (value: number, format = 'General', epoch1904 = false): string => {
  const serial = epoch1904 && isDate(format) ? value + epochDifference : value;
  const plain = (): string => formatNumber('General', value, { throws: false });
  try {
    return formatNumber(withoutCurrencyLocale(format), serial).trim() || (format.includes(';') ? '' : plain());
  } catch {
    return plain();
  }
};

/** The locale beside a currency sign (`[$€-407]`) chooses the sign's name; separators stay the workbook's own. */
const withoutCurrencyLocale = (format: string): string => format.replace(/\[\$([^\]-]+)-[^\]]*\]/g, '[$$$1]');

export const displayText = (value: string, format: string): string => {
  try {
    return formatNumber(format, value);
  } catch {
    return value;
  }
};

/** Whether a format code shows numbers as dates or times of day; a code for lengths of time shows a number. */
export const isDate = (format: string): boolean => {
  try {
    return isDateFormat(format) && !/\[(h+|m+|s+)\]/i.test(format);
  } catch {
    return false;
  }
};

/**
 * A serial number as ISO 8601: a date, a date and time, or a time of day for numbers under one day. `undefined` before
 * the epoch and after the year 9999, where there are no dates.
 */
export function serialToIso(serial: number, epoch1904: boolean): string | undefined {
  const whole = epoch1904 ? serial + epochDifference : serial;
  if (!(serial >= 0) || whole >= 2_958_466) return undefined;
  const [year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0] = dateFromSerial(whole) as number[];
  const pad = (number: number, length = 2): string => String(Math.floor(number)).padStart(length, '0');
  const date = `${pad(year, 4)}-${pad(month)}-${pad(day)}`;
  const time = `${pad(hour)}:${pad(minute)}:${pad(second)}`;
  if (serial < 1) return time;
  return time === '00:00:00' ? date : `${date}T${time}`;
}
