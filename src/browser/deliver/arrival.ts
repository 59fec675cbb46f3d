import {
  asBlocks,
  type Block,
  type Content,
  DrawerError,
  type Inline,
  type Message,
  type Picture,
  picturesIn,
} from '../../content/index.ts';

/** What an element shows: its letters without white space, and the number of pictures. */
interface Shown {
  readonly letters: string;
  readonly pictures: number;
}

/** The visible parts of content that have not arrived. */
interface Missing {
  /** The number of paragraphs, cells and so on whose words are missing. */
  readonly pieces: number;
  readonly of: number;
  readonly pictures: number;
}

/** Elements that render only a part of their content; there, one visible piece is enough. */
const partlyShown = '.cm-content, [role="grid"], [role="treegrid"]';

const lettersOf = (words: string): string => words.replace(/[\s\u200b\ufeff]+/g, '');

function shownIn(element: Element): Shown {
  return {
    letters: lettersOf(element.textContent ?? ''),
    pictures: element.querySelectorAll('img, svg, canvas').length,
  };
}

const placeCalled = (name: string): string | Message => name || { kind: 'place.any' };

/** The error for an element that accepted nothing. */
export const tookNothing = (name: string): DrawerError =>
  new DrawerError('refused/place-took-nothing', { place: placeCalled(name) });

/**
 * Checks whether pasted content has arrived in an element. Created before the paste; the selection at that time counts as replaced.
 */
export class Arrival {
  readonly #element: Element;
  readonly #pieces: readonly string[];
  readonly #pictures: readonly Picture[];
  readonly #before: Shown;
  readonly #selected: Shown;

  constructor(element: Element, content: Content, selected: Range | undefined) {
    this.#element = element;
    this.#pieces = piecesOf(asBlocks(content))
      .map(lettersOf)
      .filter((piece) => piece !== '');
    this.#pictures = [...picturesIn(content)];
    this.#before = shownIn(element);
    const holder = element.ownerDocument.createElement('div');
    if (selected && element.contains(selected.commonAncestorContainer)) holder.append(selected.cloneContents());
    this.#selected = shownIn(holder);
  }

  /** The parts that have not arrived yet. */
  get missing(): Missing {
    const now = shownIn(this.#element);
    const wanted = new Map<string, number>();
    for (const piece of this.#pieces) wanted.set(piece, (wanted.get(piece) ?? 0) + 1);
    let pieces = 0;
    for (const [piece, count] of wanted) {
      const stayed = occurrences(this.#before.letters, piece) - occurrences(this.#selected.letters, piece);
      const came = occurrences(now.letters, piece) - Math.max(0, stayed);
      pieces += Math.max(0, Math.min(count, count - came));
    }
    const stayed = Math.max(0, this.#before.pictures - this.#selected.pictures);
    const inWords = this.#pictures.filter(({ alt }) => alt && now.letters.includes(lettersOf(alt))).length;
    const pictures = Math.max(0, this.#pictures.length - Math.max(0, now.pictures - stayed) - inWords);
    return { pieces, of: this.#pieces.length, pictures };
  }

  get isWhole(): boolean {
    const { pieces, of, pictures } = this.missing;
    if (this.#element.closest(partlyShown)) return of === 0 || pieces < of;
    return pieces === 0 && pictures === 0;
  }

  /** Checks the arrival. @throws DrawerError `refused` with the missing parts */
  check(name: string): void {
    if (this.isWhole) return;
    const { pieces, of, pictures } = this.missing;
    if (pieces === of && pictures === this.#pictures.length) throw tookNothing(name);
    const words = { kind: 'lost.words', params: { count: pieces, of } };
    const images = { kind: 'lost.pictures', params: { count: pictures, of: this.#pictures.length } };
    const both = { kind: 'lost.both', params: { words, pictures: images } };
    const lost = pieces > 0 && pictures > 0 ? both : pieces > 0 ? words : images;
    throw new DrawerError('refused/place-took-part', { place: placeCalled(name), lost });
  }
}

function occurrences(letters: string, piece: string): number {
  let count = 0;
  for (let at = letters.indexOf(piece); at >= 0; at = letters.indexOf(piece, at + piece.length)) count++;
  return count;
}

/** The words of each paragraph, item and cell, split at line breaks and footnotes, which editors show in their own ways. */
function piecesOf(blocks: readonly Block[]): string[] {
  return blocks.flatMap((block): string[] => {
    switch (block.type) {
      case 'paragraph':
      case 'heading':
        return wordsOf(block.inlines);
      case 'list':
        return block.items.flatMap((item) => piecesOf(item.blocks));
      case 'table':
        return block.rows.flatMap((row) => row.cells.flatMap((cell) => piecesOf(cell.blocks)));
      case 'quote':
        return piecesOf(block.blocks);
      case 'code':
        return block.text.split('\n');
      default:
        return [];
    }
  });
}

function wordsOf(inlines: readonly Inline[]): string[] {
  const pieces = [''];
  for (const inline of inlines) {
    if (inline.type === 'text') pieces[pieces.length - 1] += inline.text;
    else pieces.push('');
  }
  return pieces;
}
