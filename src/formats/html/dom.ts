import type { DefaultTreeAdapterTypes } from 'parse5';
import { isSafeHref } from '../../content/index.ts';

export type Node = DefaultTreeAdapterTypes.ChildNode;
export type Element = DefaultTreeAdapterTypes.Element;

export const isElement = (node: Node): node is Element => 'tagName' in node;
export const isText = (node: Node): node is DefaultTreeAdapterTypes.TextNode => node.nodeName === '#text';

export const attribute = (element: Element, name: string): string | undefined =>
  element.attrs.find((each) => each.name === name)?.value;

/** Every element below, in document order, without recursion. */
export function* elementsIn(nodes: readonly Node[]): Generator<Element> {
  const stack = [...nodes].reverse();
  for (let node = stack.pop(); node; node = stack.pop()) {
    if (!isElement(node)) continue;
    yield node;
    for (let index = node.childNodes.length - 1; index >= 0; index--) stack.push(node.childNodes[index] as Node);
  }
}

export function textOf(element: Element): string {
  return element.childNodes.map((node) => (isText(node) ? node.value : isElement(node) ? textOf(node) : '')).join('');
}

/** An address made whole from where its page is; `undefined` for those that lead nowhere safe. */
export function absolute(href: string | undefined, base: string | undefined, also?: RegExp): string | undefined {
  if (href === undefined) return undefined;
  const trimmed = href.trim();
  if (isSafeHref(trimmed) || also?.test(trimmed)) return trimmed;
  try {
    const { href: whole } = new URL(trimmed, base);
    return isSafeHref(whole) ? whole : undefined;
  } catch {
    return undefined; // relative, and the page's own address is not known
  }
}
