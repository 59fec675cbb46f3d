import { rowGaps } from './grid.ts';
import { eachOf } from './join.ts';
import type { Block, Content, Inline } from './model.ts';
import { childBlocks, inlineUnits, sliceInlines } from './walk.ts';

/**
 * The parts of content: its rows, items or paragraphs where nothing is said; each paragraph or other block, list item,
 * table row or cell; or what stands between any other text. Nothing of it is lost but that text.
 */
export function splitContent(content: Content, by?: string): readonly Content[] {
  switch (by) {
    case undefined:
      return eachOf(content);
    case 'paragraph':
      return content.shape === 'blocks'
        ? content.blocks.map((block) => ({ shape: 'blocks', blocks: [block] }))
        : [content];
    case 'item':
      return partsWhere(content, 'list');
    case 'row':
      return content.shape === 'cells'
        ? content.rows.map((row) => ({
            shape: 'cells',
            rows: [row],
            ...rowGaps(content),
            ...(content.untyped && { untyped: true }),
          }))
        : partsWhere(content, 'table');
    case 'cell':
      return cellsOf(content);
    default:
      return splitAt(content, by);
  }
}

/** The lists or tables of blocks by their items or rows, and what stands between them as it is. */
function partsWhere(content: Content, type: 'list' | 'table'): readonly Content[] {
  if (content.shape !== 'blocks') return [content];
  const parts: Content[] = [];
  let others: Block[] = [];
  const flush = (): void => {
    if (others.length > 0) parts.push({ shape: 'blocks', blocks: others });
    others = [];
  };
  for (const block of content.blocks) {
    if (block.type !== type) others.push(block);
    else {
      flush();
      parts.push(...eachOf({ shape: 'blocks', blocks: [block] }));
    }
  }
  flush();
  return parts;
}

function cellsOf(content: Content): readonly Content[] {
  if (content.shape === 'cells') {
    const cells = content.rows.flat().filter(({ type }) => type !== 'empty');
    const kind = content.untyped && { untyped: true as const };
    return cells.map(({ columnSpan: _, rowSpan: __, ...cell }) => ({ shape: 'cells', rows: [[cell]], ...kind }));
  }
  if (content.shape !== 'blocks') return [content];
  return content.blocks.flatMap((block): Content[] =>
    block.type === 'table'
      ? block.rows.flatMap(({ cells }) => cells.map(({ blocks }): Content => ({ shape: 'blocks', blocks })))
      : [{ shape: 'blocks', blocks: [block] }],
  );
}

function splitAt(content: Content, text: string): readonly Content[] {
  if (text === '') return [content];
  if (content.shape === 'run') return splitInlines(content.inlines, text).map((inlines) => ({ shape: 'run', inlines }));
  if (content.shape !== 'blocks') return [content];
  const parts: Block[][] = [[]];
  for (const block of content.blocks) {
    const [first = block, ...rest] = 'inlines' in block ? piecesOf(block, text) : [block];
    parts.at(-1)?.push(first);
    for (const piece of rest) parts.push([piece]);
  }
  return parts.map((blocks): Content => ({ shape: 'blocks', blocks: blocks.filter(holdsSomething) })).filter(hasBlocks);
}

const piecesOf = <B extends Extract<Block, { inlines: readonly Inline[] }>>(block: B, text: string): B[] =>
  splitInlines(block.inlines, text).map((inlines) => ({ ...block, inlines }));

const holdsSomething = (block: Block): boolean =>
  !('inlines' in block) || block.inlines.length > 0 || childBlocks(block).length > 0;

const hasBlocks = (content: Content): boolean => content.shape !== 'blocks' || content.blocks.length > 0;

/** Inlines between occurrences of a text, which may lie across marks; a break counts as a line end. */
function splitInlines(inlines: readonly Inline[], text: string): readonly Inline[][] {
  const words = inlines.map(inlineUnits).join('');
  const pieces: Inline[][] = [];
  let from = 0;
  for (let at = words.indexOf(text); at >= 0; at = words.indexOf(text, from)) {
    pieces.push(sliceInlines(inlines, from, at));
    from = at + text.length;
  }
  pieces.push(sliceInlines(inlines, from, words.length));
  return pieces.length === 1 ? pieces : pieces.filter((piece) => piece.length > 0);
}
