import { nullPrototype } from '../xml/element.ts';
import type { Element } from './dom.ts';
import type { BlockReader } from './read-blocks.ts';
import type { Surroundings } from './surroundings.ts';

/** Elements left out with all that is in them. */
export const dropped = new Set([
  'script',
  'style',
  'head',
  'title',
  'template',
  'noscript',
  'iframe',
  'object',
  'embed',
  'audio',
  'video',
  'canvas',
  'svg',
  'math',
  'input',
  'button',
  'select',
  'textarea',
  'rt',
  'rp',
]);
type Reader = (reader: BlockReader, element: Element, around: Surroundings) => void;

const container: Reader = (reader, element, around) => reader.readContainer(element, around);
const heading: Reader = (reader, element, around) => reader.readHeading(element, around);
const list: Reader = (reader, element, around) => reader.readList(element, around);

const containers = [
  'p',
  'div',
  'section',
  'article',
  'main',
  'header',
  'footer',
  'nav',
  'aside',
  'figure',
  'figcaption',
  'address',
  'details',
  'summary',
  'dl',
  'dt',
  'dd',
  'fieldset',
  'form',
  'legend',
  'center',
  'body',
  'html',
  'hgroup',
  'li',
];

/** One reader an element; those not listed are read through. */
export const readers: Readonly<Record<string, Reader>> = nullPrototype({
  ...Object.fromEntries(containers.map((tag) => [tag, container])),
  ...Object.fromEntries(['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((tag) => [tag, heading])),
  ...Object.fromEntries(['ul', 'ol', 'menu'].map((tag) => [tag, list])),
  a: (reader, element, around) => reader.readLink(element, around),
  br: (reader, element, around) => reader.readBreak(element, around),
  img: (reader, element, around) => reader.readPicture(element, around),
  blockquote: (reader, element, around) => reader.readQuote(element, around),
  pre: (reader, element, around) => reader.readCode(element, around),
  hr: (reader, element, around) => reader.readRule(element, around),
  table: (reader, element, around) => reader.readTable(element, around),
});
