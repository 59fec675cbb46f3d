import type { ListMarker } from '../../content/index.ts';
import type { ItemNumber } from '../flow/assemble.ts';
import { nullPrototype } from '../xml/element.ts';
import { declarations } from './css.ts';
import { attribute, type Element, elementsIn, textOf } from './dom.ts';

export const isList = (element: Element): boolean => ['ul', 'ol', 'menu'].includes(element.tagName);

/** A check box before any other word of the item. */
export function checkBox(item: Element): boolean | undefined {
  for (const element of elementsIn(item.childNodes)) {
    if (isList(element)) return undefined;
    if (element.tagName === 'input')
      return attribute(element, 'type') === 'checkbox' ? attribute(element, 'checked') !== undefined : undefined;
  }
  return undefined;
}

export function listMarker(element: Element, ordered: boolean): ListMarker | undefined {
  const css = declarations(attribute(element, 'style'));
  const named = css.get('list-style-type') ?? css.get('list-style') ?? '';
  const marker = styleMarkers[named] ?? attributeMarkers[attribute(element, 'type') ?? ''];
  return marker && ordered === !['circle', 'square'].includes(marker) ? marker : undefined;
}

const attributeMarkers = nullPrototype<ListMarker>({
  a: 'lower-alpha',
  A: 'upper-alpha',
  i: 'lower-roman',
  I: 'upper-roman',
  circle: 'circle',
  square: 'square',
});

const styleMarkers = nullPrototype<ListMarker>({
  ...attributeMarkers,
  'lower-alpha': 'lower-alpha',
  'lower-latin': 'lower-alpha',
  'upper-alpha': 'upper-alpha',
  'upper-latin': 'upper-alpha',
  'lower-roman': 'lower-roman',
  'upper-roman': 'upper-roman',
});

/**
 * Word processors put list items on the clipboard as paragraphs that only a private style property tells from others:
 * `mso-list: l0 level2 lfo1`, with the number or bullet as words in an element of `mso-list: Ignore`.
 */
export function disguisedItem(element: Element): ItemNumber | undefined {
  const [, list, level, instance] = /^(l\d+)\s+level(\d+)\s+(\S+)/.exec(listProperty(element) ?? '') ?? [];
  if (list === undefined) return undefined;
  const sign = [...elementsIn(element.childNodes)].find(isItemSign);
  const words = sign ? textOf(sign).replace(/[\s\u00a0]+/g, '') : '';
  return { list: `${list} ${instance}`, level: Math.min(9, Number(level)) - 1, ...numberOf(words) };
}

export const isItemSign = (element: Element): boolean => /^ignore$/i.test(listProperty(element) ?? '');

const listProperty = (element: Element): string | undefined => {
  const style = attribute(element, 'style');
  return style?.includes('mso-list') ? declarations(style).get('mso-list') : undefined;
};

/** What a number in words such as `1.`, `(b)` or `iv)` says; anything else is a bullet. */
function numberOf(words: string): { ordered: boolean; marker?: ListMarker; number: number } {
  const [, digits, letters] = /^\W?(?:[\d.]*?(\d{1,9})|([A-Za-z]{1,8}))[.):]?$/.exec(words) ?? [];
  if (digits !== undefined) return { ordered: true, number: Number(digits) };
  if (letters === undefined || letters === 'o')
    return { ordered: false, number: 1, ...(letters === 'o' && { marker: 'circle' }) };
  const isUpper = letters === letters.toUpperCase();
  const roman = romanNumber(letters.toLowerCase());
  if (roman !== undefined && (letters.length > 1 || /[ivx]/i.test(letters)))
    return { ordered: true, marker: isUpper ? 'upper-roman' : 'lower-roman', number: roman };
  const number = [...letters.toLowerCase()].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 96, 0);
  return { ordered: true, marker: isUpper ? 'upper-alpha' : 'lower-alpha', number };
}

const romanDigits: Readonly<Record<string, number>> = nullPrototype({
  i: 1,
  v: 5,
  x: 10,
  l: 50,
  c: 100,
  d: 500,
  m: 1000,
});

function romanNumber(letters: string): number | undefined {
  let number = 0;
  for (let at = 0; at < letters.length; at++) {
    const digit = romanDigits[letters[at] ?? ''];
    if (digit === undefined) return undefined;
    number += digit < (romanDigits[letters[at + 1] ?? ''] ?? 0) ? -digit : digit;
  }
  return number;
}
