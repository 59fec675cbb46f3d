import type { Drawer } from 'drawer';
import { make } from './element.ts';
import type { Say } from './words/index.ts';

/** In CSS pixels, with the space between two. */
const markHeight = 22;

/** A number in the margin, and the snippet it stands for. */
interface KeptMark {
  readonly id: string;
  readonly mark: HTMLElement;
  readonly beside: Range;
}

/** Marks in the margin of a page what was kept of it, with the number that the snippet has now. */
export class KeptMarks {
  readonly #drawer: Drawer;
  readonly #say: Say;
  #marks: readonly KeptMark[] = [];

  constructor(drawer: Drawer, say: Say) {
    this.#drawer = drawer;
    this.#say = say;
    drawer.watch(() => void this.#renew());
  }

  /** Marks a part of a page as kept. */
  add(page: HTMLElement, beside: Range, id: string, position: number): void {
    const mark = make('span', { class: 'kept' });
    this.#name(mark, position);
    page.append(mark);
    this.#marks = [...this.#marks, { id, mark, beside }];
    this.#put(page, mark, beside);
  }

  #name(mark: HTMLElement, position: number): void {
    mark.textContent = String(position);
    mark.title = this.#say('kept', { number: position });
  }

  #put(page: HTMLElement, mark: HTMLElement, beside: Range): void {
    const top = Math.round(beside.getBoundingClientRect().top - page.getBoundingClientRect().top);
    // What was kept at the same place stands below.
    const others = [...page.querySelectorAll<HTMLElement>(':scope > .kept')].filter((each) => each !== mark);
    let free = top;
    while (others.some((each) => Math.abs(Number.parseInt(each.style.insetBlockStart, 10) - free) < markHeight))
      free += markHeight;
    mark.style.insetBlockStart = `${free}px`;
  }

  async #renew(): Promise<void> {
    const gone = new Set<KeptMark>();
    for (const each of this.#marks) {
      const position = await this.#drawer.positionOf(each.id).catch(() => undefined);
      if (position !== undefined) this.#name(each.mark, position);
      else gone.add(each);
    }
    for (const { mark } of gone) mark.remove();
    this.#marks = this.#marks.filter((each) => !gone.has(each));
  }

  /** Puts the marks of a page where their parts are now, after its width changed. */
  layOut(page: HTMLElement): void {
    for (const { mark, beside } of this.#marks) if (page.contains(mark)) this.#put(page, mark, beside);
  }
}
