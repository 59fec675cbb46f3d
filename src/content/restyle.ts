import { asBlocks, cellText } from './as-blocks.ts';
import { joinText, text, textWithBreaks } from './build.ts';
import type { Block, Cell, CellsContent, Content, Inline, Marks, Paragraph, TableCell } from './model.ts';
import { blocksText, inlineText } from './plain-text.ts';

/** How content looks where it lands: as it looked, in the styles of the place, or as words only. */
export const pasteStyles = ['original', 'local', 'plain'] as const;
/** How content looks where it lands: as it looked, in the styles of the place, or as words alone. */
export type PasteStyle = (typeof pasteStyles)[number];

/** The content without what a style leaves behind; with `original` the same object. */
export function restyle(content: Content, style: PasteStyle): Content {
  if (style === 'original' || content.shape === 'picture') return content;
  return style === 'local' ? local(content) : plain(content);
}

// --- Local: emphasis, links and structure stay, and the rest is the place's own -------------------------------------------

function local(content: Content): Content {
  if (content.shape === 'run') return { shape: 'run', inlines: localInlines(content.inlines) };
  if (content.shape === 'cells') return { ...content, rows: content.rows.map((row) => row.map(localCell)) };
  return content.shape === 'blocks' ? { shape: 'blocks', blocks: content.blocks.map(localBlock) } : content;
}

function localMarks({ font: _, size: __, colour: ___, background: ____, ...kept }: Marks): Marks {
  return kept;
}

const localInlines = (inlines: readonly Inline[]): Inline[] =>
  joinText(
    inlines.map((inline) => {
      if (inline.type === 'footnote') return { ...inline, blocks: inline.blocks.map(localBlock) };
      return inline.type === 'text' ? text(inline.text, localMarks(inline.marks ?? {})) : inline;
    }),
  );

function localBlock(block: Block): Block {
  switch (block.type) {
    case 'paragraph': {
      const { direction } = block;
      return { type: 'paragraph', inlines: localInlines(block.inlines), ...(direction && { direction }) };
    }
    case 'heading': {
      const { level, direction } = block;
      return { type: 'heading', level, inlines: localInlines(block.inlines), ...(direction && { direction }) };
    }
    case 'list':
      return { ...block, items: block.items.map((item) => ({ ...item, blocks: item.blocks.map(localBlock) })) };
    case 'table':
      return { ...block, rows: block.rows.map(({ cells }) => ({ cells: cells.map(localTableCell) })) };
    case 'quote':
      return { ...block, blocks: block.blocks.map(localBlock) };
    default:
      return block;
  }
}

/** Figures keep their side of the cell. */
function localTableCell({ background: _, ...cell }: TableCell): TableCell {
  return {
    ...cell,
    blocks: cell.blocks.map((block) => {
      const kept = localBlock(block);
      return block.type === 'paragraph' && kept.type === 'paragraph' && block.align
        ? { ...kept, align: block.align }
        : kept;
    }),
  };
}

function localCell({ background: _, marks, ...cell }: Cell): Cell {
  const kept = localMarks(marks ?? {});
  return { ...cell, ...(Object.keys(kept).length > 0 && { marks: kept }) };
}

// --- Plain: words only ---------------------------------------------------------------------------------------------------

function plain(content: Content): Content {
  if (content.shape === 'run') return { shape: 'run', inlines: plainInlines(content.inlines) };
  if (content.shape === 'cells') return plainRange(content);
  return { shape: 'blocks', blocks: asBlocks(content).flatMap(plainBlocks) };
}

const plainInlines = (inlines: readonly Inline[]): Inline[] => textWithBreaks(inlineText(inlines));

/** Cells keep their values: these are what a sheet has instead of words. */
const plainRange = ({ rows, untyped }: CellsContent): CellsContent => ({
  shape: 'cells',
  ...(untyped && { untyped }),
  rows: rows.map((row) =>
    row.map((cell): Cell => {
      const words = cellText(cell);
      if (cell.type === 'number' || cell.type === 'date' || cell.type === 'boolean') {
        const { format } = cell;
        return { type: cell.type, value: cell.value, text: cell.text, ...(format !== undefined && { format }) } as Cell;
      }
      return words === '' ? { type: 'empty' } : { type: 'text', value: words };
    }),
  ),
});

/** A paragraph each; an item and a row of a table are one too, its cells parted by tabs. */
function plainBlocks(block: Block): Paragraph[] {
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return [{ type: 'paragraph', inlines: plainInlines(block.inlines) }];
    case 'list':
      return block.items.flatMap((item) => item.blocks.flatMap(plainBlocks));
    case 'quote':
      return block.blocks.flatMap(plainBlocks);
    case 'table':
      return blocksText([block])
        .split('\n')
        .map((words) => ({ type: 'paragraph', inlines: textWithBreaks(words) }));
    case 'code':
    case 'picture':
      return [{ type: 'paragraph', inlines: textWithBreaks(blocksText([block])) }];
    case 'rule':
      return [];
  }
}
