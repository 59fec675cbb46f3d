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
