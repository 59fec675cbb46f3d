import { wrapAnsi } from 'fast-wrap-ansi';
import {
  asBlocks,
  type Block,
  type BlockType,
  type Content,
  cellsOfRow,
  type Inline,
  itemMarker,
  type List,
  type Table,
  type TableCell,
  tableGrid,
} from '../content/index.ts';
import { columnsOf, fit, fitEnd } from './columns.ts';

/** Pictures drawn for a terminal, line by line, by their hash. */
export type Drawn = ReadonlyMap<string, readonly string[]>;

/** Content for reading in a terminal: wrapped to `width` columns, tables in line, footnotes at the end. */
export function renderContent(content: Content, width: number, drawn: Drawn = new Map()): string {
  const page: Page = { notes: [], drawn };
  const lines =
    content.shape === 'run' ? wrap(words(page, content.inlines), width) : renderBlocks(page, asBlocks(content), width);
  const notes: string[] = [];
  for (let index = 0; index < page.notes.length; index++)
    notes.push(...indent(renderBlocks(page, page.notes[index] ?? [], width - 5), `[${index + 1}] `.padEnd(5)));
  return [...lines, ...(notes.length > 0 ? ['', ...notes] : [])].join('\n');
}

/** The footnotes met so far, and what can be shown of pictures. */
interface Page {
  readonly notes: (readonly Block[])[];
  readonly drawn: Drawn;
}

const renderBlocks = (
  page: Page,
  blocks: readonly Block[],
  width: number,
  between: readonly string[] = [''],
): string[] =>
  blocks.flatMap((block, index) => [...(index > 0 ? between : []), ...renderBlock(page, block, Math.max(4, width))]);

type Render<K extends BlockType> = (page: Page, block: Extract<Block, { type: K }>, width: number) => string[];

const renderBlock = <K extends BlockType>(page: Page, block: Extract<Block, { type: K }>, width: number): string[] =>
  (renderers[block.type] as Render<K>)(page, block, width);

const renderers: { readonly [K in BlockType]: Render<K> } = {
  paragraph: (page, { inlines }, width) => wrap(words(page, inlines), width),
  heading: (page, { level, inlines }, width) => {
    const lines = wrap(words(page, inlines), width);
    const ruleLength = Math.max(...lines.map((line) => columnsOf(line)));
    return level > 2 ? lines : [...lines, (level === 1 ? '=' : '-').repeat(ruleLength)];
  },
  list: renderList,
  table: renderTable,
  picture: ({ drawn }, picture) => [pictureWords(picture), ...(drawn.get(picture.media) ?? [])],
  quote: (page, { blocks }, width) => indent(renderBlocks(page, blocks, width - 2), '| ', '| '),
  code: (_, { text }) => indent(text.split('\n'), '    ', '    '),
  rule: (_, __, width) => ['-'.repeat(Math.min(width, 40))],
};

const words = (page: Page, inlines: readonly Inline[]): string => inlines.map((inline) => word(page, inline)).join('');

function word(page: Page, inline: Inline): string {
  switch (inline.type) {
    case 'text': {
      const href = inline.marks?.link?.href;
      return href === undefined || href === inline.text ? inline.text : `${inline.text} <${href}>`;
    }
    case 'break':
      return '\n';
    case 'picture':
      return pictureWords(inline);
    case 'footnote':
      return ` [${page.notes.push(inline.blocks)}]`;
  }
}

const pictureWords = ({ alt, width, height }: { alt?: string; width?: number; height?: number }): string =>
  `[picture${alt ? `: ${alt}` : ''}${width && height ? `, ${Math.round(width)} × ${Math.round(height)} pt` : ''}]`;

const wrap = (text: string, width: number): string[] => wrapAnsi(text, Math.max(4, width), { hard: true }).split('\n');

const indent = (lines: readonly string[], first: string, rest = ' '.repeat(first.length)): string[] =>
  (lines.length === 0 ? [''] : lines).map((line, index) => `${index === 0 ? first : rest}${line}`.trimEnd());

function renderList(page: Page, list: List, width: number): string[] {
  return list.items.flatMap(({ blocks, checked }, index) => {
    const marker = `${itemMarker(list, index)} ${checked === undefined ? '' : checked ? '[x] ' : '[ ] '}`;
    return indent(renderBlocks(page, blocks, width - marker.length, []), marker);
  });
}

// --- Tables ----------------------------------------------------------------------------------------------------------

type Grid = ReturnType<typeof tableGrid>;

interface RenderedCell {
  readonly lines: readonly string[];
  readonly atEnd: boolean;
}

function renderTable(page: Page, table: Table, width: number): string[] {
  const grid = tableGrid(table);
  const widths = columnWidths(page, grid, width);
  return grid.flatMap((line, row) => {
    const cells = cellsOfRow(line).map(({ cell, column, row: firstRow }): TableSlot => {
      const span = cell.columnSpan ?? 1;
      const rendered =
        firstRow === row ? renderCell(page, cell, spanWidth(widths, column, span)) : { lines: [], atEnd: false };
      return { ...rendered, width: spanWidth(widths, column, span) };
    });
    const lines = rowLines(cells);
    return row + 1 === table.headerRows ? [...lines, widths.map((each) => '-'.repeat(each)).join('  ')] : lines;
  });
}

/** As wide as the widest cell that stands in one column alone, made smaller until all fit. */
function columnWidths(page: Page, grid: Grid, width: number): number[] {
  const widths = (grid[0] ?? []).map(() => 1);
  const scratch: Page = { ...page, notes: [...page.notes] };
  for (const { cell, column } of grid.flatMap(cellsOfRow)) {
    if ((cell.columnSpan ?? 1) === 1)
      widths[column] = Math.max(
        widths[column] ?? 1,
        ...renderCell(scratch, cell, 10_000).lines.map((line) => columnsOf(line)),
      );
  }
  shrink(widths, width - 2 * (widths.length - 1));
  return widths;
}

function renderCell(page: Page, { blocks }: TableCell, width: number): RenderedCell {
  const [first] = blocks;
  return {
    lines: renderBlocks(page, blocks, width, []).flatMap((line) => wrap(line, width)),
    atEnd: first?.type === 'paragraph' && first.align === 'end',
  };
}

const spanWidth = (widths: readonly number[], column: number, span: number): number =>
  widths.slice(column, column + span).reduce((sum, each) => sum + each, 0) + 2 * (span - 1);

/** Takes from the widest column until all fit. */
function shrink(widths: number[], available: number): void {
  for (let sum = widths.reduce((one, other) => one + other, 0); sum > available; sum--) {
    const most = Math.max(...widths);
    if (most <= 8) return;
    widths[widths.indexOf(most)] = most - 1;
  }
}

interface TableSlot extends RenderedCell {
  readonly width: number;
}

const rowLines = (cells: readonly TableSlot[]): string[] =>
  Array.from({ length: Math.max(1, ...cells.map(({ lines }) => lines.length)) }, (_, line) =>
    cells
      .map(({ lines, atEnd, width }) => (atEnd ? fitEnd : fit)(lines[line] ?? '', width))
      .join('  ')
      .trimEnd(),
  );
