import type { DefaultTreeAdapterTypes } from 'parse5';

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
