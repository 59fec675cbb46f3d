import type { Block, List, Table, TableCell, TableRow } from '../../../content/index.ts';
import { bounds, checkBound } from '../../bounds.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { ListLevel, StyleBook } from '../styles.ts';

/** One table as it is heard (ISO/IEC 26300-1, section 9). */
export class OdtTableReader {
  readonly #styles: StyleBook;
  readonly #rows: TableRow[] = [];
  readonly #widths: (number | undefined)[] = [];
  #headerRows = 0;
  #inHeader = false;
  #cells: TableCell[] = [];
  #repeats = 1;
  #look: Omit<TableCell, 'blocks'> = {};
  #cellRepeats = 1;
  /** The number of cells in repeated rows. */
  #repeated = 0;

  constructor(styles: StyleBook) {
    this.#styles = styles;
  }

  addColumn(a: Attributes): void {
    const { width } = this.#styles.find('table-column', a['table:style-name']);
    for (let count = repeats(a['table:number-columns-repeated']); count > 0; count--) this.#widths.push(width);
  }

  openHeader(): void {
    this.#inHeader = true;
  }

  closeHeader(): void {
    this.#inHeader = false;
  }

  openRow(a: Attributes): void {
    this.#cells = [];
    this.#repeats = repeats(a['table:number-rows-repeated']);
  }

  openCell(a: Attributes): void {
    const columnSpan = Number(a['table:number-columns-spanned'] ?? 1);
    const rowSpan = Number(a['table:number-rows-spanned'] ?? 1);
    const { background } = this.#styles.find('table-cell', a['table:style-name']);
    this.#look = {
      ...(columnSpan > 1 && columnSpan <= 1024 && { columnSpan }),
      ...(rowSpan > 1 && rowSpan <= 1_048_576 && { rowSpan }),
      ...(background !== undefined && { background }),
    };
    this.#cellRepeats = repeats(a['table:number-columns-repeated']);
  }

  closeCell(blocks: readonly Block[]): void {
    checkBound('places', this.#cells.length + this.#cellRepeats);
    for (let count = this.#cellRepeats; count > 0; count--) this.#cells.push({ blocks, ...this.#look });
  }

  closeRow(): void {
    if (this.#repeats > 1) this.#repeated += this.#repeats * this.#cells.length;
    checkBound('places', this.#repeated);
    for (let count = this.#repeats; count > 0; count--) this.#rows.push({ cells: this.#cells });
    if (this.#inHeader) this.#headerRows += this.#repeats;
  }

  finish(): Table | undefined {
    if (this.#rows.length === 0) return undefined;
    const widths = this.#widths.filter((width) => width !== undefined);
    return {
      type: 'table',
      rows: this.#rows,
      ...(this.#headerRows > 0 && { headerRows: this.#headerRows }),
      ...(widths.length > 0 && widths.length === this.#widths.length && { columnWidths: widths }),
    };
  }
}

const repeats = (value: string | undefined): number =>
  Math.min(Math.max(Number(value ?? 1) || 1, 1), bounds.repeats.most);

interface OpenItem {
  readonly blocks: readonly Block[];
  readonly number: number;
}

/** One list as it is heard (ISO/IEC 26300-1, section 5.3). */
export class ListReader {
  readonly style: string | undefined;
  readonly level: number;
  readonly #look: ListLevel;
  readonly #key: string;
  readonly #lastNumbers: Map<string, number>;
  readonly #items: OpenItem[] = [];
  #next: number;
  isOpen = false;

  constructor(styles: StyleBook, a: Attributes, outer: ListReader | undefined, lastNumbers: Map<string, number>) {
    this.style = a['text:style-name'] ?? outer?.style;
    this.level = (outer?.level ?? 0) + 1;
    this.#look = styles.listLevel(this.style, this.level);
    this.#key = `${this.style ?? ''} ${this.level}`;
    this.#lastNumbers = lastNumbers;
    const goesOn = a['text:continue-numbering'] === 'true' || a['text:continue-list'] !== undefined;
    this.#next = (goesOn ? (lastNumbers.get(this.#key) ?? this.#look.start - 1) : this.#look.start - 1) + 1;
  }

  openItem(a: Attributes): void {
    this.isOpen = true;
    const start = Number.parseInt(a['text:start-value'] ?? '', 10);
    if (start >= 0) this.#next = start;
  }

  closeItem(blocks: readonly Block[]): void {
    this.isOpen = false;
    this.#items.push({ blocks: blocks.filter((block) => !isEmptyParagraph(block)), number: this.#next });
    this.#lastNumbers.set(this.#key, this.#next++);
  }

  /** The list; headings that stand in it only to be numbered come out of it, and part it. */
  finish(): Block[] {
    const blocks: Block[] = [];
    let items: OpenItem[] = [];
    const flush = (): void => {
      if (items.length > 0) blocks.push(this.#list(items));
      items = [];
    };
    for (const item of this.#items) {
      const isOnlyNested = item.blocks.length > 0 && item.blocks.every(({ type }) => type === 'list');
      if (item.blocks.some(({ type }) => type === 'heading')) {
        flush();
        blocks.push(...item.blocks);
      } else if (isOnlyNested && items.length > 0) {
        const last = items.pop() as OpenItem; // programs open an item anew to go on inside it
        items.push({ ...last, blocks: [...last.blocks, ...item.blocks] });
      } else items.push(item);
    }
    flush();
    return blocks;
  }

  #list(items: readonly OpenItem[]): List {
    const { ordered, marker } = this.#look;
    const start = items[0]?.number ?? 1;
    return {
      type: 'list',
      ordered,
      ...(ordered && start !== 1 && { start }),
      ...(marker && { marker }),
      items: items.map(({ blocks }) => ({ blocks })),
    };
  }
}

const isEmptyParagraph = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length === 0;
