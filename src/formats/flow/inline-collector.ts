import { type Inline, inlineUnits, inOneLine, joinText, lineBreak, type Marks, text } from '../../content/index.ts';
import type { Extent, Piece, SourceNode } from '../trace.ts';

/** White space that HTML folds: other spaces, such as the no-break space, are characters like any other. */
const foldable = /[ \t\n\f\r]+/g;

/** Where an inline was read from. */
export interface InlineSource {
  readonly extent: Extent;
  readonly owner: SourceNode;
}

interface Gathered {
  inline: Inline;
  readonly source: InlineSource | undefined;
}

/** A finished paragraph's inlines, and where each stretch of them came from, as far as that was told. */
export interface Collected {
  readonly inlines: Inline[];
  readonly pieces: readonly Piece[];
}

/**
 * Gathers the inlines of one paragraph and folds their white space as a browser shows it (CSS Text, section 4.1), which is
 * also how OpenDocument has it (ISO/IEC 26300-1, section 6.1.2).
 */
export class InlineCollector {
  #gathered: Gathered[] = [];
  /** Whether a space here would follow another, or stand at the start of a line. */
  #afterSpace = true;
  /** Whether the last inline ends with a space that goes if the line ends here. */
  #endsWithFoldedSpace = false;

  get isEmpty(): boolean {
    return this.#gathered.length === 0;
  }

  /** How many units of flat text are gathered. */
  get units(): number {
    return this.#gathered.reduce((units, { inline }) => units + inlineUnits(inline).length, 0);
  }

  addText(words: string, marks: Marks, keepsSpaces: boolean, source?: InlineSource): void {
    if (keepsSpaces) return this.#addLines(words, marks, source);
    let folded = inOneLine(words.replace(foldable, ' '));
    if (this.#afterSpace && folded.startsWith(' ')) folded = folded.slice(1);
    if (folded === '') return;
    this.#gathered.push({ inline: text(folded, marks), source });
    this.#afterSpace = folded.endsWith(' ');
    this.#endsWithFoldedSpace = this.#afterSpace;
  }

  #addLines(words: string, marks: Marks, source: InlineSource | undefined): void {
    words.split(/\r\n|[\n\r\f]/).forEach((line, index) => {
      if (index > 0) this.#gathered.push({ inline: lineBreak, source: undefined });
      const clean = inOneLine(line);
      if (clean !== '') this.#gathered.push({ inline: text(clean, marks), source });
    });
    this.#afterSpace = false;
    this.#endsWithFoldedSpace = false;
  }

  addBreak(source?: InlineSource): void {
    this.#dropFoldedSpace();
    this.#gathered.push({ inline: lineBreak, source });
    this.#afterSpace = true;
    this.#endsWithFoldedSpace = false;
  }

  add(inline: Inline, source?: InlineSource): void {
    this.#gathered.push({ inline, source });
    this.#afterSpace = false;
    this.#endsWithFoldedSpace = false;
  }

  /**
   * The paragraph so far; `undefined` when there is nothing to see. A break at its very end shows nothing of its own, but
   * where the format says otherwise.
   */
  finish({ keepsBreak = false } = {}): Collected | undefined {
    this.#dropFoldedSpace();
    const gathered = this.#gathered;
    this.#gathered = [];
    this.#afterSpace = true;
    this.#endsWithFoldedSpace = false;
    if (gathered.length === 0) return undefined;
    if (!keepsBreak && gathered.at(-1)?.inline.type === 'break') gathered.pop();
    return { inlines: joinText(gathered.map(({ inline }) => inline)), pieces: gathered.flatMap(pieceOf) };
  }

  #dropFoldedSpace(): void {
    if (!this.#endsWithFoldedSpace) return;
    const last = this.#gathered.pop();
    if (last?.inline.type === 'text' && last.inline.text !== ' ')
      this.#gathered.push({ ...last, inline: { ...last.inline, text: last.inline.text.slice(0, -1) } });
  }
}

function pieceOf({ inline, source }: Gathered): Piece[] {
  if (!source) return [];
  const { extent, owner } = source;
  const units = inlineUnits(inline).length;
  return [{ ...extent, owner, units, ...(inline.type === 'text' && { words: inline.text }) }];
}
