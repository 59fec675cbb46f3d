import {
  type Block,
  type BlocksContent,
  inlineText,
  type List,
  type Note,
  type Paragraph,
  stackTables,
  type Table,
} from '../content/index.ts';

/** How two blocks from two pieces meet: what stands instead of both, or `undefined` where they stay as they are. */
export type NeighbourRule = (above: Block, below: Block, notes: Note[]) => readonly Block[] | undefined;

/** Asked in turn; the first with something to say decides. */
export const neighbourRules: readonly NeighbourRule[] = [
  (above, below) => (above.type === 'list' && below.type === 'list' ? runTogether(above, below) : undefined),
  (above, below, notes) =>
    above.type === 'table' && below.type === 'table' ? stackedAlike(above, below, notes) : undefined,
];

/** Lists of a kind are one, and its numbers go on. */
const runTogether = (above: List, below: List): readonly Block[] | undefined =>
  above.ordered === below.ordered && above.marker === below.marker
    ? [{ ...above, items: [...above.items, ...below.items] }]
    : undefined;

function stackedAlike(above: Table, below: Table, notes: Note[]): readonly Block[] | undefined {
  const table = stackTables(above, below, notes);
  notes.push(table ? stackedNote : apartNote);
  return table && [table];
}

/** What is said of tables that met. */
export const stackedNote: Note = { kind: 'table-stacked', count: 1 };
export const apartNote: Note = { kind: 'table-apart', count: 1 };

/** Blocks one after another; where one piece ends and the next begins, the rules are asked. */
export class BlockChain {
  readonly #rules: readonly NeighbourRule[];
  readonly #notes: Note[];
  readonly #blocks: Block[] = [];

  constructor(rules: readonly NeighbourRule[], notes: Note[]) {
    this.#rules = [...rules, ...neighbourRules];
    this.#notes = notes;
  }

  get last(): Block | undefined {
    return this.#blocks.at(-1);
  }

  add(blocks: readonly Block[]): void {
    const [first, ...rest] = blocks;
    if (!first) return;
    this.#meet(first);
    this.#blocks.push(...rest);
  }

  /** Asks nobody. */
  addApart(block: Block): void {
    this.#blocks.push(block);
  }

  #meet(block: Block): void {
    const above = this.#blocks.at(-1);
    for (const rule of above ? this.#rules : []) {
      const together = above && rule(above, block, this.#notes);
      if (!together) continue;
      this.#blocks.splice(-1, 1, ...together);
      return;
    }
    this.#blocks.push(block);
  }

  get content(): BlocksContent {
    return { shape: 'blocks', blocks: this.#blocks };
  }
}

/** A caption belongs to the picture or table beside it: nothing comes between them. */
export function isCaptioned(above: Block | undefined, below: Block | undefined): boolean {
  const isShown = (block: Block | undefined): boolean => block?.type === 'picture' || block?.type === 'table';
  return (isShown(above) && isCaption(below)) || (isCaption(above) && isShown(below));
}

const isCaption = (block: Block | undefined): block is Paragraph =>
  block?.type === 'paragraph' &&
  (/caption/i.test(block.style ?? '') ||
    /^(?:fig(?:ure|\.)|table|picture|photo(?:graph)?|plan|map|chart)\s+[\dIVXivx]+\b/i.test(inlineText(block.inlines)));
