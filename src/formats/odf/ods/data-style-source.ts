import type { Element } from 'xast';
import { x } from '../../xml/element.ts';
import { localeOf } from '../data-style.ts';

/**
 * A number format code as a data style (ISO/IEC 26300-1, 16.27): numbers with words around them, percentages, dates and
 * times. `undefined` for codes with sections or conditions of their own, whose value then shows plainly.
 */
export function dataStyle(code: string, name: string): Element | undefined {
  const first = code.split(';')[0] ?? '';
  if (/[ymdhs]/i.test(bare(first)) && !/[0#?]/.test(bare(first))) return momentStyle(first, name);
  const sign = currency.exec(first)?.[0] ?? '';
  const masked = sign === '' ? first : first.replace(sign, () => mask); // the identifier has digits of its own
  const [, before = '', digits, after = ''] = /^([^#0?]*)((?:#,##)?[#0]+(?:\.[0#]+)?)([^#0?]*)$/.exec(masked) ?? [];
  if (digits === undefined) return undefined;
  const [whole = '0', decimals = ''] = digits.split('.');
  const number = x('number:number', {
    'number:decimal-places': String(decimals.length),
    'number:min-decimal-places': String(decimals.replaceAll('#', '').length),
    'number:min-integer-digits': String(Math.max(0, (whole.match(/0/g) ?? []).length)),
    'number:grouping': whole.includes(',') ? 'true' : undefined,
  });
  const kind = after.includes('%')
    ? 'number:percentage-style'
    : currency.test(first)
      ? 'number:currency-style'
      : 'number:number-style';
  return x(kind, { 'style:name': name }, [
    ...around(before.replace(mask, () => sign)),
    number,
    ...around(after.replace(mask, () => sign)),
  ]);
}

/** Stands for a currency while its format is taken apart. */
const mask = '\u0001';
/** A currency's sign with the identifier of its language: `[$€-407]`. */
const currency = /\[\$([^\]-]+)(?:-([0-9A-F]+))?\]/i;

/** The words and the currency before or after a number (16.29.6). */
function around(part: string): Element[] {
  const [whole, sign = '', id = ''] = currency.exec(part) ?? [];
  if (whole === undefined) return words(unquoted(part));
  const at = part.indexOf(whole);
  const locale = localeOf(id);
  const attributes = locale ? { 'number:language': locale.language, 'number:country': locale.country } : {};
  return [
    ...words(unquoted(part.slice(0, at))),
    x('number:currency-symbol', attributes, sign),
    ...words(unquoted(part.slice(at + whole.length))),
  ];
}

const bare = (code: string): string => code.replace(/"[^"]*"|\\.|\[[^\]]*\]/g, '');
const unquoted = (part: string): string =>
  part.replace(/"([^"]*)"|\\(.)|\[\$([^\]-]*)[^\]]*\]|\[[^\]]*\]|_.|\*./g, '$1$2$3');
const words = (text: string): Element[] => (text === '' ? [] : [x('number:text', {}, text)]);

const long = (token: string, at: number) => ({ 'number:style': token.length >= at ? 'long' : undefined });

/** A month is a number, its short name or its name, by how many letters it has. */
function momentPart(token: string, afterHours: boolean): Element {
  switch (token[0]?.toLowerCase()) {
    case 'y':
      return x('number:year', long(token, 3));
    case 'd':
      return token.length > 2 ? x('number:day-of-week', long(token, 4)) : x('number:day', long(token, 2));
    case 'h':
      return x('number:hours', long(token, 2));
    case 's':
      return x('number:seconds', long(token, 2));
    default:
      if (afterHours) return x('number:minutes', long(token, 2));
      return x('number:month', {
        'number:textual': token.length > 2 ? 'true' : undefined,
        'number:style': token.length === 2 || token.length > 3 ? 'long' : undefined,
      });
  }
}

function momentStyle(code: string, name: string): Element {
  const parts: Element[] = [];
  let afterHours = false;
  for (const [token] of code.matchAll(/y+|m+|d+|h+|s+|AM\/PM|"[^"]*"|\\.|\[[^\]]*\]|[^ymdhs"\\[]+/gi)) {
    if (/^am\/pm$/i.test(token)) parts.push(x('number:am-pm'));
    else if (/^[ymdhs]+$/i.test(token)) {
      parts.push(
        momentPart(
          token,
          afterHours || (/^m{1,2}$/i.test(token) && /^:s/i.test(code.slice(code.indexOf(token) + token.length))),
        ),
      );
      afterHours = /^h/i.test(token);
    } else parts.push(...words(unquoted(token)));
  }
  return x(
    /[yd]/i.test(bare(code)) || /m{3}/i.test(code) ? 'number:date-style' : 'number:time-style',
    { 'style:name': name },
    parts,
  );
}
