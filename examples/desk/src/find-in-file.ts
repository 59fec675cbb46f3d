import { element } from './element.ts';
import type { Say } from './words/index.ts';

/** How many finds are marked. */
export const mostFinds = 1_000;
/** How long nobody types before a search begins, in milliseconds. */
const pause = 150;

/** One place where the words stand. */
export interface Find {
  /** Brings it into sight. */
  go(): void | Promise<void>;
  /** Where it is on the page, for what is laid out there. */
  readonly range?: Range;
}

/** Finds words in the file that is shown: every find is marked, Enter goes to the next one and Shift+Enter back. */
export class FindInFile {
  readonly #search: (words: readonly string[]) => Promise<readonly Find[]>;
  readonly #say: Say;
  readonly #field = element('find', HTMLInputElement);
  readonly #told = element('found', HTMLOutputElement);
  #finds: readonly Find[] = [];
  #at = -1;
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** What is being looked for, until it is found or something else is. */
  #searched: object | undefined;

  constructor(search: (words: readonly string[]) => Promise<readonly Find[]>, say: Say) {
    this.#search = search;
    this.#say = say;
    this.#field.placeholder = say('findInFile');
    this.#field.addEventListener('input', () => {
      clearTimeout(this.#timer);
      this.#timer = setTimeout(() => void this.#find(), pause);
    });
    this.#field.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') this.clear();
      else if (event.key === 'Enter') void this.#go(event.shiftKey ? -1 : 1);
      else return;
      event.preventDefault();
    });
  }

  clear(): void {
    this.#field.value = '';
    clearTimeout(this.#timer);
    void this.#find();
  }

  async #find(): Promise<void> {
    const words = this.#field.value.split(/\s+/).filter((word) => word !== '');
    const searched = {};
    this.#searched = searched;
    if (words.length > 0) this.#told.textContent = this.#say('finding');
    const finds = words.length === 0 ? [] : await this.#search(words).catch(() => []);
    if (this.#searched !== searched) return;
    this.#finds = finds;
    this.#at = -1;
    CSS.highlights?.set('found', new Highlight(...finds.flatMap(({ range }) => range ?? [])));
    CSS.highlights?.delete('found-now');
    if (finds.length > 0) await this.#go(1);
    else this.#told.textContent = words.length === 0 ? '' : this.#say('notInFile');
  }

  async #go(step: number): Promise<void> {
    const count = this.#finds.length;
    if (count === 0) return;
    this.#at = (this.#at + step + count) % count;
    const find = this.#finds[this.#at];
    if (find?.range) CSS.highlights?.set('found-now', new Highlight(find.range));
    await find?.go();
    this.#told.textContent = this.#say('foundInFile', { at: this.#at + 1, count });
  }
}
