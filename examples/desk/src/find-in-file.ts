import { element } from './element.ts';
import type { Say } from './words/index.ts';

/** How many finds are marked. */
const most = 1_000;

/** Finds words in the page that is shown: every find is marked, Enter goes to the next one and Shift+Enter back. */
export class FindInFile {
  readonly #page: () => HTMLElement | undefined;
  readonly #say: Say;
  readonly #field = element('find', HTMLInputElement);
  readonly #told = element('found', HTMLOutputElement);
  #finds: readonly Range[] = [];
  #at = -1;

  constructor(page: () => HTMLElement | undefined, say: Say) {
    this.#page = page;
    this.#say = say;
    this.#field.placeholder = say('findInFile');
    this.#field.addEventListener('input', () => this.#find());
    this.#field.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') this.clear();
      else if (event.key === 'Enter') this.#go(event.shiftKey ? -1 : 1);
      else return;
      event.preventDefault();
    });
  }

  clear(): void {
    this.#field.value = '';
    this.#find();
  }

  #find(): void {
    const words = fold(this.#field.value.trim());
    const page = this.#page();
    this.#finds = words === '' || !page ? [] : rangesOf(page, words);
    this.#at = -1;
    CSS.highlights?.set('found', new Highlight(...this.#finds));
    CSS.highlights?.delete('found-now');
    if (this.#finds.length > 0) this.#go(1);
    else this.#told.textContent = words === '' ? '' : this.#say('notInFile');
  }

  #go(step: number): void {
    const count = this.#finds.length;
    if (count === 0) return;
    this.#at = (this.#at + step + count) % count;
    const range = this.#finds[this.#at];
    if (!range) return;
    CSS.highlights?.set('found-now', new Highlight(range));
    range.startContainer.parentElement?.scrollIntoView({ block: 'center' });
    this.#told.textContent = this.#say('foundInFile', { at: this.#at + 1, count });
  }
}

/** As long as what it folds, so that positions stay right. */
const fold = (words: string): string =>
  [...words]
    .map((character) => (character.toLowerCase().length === character.length ? character.toLowerCase() : character))
    .join('');

function rangesOf(page: HTMLElement, words: string): Range[] {
  const found: Range[] = [];
  const walker = document.createTreeWalker(page, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node && found.length < most; node = walker.nextNode()) {
    const text = fold(node.nodeValue ?? '');
    for (let at = text.indexOf(words); at >= 0 && found.length < most; at = text.indexOf(words, at + words.length)) {
      const range = document.createRange();
      range.setStart(node, at);
      range.setEnd(node, at + words.length);
      found.push(range);
    }
  }
  return found;
}
