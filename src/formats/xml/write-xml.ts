import type { Element, Nodes } from 'xast';

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
  let source = '';
  for (const node of nodes) source += nodeSource(node);
  return source;
}

/** Our own, since a document has a hundred thousand elements, and a serialiser for every use takes several times as long. */
function nodeSource(node: Nodes | Raw): string {
  switch (node.type) {
    case 'text':
      return escapeText(node.value);
    case 'raw':
      return node.value;
    case 'element': {
      let tag = `<${node.name}`;
      for (const key in node.attributes) {
        const value = node.attributes[key];
        if (value !== null && value !== undefined) tag += ` ${key}="${escapeAttribute(value)}"`;
      }
      return node.children.length === 0 ? `${tag}/>` : `${tag}>${xmlSource(node.children)}</${node.name}>`;
    }
    default:
      throw new TypeError(`a ${node.type} is not written`); // our own mistake: we make none
  }
}
