import type {
  AlignType,
  BlockContent,
  DefinitionContent,
  TableCell as MarkdownCell,
  ListItem as MarkdownItem,
  TableRow as MarkdownRow,
  PhrasingContent,
  RootContent,
} from 'mdast';
import {
  type Block,
  type BlockType,
  type Footnote,
  type Inline,
  type ListItem,
  type Table,
  type TableCell,
  tableGrid,
} from '../../content/index.ts';
import type { WriteOptions } from '../format.ts';
import { writeInlines } from './write-inlines.ts';

export interface MarkdownWriter {
  readonly options: WriteOptions;
  /** Those met so far, in the order of their references. */
  readonly footnotes: Footnote[];
}

type Node = BlockContent | DefinitionContent;
type Writer<K extends BlockType> = (writer: MarkdownWriter, block: Extract<Block, { type: K }>) => Node;

export const writeBlocks = (writer: MarkdownWriter, blocks: readonly Block[]): Node[] =>
  blocks.map((block) => writeBlock(writer, block));

const writeBlock = <K extends BlockType>(writer: MarkdownWriter, block: Extract<Block, { type: K }>): Node =>
  (writers[block.type] as Writer<K>)(writer, block);

const writers: { readonly [K in BlockType]: Writer<K> } = {
  paragraph: (writer, { inlines }) => ({ type: 'paragraph', children: writeInlines(writer, inlines) }),
  heading: (writer, { level, inlines }) => ({ type: 'heading', depth: level, children: writeInlines(writer, inlines) }),
  list: (writer, { ordered, start, items }) => ({
    type: 'list',
    ordered,
    start: ordered ? (start ?? 1) : null,
    spread: false,
    children: items.map((item) => writeItem(writer, item)),
  }),
  table: writeTable,
  picture: (writer, picture) => ({ type: 'paragraph', children: writeInlines(writer, [picture]) }),
  quote: (writer, { blocks }) => ({ type: 'blockquote', children: writeBlocks(writer, blocks) }),
  code: (_, { text, syntax }) => ({ type: 'code', lang: syntax ?? null, value: text }),
  rule: () => ({ type: 'thematicBreak' }),
};

const writeItem = (writer: MarkdownWriter, { blocks, checked }: ListItem): MarkdownItem => ({
  type: 'listItem',
  spread: false,
  checked: checked ?? null,
  children: writeBlocks(writer, blocks),
});

/**
 * A GFM table: one heading row, which stays empty when the table has none, and one line a cell. The places that a span
 * covers are empty.
 */
function writeTable(writer: MarkdownWriter, table: Table): Node {
  const { headerRows = 0 } = table;
  const grid = tableGrid(table).map((line, row) =>
    line.map((placed, column) => (placed?.row === row && placed.column === column ? placed.cell : undefined)),
  );
  const rows = grid.map(
    (cells, row): MarkdownRow => ({
      type: 'tableRow',
      children: cells.map((cell) => writeCell(writer, cell, row < headerRows)),
    }),
  );
  const blank: MarkdownRow = {
    type: 'tableRow',
    children: (grid[0] ?? [undefined]).map(() => ({ type: 'tableCell', children: [] })),
  };
  return {
    type: 'table',
    align: alignments(grid.slice(headerRows)),
    children: headerRows > 0 ? rows : [blank, ...rows],
  };
}

function writeCell(writer: MarkdownWriter, cell: TableCell | undefined, isHeading: boolean): MarkdownCell {
  const lines = (cell?.blocks ?? []).flatMap((block) => blockLines(writer, isHeading ? withoutBold(block) : block));
  const children = lines.flatMap((line, index): PhrasingContent[] =>
    index === 0 ? line : [{ type: 'html', value: '<br>' }, ...line],
  );
  return {
    type: 'tableCell',
    children: children.map((node) => (node.type === 'break' ? { type: 'html', value: '<br>' } : node)),
  };
}

/** Heading cells are shown bold as it is. */
function withoutBold(block: Block): Block {
  if (block.type !== 'paragraph') return block;
  const inlines = block.inlines.map((inline): Inline => {
    if (inline.type !== 'text' || !inline.marks?.bold) return inline;
    const { bold: _, ...marks } = inline.marks;
    return { ...inline, marks };
  });
  return { ...block, inlines };
}

/** What a cell holds, as lines of phrasing: it cannot hold blocks. */
function blockLines(writer: MarkdownWriter, block: Block): PhrasingContent[][] {
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return [writeInlines(writer, block.inlines)];
    case 'picture':
      return [writeInlines(writer, [block])];
    case 'code':
      return block.text.split('\n').map((line) => [{ type: 'inlineCode', value: line }]);
    case 'rule':
      return [];
    case 'list':
      return block.items.flatMap((item) => item.blocks.flatMap((each) => blockLines(writer, each)));
    case 'quote':
      return block.blocks.flatMap((each) => blockLines(writer, each));
    case 'table':
      return block.rows.map(({ cells }) =>
        cells.flatMap((cell, index): PhrasingContent[] => [
          ...(index > 0 ? [{ type: 'text', value: ' ' } as const] : []),
          ...cell.blocks.flatMap((each) => blockLines(writer, each).flat()),
        ]),
      );
  }
}

/** A column is aligned as all the cells below its heading are. */
export const alignments = (body: readonly (readonly (TableCell | undefined)[])[]): AlignType[] =>
  (body[0] ?? []).map((_, column) => {
    const found = new Set(body.flatMap((row) => (row[column]?.blocks.length ? [alignmentOf(row[column])] : [])));
    const [only] = found;
    return found.size === 1 && only !== undefined ? only : null;
  });

function alignmentOf({ blocks: [first] }: TableCell): AlignType {
  const align = first?.type === 'paragraph' ? first.align : undefined;
  return align === 'end' ? 'right' : align === 'center' ? 'center' : null;
}

/** The notes' texts, those that notes refer to included. */
export function writeFootnotes(writer: MarkdownWriter): RootContent[] {
  const definitions: RootContent[] = [];
  for (let index = 0; index < writer.footnotes.length; index++) {
    definitions.push({
      type: 'footnoteDefinition',
      identifier: String(index + 1),
      children: writeBlocks(writer, writer.footnotes[index]?.blocks ?? []),
    });
  }
  return definitions;
}
