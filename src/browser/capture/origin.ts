import { type Origin, originOf } from '../../drawer/index.ts';
import { frameAround } from '../dom.ts';
import { elementOf } from './snapshot.ts';

const headings = 'h1, h2, h3, h4, h5, h6, [role="heading"]';

/** Where something on a page is from: its title, its address without what comes after the `#`, and the heading above it. */
export function originOnPage(node: Node): Origin {
  const { title, location } = node.ownerDocument ?? document;
  const url = /^https?:$/.test(location.protocol) ? location.href.replace(/#.*$/s, '') : undefined;
  const frame = frameAround(node);
  // The frame of an editor has no address of its own. Its content comes from the page around it.
  const around = frame && url === undefined ? originOnPage(frame) : {};
  return originOf({ ...around, ...originOf({ title: title.trim(), url, place: headingAbove(node) }) });
}

/** The words of the nearest heading in front of it, or that it lies in. */
export function headingAbove(node: Node): string | undefined {
  const element = elementOf(node);
  const inside = element?.closest(headings);
  if (inside) return wordsOf(inside);
  const root = node.getRootNode() as Document | ShadowRoot;
  const before = [...root.querySelectorAll(headings)].filter(
    (heading) => heading.compareDocumentPosition(node) & Node.DOCUMENT_POSITION_FOLLOWING && isShown(heading),
  );
  const last = before.at(-1);
  return last && wordsOf(last);
}

const isShown = (element: Element): boolean => element.getClientRects().length > 0;
const wordsOf = (element: Element): string | undefined =>
  element.textContent?.replace(/\s+/g, ' ').trim().slice(0, 200) || undefined;
