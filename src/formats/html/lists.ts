import type { ListMarker } from '../../content/index.ts';
import { byName } from '../by-name.ts';
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
  const marker = styleMarkers[named] ?? attributeMarkers[attribute(element, 'type') ?? ''];
  return marker && ordered === !['circle', 'square'].includes(marker) ? marker : undefined;
}

const attributeMarkers = byName<ListMarker>({
  a: 'lower-alpha',
  A: 'upper-alpha',
  i: 'lower-roman',
  I: 'upper-roman',
  circle: 'circle',
  square: 'square',
});

const styleMarkers = byName<ListMarker>({
  ...attributeMarkers,
  'lower-alpha': 'lower-alpha',
  'lower-latin': 'lower-alpha',
  'upper-alpha': 'upper-alpha',
  'upper-latin': 'upper-alpha',
  'lower-roman': 'lower-roman',
  'upper-roman': 'upper-roman',
});
