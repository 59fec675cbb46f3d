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

/** Markup that is written unchanged, without escaping. */
interface Raw {
  readonly type: 'raw';
  readonly value: string;
}

/** Elements and text as HTML (section 13.3). */
export function markup(nodes: readonly ElementContent[]): string {
  const pieces: string[] = [];
  for (const node of nodes) addMarkup(node, pieces);
  return pieces.join('');
}

/** An element as its markup already, so that its tree takes no room any more: for the rows of long tables. */
export const asMarkup = (element: Element): ElementContent =>
  ({ type: 'raw', value: markup([element]) }) satisfies Raw as unknown as ElementContent;

/**
 * Our own, since a page has a hundred thousand elements. Pieces that are joined at the end take less room than strings that
 * grow.
 */
function addMarkup(node: ElementContent | Raw, pieces: string[]): void {
  if (node.type === 'text') pieces.push(escapeText(node.value));
  else if (node.type === 'raw') pieces.push(node.value);
  else if (node.type === 'element') addElement(node, pieces);
  else throw new TypeError(`a ${node.type} is not written`); // our own mistake: we make none
}

function addElement({ tagName, properties, children }: Element, pieces: string[]): void {
  pieces.push('<', tagName);
  for (const name in properties) {
    const value = properties[name];
    if (value === undefined || value === null || value === false) continue;
    pieces.push(' ', attributeNames[name] ?? name);
    if (value !== true) pieces.push('="', escapeValue(Array.isArray(value) ? value.join(' ') : String(value)), '"');
  }
  pieces.push('>');
  if (empty.has(tagName)) return;
  for (const child of children) addMarkup(child, pieces);
  pieces.push('</', tagName, '>');
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
