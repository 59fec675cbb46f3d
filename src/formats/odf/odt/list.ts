import type { Block, List } from '../../../content/index.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { ListLevel, StyleBook } from '../styles.ts';

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
