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

/** What something that is edited shows: its letters without white space, and how many pictures. */
interface Shown {
  readonly letters: string;
  readonly pictures: number;
}

/** What has not arrived of content, as far as can be seen. */
interface Missing {
  /** Of how many paragraphs, cells and the like the words are missing. */
  readonly pieces: number;
  readonly of: number;
  readonly pictures: number;
}

/** Those that show only a part of what they hold: one piece that is seen has to do. */
const partlyShown = '.cm-content, [role="grid"], [role="treegrid"]';

const lettersOf = (words: string): string => words.replace(/[\s\u200b\ufeff]+/g, '');

function shownIn(element: Element): Shown {
  return {
    letters: lettersOf(element.textContent ?? ''),
    pictures: element.querySelectorAll('img, svg, canvas').length,
  };
}

const placeCalled = (name: string): string | Message => name || { kind: 'place.any' };

/** The error for a place that took nothing of what was pasted into it. */
export const tookNothing = (name: string): DrawerError =>
  new DrawerError('refused/place-took-nothing', { place: placeCalled(name) });

/**
 * Watches a place for what is pasted into it. Made before the paste; what is selected then counts for gone.
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

  /** What is not there yet. */
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

  /** Says what did not arrive. @throws DrawerError `refused` */
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

/** The words of each paragraph, item and cell; a line break or a note parts them, as editors show these in ways of their own. */
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
