import type { Point, Trace } from '../../trace.ts';
import type { Attributes } from '../../xml/read-xml.ts';

/** Follows bookmarks (ISO/IEC 29500-1, 17.13.6), which may begin and end between paragraphs too. */
export class Bookmarks {
  readonly #trace: Trace | undefined;
  readonly #names = new Map<string, string>();
  /** Those that begin between paragraphs: at the start of the next. */
  #waiting: string[] = [];
  /** The end of the last paragraph. */
  #last: Point | undefined;

  constructor(trace: Trace | undefined) {
    this.#trace = trace;
  }

  start(attributes: Attributes, point: Point | undefined): void {
    const name = attributes['w:name'] ?? '';
    this.#names.set(attributes['w:id'] ?? '', name);
    if (point) this.#trace?.bookmarks.set(name, { start: point, end: point });
    else this.#waiting.push(name);
  }

  end(attributes: Attributes, point: Point | undefined): void {
    const bookmark = this.#trace?.bookmarks.get(this.#names.get(attributes['w:id'] ?? '') ?? '');
    const end = point ?? this.#last;
    if (bookmark && end) bookmark.end = end;
  }

  openParagraph(point: Point | undefined): void {
    for (const name of this.#waiting) if (point) this.#trace?.bookmarks.set(name, { start: point, end: point });
    this.#waiting = [];
  }

  closeParagraph(point: Point | undefined): void {
    this.#last = point;
  }
}
