import type { Element, ElementContent } from 'xast';
import { x } from '../../xml/element.ts';

/** Who put something in, and when (ISO/IEC 29500-1, 17.13.5). */
export interface Tracking {
  readonly author: string;
  /** ISO 8601. */
  readonly date: string | undefined;
  /** The next id that no change of the document has. */
  nextId(): number;
}

const mark = (name: string, { author, date, nextId }: Tracking, children: readonly ElementContent[] = []): Element =>
  x(
    name,
    { 'w:id': String(nextId()), 'w:author': author, 'w:date': date?.replace(/\.\d+Z$/, 'Z') },
    children as Element[],
  );

/** Elements of our own writing, changed in place, as an insertion that somebody may accept or reject. */
export function asInsertion(elements: readonly Element[], tracking: Tracking): readonly Element[] {
  return elements.map((element) => tracked(element, tracking));
}

function tracked(element: Element, tracking: Tracking): Element {
  if (element.name === 'w:r') return mark('w:ins', tracking, [element]);
  element.children = element.children.map((child) =>
    child.type === 'element' ? tracked(child, tracking) : child,
  ) as Element['children'];
  if (element.name === 'w:p') markParagraph(element, tracking);
  if (element.name === 'w:tr') markRow(element, tracking);
  return element;
}

/** The end of the paragraph is new too (17.13.5.20). */
function markParagraph(paragraph: Element, tracking: Tracking): void {
  const [first] = paragraph.children;
  const properties = first?.type === 'element' && first.name === 'w:pPr' ? first : x('w:pPr');
  if (properties !== first) paragraph.children.unshift(properties);
  properties.children.push(x('w:rPr', {}, [mark('w:ins', tracking)]));
}

/** A row (17.13.5.16). */
function markRow(row: Element, tracking: Tracking): void {
  const [first] = row.children;
  const properties = first?.type === 'element' && first.name === 'w:trPr' ? first : x('w:trPr');
  if (properties !== first) row.children.unshift(properties);
  properties.children.push(mark('w:ins', tracking));
}
