import type { Element, ElementContent } from 'xast';
import { checkBound } from '../bounds.ts';

type Child = ElementContent | string | undefined | readonly Child[];

/**
 * An element of a tree (xast); attributes and children that are `undefined` are left out. Our own, since a document has a
 * hundred thousand elements.
 */
export function x(
  name: string,
  attributes: Readonly<Record<string, string | undefined>> = {},
  ...children: readonly Child[]
): Element {
  const own: Record<string, string> = {};
  for (const key in attributes) {
    const value = attributes[key];
    if (value !== undefined) own[key] = value;
  }
  const inside: ElementContent[] = [];
  for (const child of children) addTo(inside, child);
  return { type: 'element', name, attributes: own, children: inside };
}

function addTo(inside: ElementContent[], child: Child): void {
  if (child === undefined) return;
  if (typeof child === 'string') inside.push({ type: 'text', value: child });
  else if ('type' in child) inside.push(child);
  else for (const each of child) addTo(inside, each);
}

/** A table asked for names that stand in files: it knows none but its own, not those that every object has. */
export const nullPrototype = <T>(entries: Readonly<Record<string, T>>): Readonly<Record<string, T>> =>
  Object.assign(Object.create(null) as Record<string, T>, entries);

/** Of one tag, or of the text between two, in bytes or UTF-16 units. @throws DrawerError `too-large` */
export const checkLength = (length: number, part: string): void => checkBound('xmlLength', length, part);

/** @throws DrawerError `too-large` */
export const checkDepth = (depth: number, part: string): void => checkBound('xmlDepth', depth, part);

/** The start tag of a part's root element; the empty string where there is none. */
export const rootTag = (text: string): string =>
  /^(?:[^<]*(?:<\?[\s\S]*?\?>|<!--[\s\S]*?-->|<!DOCTYPE[^>]*>))*[^<]*(<[^\s/>!?]+(?:[^"'>]|"[^"]*"|'[^']*')*>)/.exec(
    text,
  )?.[1] ?? '';

/** Declares prefixes of ours on elements that go into a part, where the part does not declare them the same. */
export class Declarations {
  readonly #missing: readonly { readonly prefix: string; readonly use: RegExp; readonly declaration: string }[];

  constructor(part: string, namespaces: Readonly<Record<string, string>>) {
    const root = rootTag(part);
    this.#missing = Object.entries(namespaces)
      .filter(([name, uri]) => name.startsWith('xmlns:') && !root.includes(`${name}="${uri}"`))
      .map(([name, uri]) => ({
        prefix: name.slice('xmlns:'.length),
        use: new RegExp(`[<\\s/]${name.slice('xmlns:'.length)}:`),
        declaration: ` ${name}="${uri}"`,
      }));
  }

  /** The source of one element, with what it needs. */
  on(source: string): string {
    const missing = this.#missing
      .filter(({ prefix, use }) => source.includes(`${prefix}:`) && use.test(source))
      .map(({ declaration }) => declaration)
      .join('');
    return missing === '' ? source : source.replace(/^<[\w.:-]+/, `$&${missing}`);
  }
}

const named: Readonly<Record<string, string>> = nullPrototype({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" });

/** Character references (XML 1.0, section 4.1), and line ends as XML reads them (section 2.11). */
export function decodeReferences(text: string): string {
  const lines = text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text;
  return lines.includes('&')
    ? lines.replace(/&(?:#x([0-9a-fA-F]{1,6})|#(\d{1,7})|(amp|lt|gt|quot|apos));/g, (whole, hex, digits, name) => {
        if (name !== undefined) return named[name] ?? whole;
        const point = hex === undefined ? Number(digits) : Number.parseInt(hex, 16);
        return point > 0 && point <= 0x10ffff ? String.fromCodePoint(point) : whole;
      })
    : lines;
}
