import { declarations } from './css.ts';
import { attribute, type Element, elementsIn, isElement } from './dom.ts';

/** The elements that hold the texts of footnotes, by id. */
export type NoteTexts = ReadonlyMap<string, Element>;

/**
 * Footnotes as DPUB-ARIA marks them, the items of an element with the role `doc-endnotes`; and as word processors write
 * them: elements of `mso-element: footnote`, or with ids such as `sdfootnote1`.
 */
export function findNoteTexts(elements: readonly Element[]): NoteTexts {
  const found = new Map<string, Element>();
  for (const element of elements) {
    const id = attribute(element, 'id');
    if (attribute(element, 'role') === 'doc-endnotes') {
      for (const item of elementsIn(element.childNodes.filter(isElement))) {
        const own = attribute(item, 'id');
        if (item.tagName === 'li' && own !== undefined) found.set(own, item);
      }
    } else if (id !== undefined && (isProcessorNote(element) || /^sd(?:foot|end)note\d+$/.test(id)))
      found.set(id, element);
  }
  return found;
}

function isProcessorNote(element: Element): boolean {
  const style = attribute(element, 'style');
  return (
    style?.includes('mso-element') === true && /^(?:foot|end)note$/.test(declarations(style).get('mso-element') ?? '')
  );
}

/** The text of the note that a link refers to. */
export function findNote(link: Element, notes: NoteTexts): Element | undefined {
  const target = attribute(link, 'href')?.slice(1) ?? '';
  if (attribute(link, 'role') === 'doc-noteref') return notes.get(target);
  const [, ofProcessor] = /^_((?:ftn|edn)\d+)$/.exec(target) ?? [];
  const [, ofSuite] = /^(sd(?:foot|end)note\d+)sym$/.exec(target) ?? [];
  return notes.get(ofProcessor ?? ofSuite ?? '');
}

/** A link from a note back to where it is referred to. */
export const isBackLink = (link: Element): boolean =>
  attribute(link, 'role') === 'doc-backlink' ||
  /^#(?:_(?:ftn|edn)ref\d+|sd(?:foot|end)note\d+anc)$/.test(attribute(link, 'href') ?? '');

/** Whether an element is read where it is referred to, or only parts such elements from the text. */
export function isNoteText(element: Element, notes: NoteTexts): boolean {
  if (notes.size === 0) return false;
  if (attribute(element, 'role') === 'doc-endnotes') return true;
  const id = attribute(element, 'id');
  return id !== undefined && element.tagName !== 'li' && notes.get(id) === element;
}

/** Where the part of a page that was copied begins and ends: what stands around it is only there to parse. */
export class FragmentMarks {
  #isInside: boolean;

  constructor(elementsHaveMarks: boolean) {
    this.#isInside = !elementsHaveMarks;
  }

  get isInside(): boolean {
    return this.#isInside;
  }

  hear(comment: string): void {
    if (comment.trim() === 'StartFragment') this.#isInside = true;
    if (comment.trim() === 'EndFragment') this.#isInside = false;
  }
}
