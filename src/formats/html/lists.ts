import type { ListMarker } from '../../content/index.ts';
import { declarations } from './css.ts';
import { attribute, type Element, elementsIn } from './dom.ts';

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
  const byType: Readonly<Record<string, ListMarker>> = {
    a: 'lower-alpha',
    A: 'upper-alpha',
    i: 'lower-roman',
    I: 'upper-roman',
    circle: 'circle',
    square: 'square',
  };
  const byName: Readonly<Record<string, ListMarker>> = {
    ...byType,
    'lower-alpha': 'lower-alpha',
    'lower-latin': 'lower-alpha',
    'upper-alpha': 'upper-alpha',
    'upper-latin': 'upper-alpha',
    'lower-roman': 'lower-roman',
    'upper-roman': 'upper-roman',
  };
  const marker = byName[named] ?? byType[attribute(element, 'type') ?? ''];
  return marker && ordered === !['circle', 'square'].includes(marker) ? marker : undefined;
}
