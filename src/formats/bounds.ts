import { type Block, type Content, DrawerError } from '../content/index.ts';

/** A bound that guards against files that ask for far more than they hold. `docs/formats.md` shows all of them. */
export interface Bound {
  readonly what: string;
  readonly most: number;
  readonly why: string;
  /** A file over it is refused, by the reason `over-` and the bound's name. Without it, the excess is left out. */
  readonly refuses?: true;
}

const square = 'the time to read them grows with the square of their number';

/** Limits on the size of input, with what each limits; a file over one is refused with `too-large`. */
export const bounds = {
  characters: {
    what: 'characters taken at once; a note counts as often as it is referred to',
    most: 16 * 1024 * 1024,
    why: 'some 8,000 pages; a note that thousands refer to, or that others name twice each, would outgrow any memory',
    refuses: true,
  },
  blocks: {
    what: 'paragraphs and tables taken at once',
    most: 500_000,
    why: 'a file of some kilobytes can hold millions of empty ones',
    refuses: true,
  },
  cells: {
    what: 'filled cells taken at once',
    most: 2_000_000,
    why: 'each takes some 1 kB of memory until it is kept',
    refuses: true,
  },
  fields: {
    what: 'fields of a file of separated values that is changed',
    most: 4_000_000,
    why: 'each takes some 200 bytes of memory meanwhile',
    refuses: true,
  },
  places: {
    what: 'empty or repeated cells taken at once, beside twenty for each cell that is filled',
    most: 1_000_000,
    why: 'rows of unequal length and repeated cells stand for areas that no memory holds',
    refuses: true,
  },
  columns: {
    what: 'columns of a sheet of OpenDocument',
    most: 20_000,
    why: 'office programs have at most 16,384, and a cell can say that it is repeated a million times',
    refuses: true,
  },
  words: {
    what: 'characters of the cells of a sheet, where a shared string counts as often as it is told',
    most: 64 * 1024 * 1024,
    why: 'a string of 32,000 characters can stand in a million cells',
    refuses: true,
  },
  parts: {
    what: 'parts of a zip file',
    most: 20_000,
    why: 'office files have some hundreds',
    refuses: true,
  },
  unpacked: {
    what: 'bytes of an unpacked part',
    most: 2 ** 31,
    why: 'a part is read piece by piece, but no office program writes larger ones',
    refuses: true,
  },
  ratio: {
    what: 'times its packed size that a part unpacks to',
    most: 1_100,
    why: 'more than the method of packing reaches with honest text',
    refuses: true,
  },
  xmlDepth: {
    what: 'elements of XML in one another',
    most: 2_000,
    why: 'office programs nest some tens, and each level takes room on the stack',
    refuses: true,
  },
  xmlLength: {
    what: 'bytes of one tag, of the text between two, or of one row of a sheet',
    most: 32 * 1024 * 1024,
    why: 'such a piece is held as a whole',
    refuses: true,
  },
  sheetHead: {
    what: 'bytes of a sheet in front of its cells',
    most: 4 * 1024 * 1024,
    why: 'it tells the widths of columns, and is held as a whole',
    refuses: true,
  },
  text: {
    what: 'bytes of a text, a page or a Markdown file',
    most: 32 * 1024 * 1024,
    why: 'such files are read as a whole, and take some thirty times their size in memory',
    refuses: true,
  },
  values: {
    what: 'bytes of a file of separated values or of snippets',
    most: 64 * 1024 * 1024,
    why: 'such files are read as a whole, and take some fifteen times their size in memory',
    refuses: true,
  },
  tags: {
    what: 'tags of a page',
    most: 1_000_000,
    why: 'each takes some hundred times the memory that it takes in the file',
    refuses: true,
  },
  elements: {
    what: 'elements of a page in one another',
    most: 800,
    why: 'each level takes room on the stack',
    refuses: true,
  },
  nesting: {
    what: 'quotes, lists, emphasis and links of Markdown in one another',
    most: 300,
    why: 'each level takes room on the stack',
    refuses: true,
  },
  depth: {
    what: 'quotes and lists of Markdown in one another',
    most: 100,
    why: square,
    refuses: true,
  },
  signs: {
    what: 'signs of emphasis, links and code in one paragraph of Markdown',
    most: 4_000,
    why: square,
    refuses: true,
  },
  turns: {
    what: 'underlined headings, and lines that go on from a quote, without a blank line in Markdown',
    most: 1_000,
    why: square,
    refuses: true,
  },
  format: {
    what: 'characters of a number format; a longer one is none',
    most: 255,
    why: 'office programs write no longer ones, and the time to read one grows with the square of its brackets',
  },
  repeats: {
    what: 'times that a row or column of a text document is told where it says that it repeats',
    most: 1_024,
    why: 'in running text nothing repeats for long',
  },
  side: {
    what: 'pixels of one side of a picture; its description stands for a larger one',
    most: 65_535,
    why: 'no program shows more',
  },
  beside: {
    what: 'bytes of a picture beside a page; its description stands for a larger one',
    most: 64 * 1024 * 1024,
    why: 'it is held as a whole',
  },
  pixels: {
    what: 'pixels of a picture that is drawn in a terminal; of a larger one the facts are told',
    most: 40_000_000,
    why: 'each takes four bytes once it is unpacked',
  },
  formulas: {
    what: 'formulas that are worked out anew when something lands; more are left to the program that opens the file',
    most: 2_000,
    why: 'each may lean on all the others',
  },
  basedOn: {
    what: 'styles that one is based on, one on another; those behind them count for nothing',
    most: 200,
    why: 'office programs allow some tens, and a chain of thousands exhausts the stack',
  },
} as const satisfies Record<string, Bound>;

type Refusing = {
  [Name in keyof typeof bounds]: (typeof bounds)[Name] extends { refuses: true } ? Name : never;
}[keyof typeof bounds];

/**
 * @param part - of a package: the name of the part that is over the bound
 * @throws DrawerError `too-large` where there is more of something than may be
 */
export function checkBound(name: Refusing, count: number, part?: string): void {
  const { most } = bounds[name];
  if (count > most) throw new DrawerError(`too-large/over-${name}`, { most, ...(part !== undefined && { part }) });
}

/** Counts what a reader has come to, so that it ends before memory does. */
export class Budget {
  #blocks = 0;
  #cells = 0;
  #characters = 0;
  readonly #openNotes = new Set<unknown>();
  readonly #notes = new Map<unknown, readonly Block[]>();
  readonly #weights = new WeakMap<readonly Block[], number>();

  /** @throws DrawerError `too-large` */
  addBlock(): void {
    checkBound('blocks', ++this.#blocks);
  }

  /** A cell that is filled. @throws DrawerError `too-large` */
  addCell(): void {
    checkBound('cells', ++this.#cells);
  }

  /**
   * The blocks of a note, read at its first reference and shared by all others.
   * @param key - what the note is known by
   * @returns `undefined` within itself
   * @throws DrawerError `too-large`
   */
  readNote(key: unknown, read: () => readonly Block[]): readonly Block[] | undefined {
    if (this.#openNotes.has(key)) return undefined;
    const blocks = this.#notes.get(key) ?? this.#readNote(key, read);
    if (this.#openNotes.size === 0) this.addNote(blocks); // what one within another comes to is counted with that
    return blocks;
  }

  #readNote(key: unknown, read: () => readonly Block[]): readonly Block[] {
    this.#openNotes.add(key);
    const blocks = read();
    this.#openNotes.delete(key);
    this.weightOf(blocks);
    this.#notes.set(key, blocks);
    return blocks;
  }

  /** A note that is referred to; it is held once, and told as often. @throws DrawerError `too-large` */
  addNote(blocks: readonly Block[]): void {
    this.#characters += this.weightOf(blocks);
    checkBound('characters', this.#characters);
  }

  /** The characters of blocks; those of notes in them are known from when these were read. */
  weightOf(blocks: readonly Block[]): number {
    const known = this.#weights.get(blocks);
    if (known !== undefined) return known;
    const weight = blocks.reduce((sum, block) => sum + this.#weightOfBlock(block), 1);
    checkBound('characters', weight);
    this.#weights.set(blocks, weight);
    return weight;
  }

  #weightOfBlock(block: Block): number {
    if ('inlines' in block)
      return block.inlines.reduce((sum, inline) => {
        if (inline.type === 'text') return sum + inline.text.length;
        return sum + (inline.type === 'footnote' ? this.weightOf(inline.blocks) : 1);
      }, 1);
    if (block.type === 'quote') return this.weightOf(block.blocks);
    if (block.type === 'list') return block.items.reduce((sum, item) => sum + this.weightOf(item.blocks), 1);
    if (block.type === 'table')
      return block.rows.reduce(
        (all, { cells }) => cells.reduce((sum, cell) => sum + this.weightOf(cell.blocks), all),
        1,
      );
    return block.type === 'code' ? block.text.length + 1 : 1;
  }
}

/** @throws DrawerError `too-large` for content that is more than may be taken at once */
export function checkContent(content: Content): void {
  if (content.shape !== 'blocks') return;
  checkBound('blocks', content.blocks.length);
  new Budget().weightOf(content.blocks);
}

/** @throws DrawerError `too-large` where an area has far more places than cells that hold something */
export const checkPlaces = (rows: number, columns: number, filled: number): void =>
  checkBound('places', rows * columns - 20 * filled);
