import type { Element, ElementContent, Nodes } from 'xast';

/** Source that stands as it is. */
export interface Raw {
  readonly type: 'raw';
  readonly value: string;
}

/** The bytes of an XML part: its root element in UTF-8 under the declaration that office programs expect. */
export const xmlPart = (root: Element): Uint8Array =>
  new TextEncoder().encode(`<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n${xmlSource([root])}`);

/** Text without the characters that XML 1.0 (section 2.2) cannot hold. */
export const xmlText = (text: string): string =>
  text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');

/** Words as an attribute's value between double quotes; bare line ends and tabs would be read as spaces (XML 1.0, section 3.3.3). */
export const escapeAttribute = (words: string): string =>
  /["\t\n\r]/.test(words)
    ? escapeText(words).replace(/["\t\n]/g, (sign) => (sign === '"' ? '&quot;' : `&#${sign.charCodeAt(0)};`))
    : escapeText(words);

/** Words between tags. */
export const escapeText = (words: string): string =>
  needsEscape.test(words)
    ? xmlText(words).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\r', '&#13;')
    : words;

const needsEscape = /[&<>\r\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/;

/** Elements as source that goes into a part. */
export function xmlSource(nodes: readonly (Nodes | Raw)[]): string {
  const pieces: string[] = [];
  for (const node of nodes) addSource(node, pieces);
  return pieces.join('');
}

/** An element as its source already, so that its tree takes no room any more: for the rows of long tables. */
export const asSource = (element: Element): ElementContent =>
  ({ type: 'raw', value: xmlSource([element]) }) satisfies Raw as unknown as ElementContent;

/**
 * Our own, since a document has a hundred thousand elements, and a serialiser for every use takes several times as long. Pieces
 * that are joined at the end take less room than strings that grow.
 */
function addSource(node: Nodes | Raw, pieces: string[]): void {
  switch (node.type) {
    case 'text':
      pieces.push(escapeText(node.value));
      return;
    case 'raw':
      pieces.push(node.value);
      return;
    case 'element': {
      pieces.push('<', node.name);
      for (const key in node.attributes) {
        const value = node.attributes[key];
        if (value !== null && value !== undefined) pieces.push(' ', key, '="', escapeAttribute(value), '"');
      }
      if (node.children.length === 0) {
        pieces.push('/>');
        return;
      }
      pieces.push('>');
      for (const child of node.children) addSource(child, pieces);
      pieces.push('</', node.name, '>');
      return;
    }
    default:
      throw new TypeError(`a ${node.type} is not written`); // our own mistake: we make none
  }
}
