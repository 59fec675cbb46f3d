import type { Element as HastElement, Nodes } from 'hast';
import { find, html } from 'property-information';
import type { Content, Media } from '../../content/index.ts';
import { fragmentNodes } from '../../formats/html/index.ts';

/** How much of something large a slip shows. */
const most = { rows: 8, columns: 6, blocks: 12 } as const;

/** The beginning of content, as much as a slip has room for. */
export function beginningOf(content: Content): Content {
  if (content.shape === 'cells') {
    const rows = content.rows.slice(0, most.rows).map((row) => row.slice(0, most.columns));
    const { columnWidths: _, ...rest } = content;
    return { ...rest, rows };
  }
  if (content.shape !== 'blocks') return content;
  const blocks = content.blocks.slice(0, most.blocks).map((block) => {
    if (block.type === 'table') {
      const { columnWidths: _, ...table } = block;
      return {
        ...table,
        rows: block.rows.slice(0, most.rows).map(({ cells }) => ({ cells: cells.slice(0, most.columns) })),
      };
    }
    return block.type === 'list' ? { ...block, items: block.items.slice(0, most.rows) } : block;
  });
  return { shape: 'blocks', blocks };
}

/**
 * Content as nodes to look at: made from the content alone, never by reading markup, so that a page's security policy has
 * nothing to object to. Links and boxes are drawn, and do nothing.
 */
export function previewOf(content: Content, media: Media, page: Document = document): DocumentFragment {
  const fragment = page.createDocumentFragment();
  for (const node of fragmentNodes(content, media)) append(fragment, node, page);
  return fragment;
}

function append(parent: Node, node: Nodes, page: Document): void {
  if (node.type === 'text') parent.appendChild(page.createTextNode(node.value));
  if (node.type !== 'element') return;
  if (node.tagName === 'input') {
    parent.appendChild(page.createTextNode(node.properties.checked ? '☑' : '☐'));
    return;
  }
  const isLink = node.tagName === 'a';
  const element = page.createElement(isLink ? 'span' : node.tagName);
  if (isLink) element.className = 'link';
  else setProperties(element, node);
  for (const child of node.children) append(element, child, page);
  parent.appendChild(element);
}

/** What is drawn by; names and addresses are of no use here. */
const drawn = /^(?:src|alt|width|height|colspan|rowspan|start|type|dir|lang)$/;

function setProperties(element: HTMLElement, { properties }: HastElement): void {
  for (const [property, value] of Object.entries(properties)) {
    const { attribute } = find(html, property);
    // A style attribute is forbidden by strict policies; the object model is not (CSP 3, section 6.1.13).
    if (attribute === 'style') element.style.cssText = String(value);
    else if (drawn.test(attribute) && value !== null && value !== undefined && value !== false)
      element.setAttribute(attribute, String(value));
  }
}
