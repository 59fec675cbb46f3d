import { type Block, type Content, childBlocks, inlineUnits, sliceInlines, type TableCell } from '../content/index.ts';

/** From `start` up to, not including, `end`, in units of the flat text. */
export interface Range {
  readonly start: number;
  readonly end: number;
}

/** A block that holds no other, and its place in the flat text. */
export interface Leaf extends Range {
  readonly block: LeafBlock;
}
export type LeafBlock = Extract<Block, { type: 'paragraph' | 'heading' | 'code' | 'picture' | 'rule' }>;

/** The words of blocks one after another, as quotes and bookmarks count them. */
export interface FlatText {
  readonly words: string;
  readonly leaves: readonly Leaf[];
}

export function leafUnits(block: LeafBlock): string {
  if ('inlines' in block) return block.inlines.map(inlineUnits).join('');
  return block.type === 'code' ? block.text : '\ufffc';
}

const isLeaf = (block: Block): block is LeafBlock => !['list', 'table', 'quote'].includes(block.type);

export function flatten(blocks: readonly Block[]): FlatText {
  const leaves: Leaf[] = [];
  const parts: string[] = [];
  let length = 0;
  const add = (block: Block): void => {
    if (!isLeaf(block)) return childBlocks(block).forEach(add);
    const words = leafUnits(block);
    leaves.push({ block, start: length, end: length + words.length });
    parts.push(words, '\n');
    length += words.length + 1;
  };
  blocks.forEach(add);
  return { words: parts.join(''), leaves };
}

/** The part of a leaf that a range covers, in the leaf's own units. */
export interface LeafPart {
  readonly block: LeafBlock;
  readonly from: number;
  readonly to: number;
}

/** The leaves that a range touches, in order. */
export const touchedLeaves = ({ leaves }: FlatText, range: Range): LeafPart[] =>
  leaves
    .filter((leaf) => leaf.start < range.end && leaf.end > range.start)
    .map(({ block, start, end }) => ({
      block,
      from: Math.max(0, range.start - start),
      to: Math.min(end, range.end) - start,
    }));

/**
 * What a range covers. All of one paragraph is that paragraph, and words within one are a run; else it is blocks, the first and the last of them cut, in the lists and
 * tables they stand in, as far as the range leads out of one item or cell.
 */
export function contentOf(blocks: readonly Block[], parts: readonly LeafPart[]): Content {
  const [only] = parts;
  if (parts.length === 1 && only) {
    const part = cutLeaf(only);
    if (part === only.block && part.type === 'paragraph') return { shape: 'blocks', blocks: [part] };
    return 'inlines' in part ? { shape: 'run', inlines: part.inlines } : { shape: 'blocks', blocks: [part] };
  }
  const pruned = prune(blocks, new Map(parts.map((part) => [part.block, cutLeaf(part)])));
  return { shape: 'blocks', blocks: unwrapped(pruned) };
}

/** The part of a leaf; the same block when that is all of it. */
function cutLeaf({ block, from, to }: LeafPart): LeafBlock {
  if (from === 0 && to === leafUnits(block).length) return block;
  if ('inlines' in block) return { ...block, inlines: sliceInlines(block.inlines, from, to) };
  return block.type === 'code' ? { ...block, text: block.text.slice(from, to) } : block;
}

type Kept = ReadonlyMap<Block, LeafBlock>;

/** Blocks without the leaves that are not kept, and without lists, tables and quotes in which none is. */
const prune = (blocks: readonly Block[], kept: Kept): Block[] =>
  blocks.flatMap((block): Block[] => {
    switch (block.type) {
      case 'list': {
        const items = block.items.map((item) => ({ ...item, blocks: prune(item.blocks, kept) }));
        const first = items.findIndex((item) => item.blocks.length > 0);
        const start = (block.start ?? 1) + first;
        const { start: _, ...rest } = block;
        return first < 0
          ? []
          : [
              {
                ...rest,
                ...(block.ordered && start !== 1 && { start }),
                items: items.filter((item) => item.blocks.length > 0),
              },
            ];
      }
      case 'table': {
        const rows = block.rows.map(({ cells }) => ({ cells: cells.map((cell) => pruneCell(cell, kept)) }));
        const isKept = rows.map(({ cells }) => cells.some((cell) => cell.blocks.length > 0));
        const headers = isKept.slice(0, block.headerRows ?? 0).filter(Boolean).length;
        const { headerRows: _, ...rest } = block;
        return isKept.includes(true)
          ? [
              {
                ...rest,
                ...(headers > 0 && { headerRows: headers }),
                rows: rows.filter((_row, index) => isKept[index]),
              },
            ]
          : [];
      }
      case 'quote': {
        const inside = prune(block.blocks, kept);
        return inside.length === 0 ? [] : [{ ...block, blocks: inside }];
      }
      default: {
        const part = kept.get(block);
        return part ? [part] : [];
      }
    }
  });

const pruneCell = (cell: TableCell, kept: Kept): TableCell => ({ ...cell, blocks: prune(cell.blocks, kept) });

/** What lies in one item or cell stands by itself. */
function unwrapped(blocks: readonly Block[]): readonly Block[] {
  const [only] = blocks;
  if (blocks.length !== 1 || !only) return blocks;
  if (only.type === 'list' && only.items.length === 1) return unwrapped(only.items[0]?.blocks ?? []);
  if (only.type === 'quote') return unwrapped(only.blocks);
  const filled =
    only.type === 'table' ? only.rows.flatMap(({ cells }) => cells).filter((cell) => cell.blocks.length > 0) : [];
  return filled.length === 1 ? unwrapped(filled[0]?.blocks ?? []) : blocks;
}
