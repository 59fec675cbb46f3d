import type { Element, ElementContent, Properties } from 'hast';
import { nullPrototype } from '../xml/element.ts';

/** Attributes that are called otherwise in a tree (hast): all that we make. */
const attributeNames: Readonly<Record<string, string>> = nullPrototype({
  className: 'class',
  colSpan: 'colspan',
  rowSpan: 'rowspan',
  dataStyle: 'data-style',
});

/** Elements without an end tag (HTML, section 13.1.2). */
const empty = new Set(['br', 'col', 'hr', 'img', 'input']);

/** Elements and text as HTML (section 13.3). Our own, since a page has a hundred thousand elements. */
export function markup(nodes: readonly ElementContent[]): string {
  let html = '';
  for (const node of nodes) {
    if (node.type === 'element') html += elementMarkup(node);
    else if (node.type === 'text') html += escapeText(node.value);
    else throw new TypeError(`a ${node.type} is not written`); // our own mistake: we make none
  }
  return html;
}

function elementMarkup({ tagName, properties, children }: Element): string {
  let tag = `<${tagName}`;
  for (const name in properties) {
    const value = properties[name];
    if (value === undefined || value === null || value === false) continue;
    tag += ` ${attributeNames[name] ?? name}`;
    if (value !== true) tag += `="${escapeValue(Array.isArray(value) ? value.join(' ') : String(value))}"`;
  }
  return empty.has(tagName) ? `${tag}>` : `${tag}>${markup(children)}</${tagName}>`;
}

/** Words between tags. */
export const escapeText = (words: string): string =>
  /[&<]/.test(words) ? words.replaceAll('&', '&amp;').replaceAll('<', '&lt;') : words;

/** Words as an attribute's value between double quotes. */
export const escapeValue = (words: string): string =>
  /[&"]/.test(words) ? words.replaceAll('&', '&amp;').replaceAll('"', '&quot;') : words;

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
