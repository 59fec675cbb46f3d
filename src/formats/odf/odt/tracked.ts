import { escapeAttribute, escapeText } from '../../xml/write-xml.ts';

/** Who put something in, and when. */
interface Author {
  readonly author: string;
  /** ISO 8601. */
  readonly date: string | undefined;
}

const dublinCore = 'http://purl.org/dc/elements/1.1/';
const prefix = 'drawer-change-';

/**
 * Puts things in as insertions that somebody may accept or reject (ISO/IEC 26300-1, 5.5): marks where each begins and ends,
 * and a list of who made them. State: the regions so far.
 */
export class TrackedInsertions {
  readonly #author: Author;
  readonly #regions: string[] = [];
  #number: number;

  constructor(source: string, author: Author) {
    this.#author = author;
    this.#number = [...source.matchAll(new RegExp(`"${prefix}(\\d{1,9})"`, 'g'))].reduce(
      (most, [, each]) => Math.max(most, Number(each)),
      0,
    );
  }

  /** Source of words, or of whole paragraphs and tables, between marks. */
  around(source: string): string {
    const { start, end } = this.#marks();
    return start + source + end;
  }

  /** Source of list items: the marks stand in their first and last paragraph, since none may stand between items. */
  inItems(source: string): string {
    const first = /<text:[ph](?:\s[^<>]*)?>/.exec(source);
    const last = Math.max(source.lastIndexOf('</text:p>'), source.lastIndexOf('</text:h>'));
    const from = first ? first.index + first[0].length : -1;
    if (from < 0 || last < from) return source;
    const { start, end } = this.#marks();
    return source.slice(0, from) + start + source.slice(from, last) + end + source.slice(last);
  }

  #marks(): { readonly start: string; readonly end: string } {
    const id = `${prefix}${++this.#number}`;
    const { author, date } = this.#author;
    const when = date === undefined ? '' : `<dc:date>${escapeText(date.replace(/\.\d+Z$/, 'Z'))}</dc:date>`;
    this.#regions.push(
      `<text:changed-region xml:id="${id}" text:id="${id}"><text:insertion><office:change-info xmlns:dc="${dublinCore}"><dc:creator>${escapeText(author)}</dc:creator>${when}</office:change-info></text:insertion></text:changed-region>`,
    );
    const mark = (name: string): string => `<text:${name} text:change-id="${escapeAttribute(id)}"/>`;
    return { start: mark('change-start'), end: mark('change-end') };
  }

  /** The content part with the list of changes, which stands in front of the text, behind its forms. */
  listedIn(content: string): string {
    const regions = this.#regions.join('');
    if (regions === '') return content;
    const end = content.indexOf('</text:tracked-changes>');
    if (end >= 0) return content.slice(0, end) + regions + content.slice(end);
    const list = `<text:tracked-changes>${regions}</text:tracked-changes>`;
    const [empty] = /<text:tracked-changes(?:\s[^<>]*)?\/>/.exec(content) ?? [];
    if (empty !== undefined) return content.replace(empty, () => list);
    const open = /<office:text(?:\s[^<>]*)?>(?:\s*<office:forms(?:\s[^<>]*)?(?:\/>|>[\s\S]*?<\/office:forms>))?/.exec(
      content,
    );
    if (!open) return content;
    const at = open.index + open[0].length;
    return content.slice(0, at) + list + content.slice(at);
  }
}
