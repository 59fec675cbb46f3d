import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { contentPart, namespaces } from '../package.ts';

/** An element of the content part: its whole extent, and the range between its tags. */
interface Place {
  readonly start: number;
  readonly innerStart: number;
  innerEnd: number;
  end: number;
}

/** What inserting has to know of a document's content as a whole, heard in one pass over it. */
export class ContentFacts implements XmlHandler {
  /** Where the starts and ends of bookmarks are, by their names (6.2.1). */
  readonly bookmarks = new Map<string, Extent[]>();
  /** The style of the first heading of each level. */
  readonly headings = new Map<string, string>();
  /** The styles of lists, in reading order. */
  readonly lists = new Set<string>();
  /** The style of the first paragraph that a list item begins with. */
  listParagraph: string | undefined;
  /** The styles of the first heading cell, and of the first other cell, of the first table. */
  headCell: string | undefined;
  bodyCell: string | undefined;
  /** The text of the document (ISO/IEC 26300-1, 3.4), and its list of tracked changes (5.5.1). */
  body: Place | undefined;
  changes: Place | undefined;
  /** Where the forms of the text end, or the text begins: a list of tracked changes stands there. */
  formsEnd = 0;
  /** The highest number of a change of ours, and of a picture, note or table. */
  lastChange = 0;
  lastNumber = 0;
  readonly #open: { readonly name: string; readonly place: Place }[] = [];
  #start = 0;
  #end = 0;
  #tables = 0;
  /** The name of the last bookmark's start or end, which holds nothing. */
  #bookmark = '';

  constructor(text: string) {
    scanXmlText(text, contentPart, namespaces, this);
  }

  at(start: number, end: number): void {
    this.#start = start;
    this.#end = end;
  }

  open(name: string, a: Attributes): void {
    const around = this.#open.at(-1)?.name;
    const place = { start: this.#start, innerStart: this.#end, innerEnd: this.#end, end: this.#end };
    this.#open.push({ name, place });
    if (name === 'office:text' && around === 'office:body') {
      this.body = place;
      this.formsEnd = this.#end;
    }
    if (name === 'text:tracked-changes') this.changes = place;
    if (name === 'table:table') this.#tables++;
    this.#bookmark = a['text:name'] ?? '';
    this.#hearStyle(name, around, a);
    this.lastChange = Math.max(this.lastChange, numberBehind(changeName, a['text:id']));
    for (const [key, lead] of numbered) this.lastNumber = Math.max(this.lastNumber, numberBehind(lead, a[key]));
  }

  #hearStyle(name: string, around: string | undefined, a: Attributes): void {
    const style = a['text:style-name'] ?? a['table:style-name'];
    if (style === undefined) return;
    const level = a['text:outline-level'] ?? '';
    if (name === 'text:h' && !this.headings.has(level)) this.headings.set(level, style);
    if (name === 'text:list') this.lists.add(style);
    if (name === 'text:p' && around === 'text:list-item') this.listParagraph ??= style;
    if (name !== 'table:table-cell' || this.#tables !== 1) return;
    const isHead = this.#open.some((each) => each.name === 'table:table-header-rows');
    if (isHead) this.headCell ??= style;
    else this.bodyCell ??= style;
  }

  #noteBookmark(start: number): void {
    this.bookmarks.set(this.#bookmark, [...(this.bookmarks.get(this.#bookmark) ?? []), { start, end: this.#end }]);
  }

  close(name: string): void {
    const { place } = this.#open.pop() ?? {};
    if (!place) return;
    if (name === 'text:bookmark-start' || name === 'text:bookmark-end') this.#noteBookmark(place.start);
    place.innerEnd = this.#start;
    place.end = this.#end;
    if (name === 'office:forms' && this.#open.at(-1)?.name === 'office:text') this.formsEnd = this.#end;
  }
}

/** What the ids of our own changes begin with. */
export const changeName = 'drawer-change-';
const numbered = [
  ['text:id', 'drawer-note-'],
  ['draw:name', 'Picture '],
  ['table:name', 'Drawer'],
] as const;

const numberBehind = (lead: string, name: string | undefined): number =>
  name?.startsWith(lead) && /^\d{1,9}$/.test(name.slice(lead.length)) ? Number(name.slice(lead.length)) : 0;
