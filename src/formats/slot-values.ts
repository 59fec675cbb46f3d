import { DrawerError } from '../content/index.ts';
import type { Slot, SlotValue } from './format.ts';

/**
 * Whether a value is one that a slot can hold: a box takes true or false, a choice one of its own.
 * @throws DrawerError `invalid`, with the slot's name.
 */
export function checkFits({ kind, names, key, choices = [] }: Slot, value: SlotValue): void {
  const where = names[0] ?? key;
  if (kind === 'check' && typeof value !== 'boolean') throw new DrawerError('invalid/field-is-box', {}, { where });
  if (kind === 'choice' && !choices.includes(String(value)))
    throw new DrawerError(
      'invalid/field-choice-unknown',
      { value: String(value).slice(0, 40), choices: choices.slice(0, 12) },
      { where },
    );
}

/**
 * A day (ISO 8601) as a pattern of Unicode TR 35, section 4.8, has it, such as `d MMMM yyyy`; without one as the language
 * writes it.
 */
export function writtenDate(day: string, pattern: string | undefined, language = 'en-GB'): string {
  const date = new Date(`${day}T00:00:00Z`);
  if (Number.isNaN(date.getTime())) return day;
  const named = (part: Intl.DateTimeFormatOptions): string =>
    new Intl.DateTimeFormat(language, { ...part, timeZone: 'UTC' }).format(date);
  if (pattern === undefined) return named({ day: 'numeric', month: 'long', year: 'numeric' });
  return pattern.replace(/'[^']*'|d{1,4}|M{1,4}|y{1,4}/g, (token) => {
    if (token.startsWith("'")) return token.slice(1, -1);
    const number = { d: date.getUTCDate(), M: date.getUTCMonth() + 1, y: date.getUTCFullYear() }[
      token[0] as 'd' | 'M' | 'y'
    ];
    if (token === 'dddd') return named({ weekday: 'long' });
    if (token === 'ddd') return named({ weekday: 'short' });
    if (token === 'MMMM') return named({ month: 'long' });
    if (token === 'MMM') return named({ month: 'short' });
    if (token[0] === 'y') return token.length <= 2 ? String(number).slice(-2) : String(number);
    return String(number).padStart(token.length, '0');
  });
}
