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

/** What shown content does: `live` links can be followed; otherwise they are drawn, and do nothing. */
export interface ShowOptions {
  readonly live?: boolean;
}

/**
 * Content as nodes to look at: made from the content alone, never by reading markup, so that a page's security policy has
 * nothing to object to (Trusted Types; CSP 3 without `unsafe-inline`).
 */
export function showContent(content: Content, media: Media, { live = false }: ShowOptions = {}): DocumentFragment {
  const fragment = document.createDocumentFragment();
  for (const node of fragmentNodes(content, media)) append(fragment, node, live);
  return fragment;
}

function append(parent: Node, node: Nodes, live: boolean): void {
  if (node.type === 'text') parent.appendChild(document.createTextNode(node.value));
  if (node.type !== 'element') return;
  if (node.tagName === 'input' && !live) {
    parent.appendChild(document.createTextNode(node.properties.checked ? '☑' : '☐'));
    return;
  }
  const isDrawnLink = node.tagName === 'a' && !live;
  const element = document.createElement(isDrawnLink ? 'span' : node.tagName);
  if (isDrawnLink) element.className = 'link';
  else setProperties(element, node, live);
  for (const child of node.children) append(element, child, live);
  parent.appendChild(element);
}

/** What is drawn by; names and addresses are of no use in a picture of content. */
const drawn = /^(?:src|alt|width|height|colspan|rowspan|start|type|dir|lang)$/;
const working = /^(?:href|title|id|role|checked|disabled|data-.+)$/;

function setProperties(element: HTMLElement, { properties }: HastElement, live: boolean): void {
  for (const [property, value] of Object.entries(properties)) {
    const { attribute } = find(html, property);
    // A style attribute is forbidden by strict policies; the object model is not (CSP 3, section 6.1.13).
    if (attribute === 'style') element.style.cssText = String(value);
    else if (value === null || value === undefined || value === false) continue;
    else if (drawn.test(attribute) || (live && working.test(attribute)))
      element.setAttribute(attribute, value === true ? '' : String(value));
  }
}
