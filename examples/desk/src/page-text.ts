/** What ends the words before it. */
const blocks = 'p, h1, h2, h3, h4, h5, h6, li, td, th, pre, blockquote, figcaption, article';
/** What the desk itself puts on the page. */
const own = '.kept, .pointer, .reading-on';

/** As long as what it folds, so that positions stay right. */
export const fold = (words: string): string =>
  [...words]
    .map((character) => (character.toLowerCase().length === character.length ? character.toLowerCase() : character))
    .join('');

/** A pattern of words one after another, whatever space or line ends lie between them. */
const patternOf = (words: readonly string[]): RegExp =>
  new RegExp(words.map((word) => fold(word).replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')).join('\\s+'), 'g');

/** The words of a page as one, to find in them across paragraphs, cells and formatting. */
export class PageText {
  readonly #words: string;
  readonly #nodes: readonly Text[];
  /** Where the words of each node begin. */
  readonly #starts: readonly number[];

  constructor(page: HTMLElement) {
    const [nodes, starts]: [Text[], number[]] = [[], []];
    let words = '';
    let before: Element | null | undefined;
    const walker = document.createTreeWalker(page, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT, (node) =>
      node instanceof Element
        ? node.matches(own)
          ? NodeFilter.FILTER_REJECT
          : NodeFilter.FILTER_SKIP
        : NodeFilter.FILTER_ACCEPT,
    );
    for (let node = walker.nextNode() as Text | null; node; node = walker.nextNode() as Text | null) {
      const block = node.parentElement?.closest(blocks);
      if (block !== before) words += '\n';
      before = block;
      nodes.push(node);
      starts.push(words.length);
      words += fold(node.data);
    }
    this.#words = words;
    this.#nodes = nodes;
    this.#starts = starts;
  }

  /** Where words stand, at most `most` times; from an element of the page on, where one is given. */
  find(words: readonly string[], most: number, after?: Element): Range[] {
    const found: Range[] = [];
    if (words.length === 0) return found;
    const pattern = patternOf(words);
    pattern.lastIndex = after ? this.#startOf(after) : 0;
    for (let match = pattern.exec(this.#words); match && found.length < most; match = pattern.exec(this.#words)) {
      const range = document.createRange();
      const end = match.index + match[0].length;
      range.setStart(...this.#at(match.index));
      const [last, offset] = this.#at(end - 1);
      range.setEnd(last, offset + 1);
      found.push(range);
    }
    return found;
  }

  #startOf(element: Element): number {
    const node = this.#nodes.findIndex((each) => element.contains(each));
    return this.#starts[node] ?? 0;
  }

  /** The node of a position, and where in it that is. */
  #at(position: number): [Text, number] {
    let [low, high] = [0, this.#starts.length - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if ((this.#starts[middle] ?? 0) <= position) low = middle;
      else high = middle - 1;
    }
    return [this.#nodes[low] as Text, position - (this.#starts[low] ?? 0)];
  }
}
