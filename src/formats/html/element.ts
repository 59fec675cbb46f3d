import type { Element, ElementContent, Properties } from 'hast';

type Given = Readonly<Record<string, string | number | boolean | readonly string[] | null | undefined>>;

/**
 * An element of a tree (hast) by its properties as that names them, those that are `undefined` left out. Our own, since a page
 * has a hundred thousand elements, and a builder that reads selectors and looks up every property takes most of the time.
 */
export function element(tagName: string, properties?: Given, children: ElementContent[] | string = []): Element {
  const own: Properties = {};
  for (const name in properties) {
    const value = properties[name];
    if (value !== undefined && value !== null) own[name] = value as string;
  }
  const inside: ElementContent[] = typeof children === 'string' ? [{ type: 'text', value: children }] : children;
  return { type: 'element', tagName, properties: own, children: inside };
}
