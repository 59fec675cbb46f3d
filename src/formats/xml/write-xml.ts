import type { Element, Nodes } from 'xast';
import { toXml } from 'xast-util-to-xml';

/**
 * The bytes of an XML part: its root element in UTF-8 under the declaration that office programs expect. The end of character
 * data may not stand in text (XML 1.0, section 2.4), and the serialiser lets it.
 */
export const xmlPart = (root: Element): Uint8Array =>
  new TextEncoder().encode(
    `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n${toXml(root, { closeEmptyElements: true }).replaceAll(']]>', ']]&gt;')}`,
  );

/** Text without the characters that XML 1.0 (section 2.2) cannot hold. */
export const xmlText = (text: string): string =>
  text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');

/** Words as an attribute's value between double quotes. */
export const escapeAttribute = (words: string): string => escapeText(words).replaceAll('"', '&quot;');

/** Words between tags. */
export const escapeText = (words: string): string =>
  xmlText(words).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/** Elements as source that goes into a part. */
export const xmlSource = (elements: readonly Nodes[]): string =>
  elements
    .map((element) => toXml(element, { closeEmptyElements: true, allowDangerousXml: true }))
    .join('')
    .replaceAll(']]>', ']]&gt;');
