import { type Inline, joinText, lineBreak, type Marks, text } from '../../content/index.ts';

/** White space that HTML folds: other spaces, such as the no-break space, are characters like any other. */
const foldable = /[ \t\n\f\r]+/g;

/** Gathers the inlines of one paragraph and folds their white space as a browser shows it (CSS Text, section 4.1). */
export class InlineCollector {
  #inlines: Inline[] = [];
  /** Whether a space here would follow another, or stand at the start of a line. */
  #afterSpace = true;
  /** Whether the last inline ends with a space that goes if the line ends here. */
  #endsWithFoldedSpace = false;

  get isEmpty(): boolean {
    return this.#inlines.length === 0;
  }

  addText(words: string, marks: Marks, keepsSpaces: boolean): void {
    if (keepsSpaces) return this.#addLines(words, marks);
    let folded = words.replace(foldable, ' ').replace(/[\u0000-\u0008\u000b-\u001f]/g, '');
    if (this.#afterSpace && folded.startsWith(' ')) folded = folded.slice(1);
    if (folded === '') return;
    this.#inlines.push(text(folded, marks));
    this.#afterSpace = folded.endsWith(' ');
    this.#endsWithFoldedSpace = this.#afterSpace;
  }

  #addLines(words: string, marks: Marks): void {
    words.split(/\r\n|[\n\r\f]/).forEach((line, index) => {
      if (index > 0) this.#inlines.push(lineBreak);
      const clean = line.replace(/[\u0000-\u0008\u000b-\u001f]/g, '');
      if (clean !== '') this.#inlines.push(text(clean, marks));
    });
    this.#afterSpace = false;
    this.#endsWithFoldedSpace = false;
  }

  addBreak(): void {
    this.#dropFoldedSpace();
    this.#inlines.push(lineBreak);
    this.#afterSpace = true;
    this.#endsWithFoldedSpace = false;
  }

  add(inline: Inline): void {
    this.#inlines.push(inline);
    this.#afterSpace = false;
    this.#endsWithFoldedSpace = false;
  }

  /** The paragraph so far; `undefined` when there is nothing to see. A break at its very end shows nothing of its own. */
  finish(): Inline[] | undefined {
    this.#dropFoldedSpace();
    const inlines = this.#inlines;
    this.#inlines = [];
    this.#afterSpace = true;
    this.#endsWithFoldedSpace = false;
    if (inlines.length === 0) return undefined;
    if (inlines.at(-1)?.type === 'break') inlines.pop();
    return joinText(inlines);
  }

  #dropFoldedSpace(): void {
    if (!this.#endsWithFoldedSpace) return;
    const last = this.#inlines.pop();
    if (last?.type === 'text' && last.text !== ' ') this.#inlines.push({ ...last, text: last.text.slice(0, -1) });
  }
}
