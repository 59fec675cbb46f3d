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
  joinText,
  type ListItem,
  type Marks,
  type Table,
  type TableCell,
  tableGrid,
  text,
} from '../../content/index.ts';
import { encodeDataUri } from '../pictures.ts';
import type { ProseWriting } from '../prose-format.ts';

export interface MarkdownWriter {
  readonly options: ProseWriting;
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

/** Inlines as phrasing content: neighbours that share a mark share its node. */
export const writeInlines = (writer: MarkdownWriter, inlines: readonly Inline[]): PhrasingContent[] =>
  nest(writer, joinText(inlines.flatMap(spacesOutside)), wraps);

/** Markdown cannot begin or end emphasis with a space, so such spaces stand outside it. */
function spacesOutside(inline: Inline): readonly Inline[] {
  if (inline.type !== 'text' || !inline.marks || inline.marks.code) return [inline];
  const [, before = '', words = '', after = ''] = /^(\s*)(.*?)(\s*)$/s.exec(inline.text) ?? [];
  if (before === '' && after === '') return [inline];
  return [text(before), ...(words === '' ? [] : [{ ...inline, text: words }]), text(after)];
}

interface Wrap {
  readonly mark: keyof Marks;
  readonly node: (marks: Marks, children: PhrasingContent[]) => PhrasingContent[];
}

/** From the outermost in. Marks that Markdown has no sign for are left out, but for raised and lowered text. */
const wraps: readonly Wrap[] = [
  {
    mark: 'link',
    node: ({ link }, children) => [
      { type: 'link', url: link?.href ?? '', title: link?.title ?? null, children } as PhrasingContent,
    ],
  },
  { mark: 'bold', node: (_, children) => [{ type: 'strong', children }] },
  { mark: 'italic', node: (_, children) => [{ type: 'emphasis', children }] },
  { mark: 'strike', node: (_, children) => [{ type: 'delete', children }] },
  { mark: 'position', node: ({ position }, children) => raised(position === 'superscript' ? 'sup' : 'sub', children) },
];

/** GFM has no sign for these, but keeps the two HTML elements. */
const raised = (tag: 'sup' | 'sub', children: PhrasingContent[]): PhrasingContent[] => [
  { type: 'html', value: `<${tag}>` },
  ...children,
  { type: 'html', value: `</${tag}>` },
];

function nest(
  writer: MarkdownWriter,
  inlines: readonly Inline[],
  [wrap, ...inner]: readonly Wrap[],
): PhrasingContent[] {
  if (!wrap) return inlines.map((inline) => leaf(writer, inline));
  const nodes: PhrasingContent[] = [];
  for (let start = 0; start < inlines.length; ) {
    const marks = marksOf(inlines[start]);
    const key = markKey(marks, wrap.mark);
    let end = start + 1;
    while (end < inlines.length && markKey(marksOf(inlines[end]), wrap.mark) === key) end++;
    const children = nest(writer, inlines.slice(start, end), inner);
    nodes.push(...(key === undefined ? children : wrap.node(marks, children)));
    start = end;
  }
  return nodes;
}

const marksOf = (inline: Inline | undefined): Marks => (inline?.type === 'text' ? (inline.marks ?? {}) : {});

const markKey = (marks: Marks, mark: keyof Marks): string | undefined =>
  marks[mark] === undefined ? undefined : JSON.stringify(marks[mark]);

function leaf(writer: MarkdownWriter, inline: Inline): PhrasingContent {
  switch (inline.type) {
    case 'text':
      return inline.marks?.code ? { type: 'inlineCode', value: inline.text } : { type: 'text', value: inline.text };
    case 'break':
      return { type: 'break' };
    case 'picture': {
      const bytes = writer.options.media.get(inline.media);
      const url = writer.options.pictureAddress?.(inline) ?? (bytes ? encodeDataUri(bytes, inline.mediaType) : '');
      return { type: 'image', url, alt: inline.alt ?? '' };
    }
    case 'footnote':
      return { type: 'footnoteReference', identifier: String(writer.footnotes.push(inline)) };
  }
}
