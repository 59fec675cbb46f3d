import {
  type Block,
  type Content,
  childBlocks,
  DrawerError,
  inlineUnits,
  sliceInlines,
  type TableCell,
} from '../content/index.ts';
import type { QuoteFragment } from '../places/index.ts';

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

/** Whether a block holds no other blocks. */
export const isLeaf = (block: Block): block is LeafBlock => !['list', 'table', 'quote'].includes(block.type);

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

/**
 * Finds quoted words as a browser finds a text fragment (WICG Scroll To Text Fragment, section 3.5): first as they are
 * written, then upper and lower case alike; white space of any kind and length alike, whole words only, the first match.
 * @throws DrawerError `not-found`
 */
export function findQuote(words: string, quote: QuoteFragment): Range {
  const range = findRange(words, quote, 'gu') ?? findRange(words, quote, 'giu');
  if (!range) {
    throw new DrawerError('not-found/quote-unknown', {
      start: quote.start,
      ...(quote.end !== undefined && { end: quote.end }),
    });
  }
  return range;
}

// --- Finding ---------------------------------------------------------------------------------------------------------

function findRange(words: string, { start, end, prefix, suffix }: QuoteFragment, flags: string): Range | undefined {
  for (const first of matches(words, start, 0, flags)) {
    if (prefix !== undefined && !endsWith(words, prefix, first.start)) continue;
    if (end === undefined) {
      if (suffix === undefined || beginsWith(words, suffix, first.end)) return first;
      continue;
    }
    for (const last of matches(words, end, first.end, flags)) {
      if (suffix === undefined || beginsWith(words, suffix, last.end)) return { start: first.start, end: last.end };
    }
  }
  return undefined;
}

/** Where `wanted` stands as whole words, from `from` on. */
function* matches(words: string, wanted: string, from: number, flags: string): Generator<Range> {
  const pattern = new RegExp(loose(wanted), flags);
  pattern.lastIndex = from;
  for (let match = pattern.exec(words); match; match = pattern.exec(words)) {
    const range = { start: match.index, end: match.index + match[0].length };
    if (isWholeWords(words, range)) yield range;
    pattern.lastIndex = match.index + 1;
  }
}

const beginsWith = (words: string, wanted: string, at: number): boolean =>
  new RegExp(`^\\s*${loose(wanted)}`, 'iu').test(words.slice(at, at + roomFor(wanted)));

const endsWith = (words: string, wanted: string, at: number): boolean =>
  new RegExp(`${loose(wanted)}\\s*$`, 'iu').test(words.slice(Math.max(0, at - roomFor(wanted)), at));

/** How far to look for words beside a match, white space of the file's own included. */
const roomFor = (wanted: string): number => wanted.length * 4 + 64;

/** Letters as they are, any white space for white space: a fixed sequence, so matching takes linear time. */
const loose = (wanted: string): string =>
  wanted
    .trim()
    .split(/\s+/)
    .map((part) => part.replace(/[\\^$.*+?()[\]{}|/-]/g, (sign) => (sign === '-' ? '\\x2d' : `\\${sign}`)))
    .join('\\s+');

/** Whether both ends lie between words, by the segmentation that also serves scripts without spaces. */
const isWholeWords = (words: string, { start, end }: Range): boolean =>
  isBoundary(words, start) && isBoundary(words, end);

/** Enough neighbours on each side to tell where words end. */
const reach = 48;

function isBoundary(words: string, at: number): boolean {
  if (at === 0 || at === words.length) return true;
  const start = Math.max(0, at - reach);
  const segment = new Intl.Segmenter(undefined, { granularity: 'word' })
    .segment(words.slice(start, at + reach))
    .containing(at - start);
  return segment?.index === at - start;
}
