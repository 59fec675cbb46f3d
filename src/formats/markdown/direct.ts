import { markdownTable } from 'markdown-table';
import type { Block, Inline, List, Table, TableCell, Text } from '../../content/index.ts';
import { alignments } from './write-blocks.ts';

/**
 * Most of what is gathered is plain: paragraphs, headings, short lists and tables of words that hold no sign which Markdown
 * reads. Such blocks are put together here, as the serialiser of trees writes them; anything else is `undefined` and left to
 * it, since it looks at every sign of every word, which takes ten times as long.
 */
export function directBlock(block: Block): string | undefined {
  switch (block.type) {
    case 'paragraph':
      return directLine(block.inlines);
    case 'heading': {
      const words = directLine(block.inlines);
      return words === undefined ? undefined : `${'#'.repeat(block.level)} ${words}`;
    }
    case 'list':
      return directList(block);
    case 'table':
      return directTable(block);
    default:
      return undefined;
  }
}

/** Signs that mean nothing to Markdown wherever they stand within a line, and some that mean nothing where they stand here. */
const harmless =
  /^(?:[\p{L}\p{M}\p{N}\p{Sc}\p{Pd}\p{Pi}\p{Pf},;%?'"/()+=!°…·]| (?! )|&(?= )|:(?![/-])|\.(?![\w.-])|(?<=\d)\.(?=\d)|(?<=[\p{L}\p{N}])-)*$/u;
/** How a line may begin: not as a list, a heading or anything else that is told by its first signs. */
const begins = /^(?!\d+(?:\)|\.(?: |$)))[\p{L}\p{N}\p{Sc}\p{Pi}("']/u;
const ends = /[^ ]$/;

function directLine(inlines: readonly Inline[]): string | undefined {
  let line = '';
  for (const [index, inline] of inlines.entries()) {
    const words = inline.type === 'text' ? directText(inline, inlines[index - 1], inlines[index + 1]) : undefined;
    if (words === undefined) return undefined;
    line += words;
  }
  return begins.test(line.replace(/^\*+/, '')) && ends.test(line) ? line : undefined;
}

const signs = { bold: '**', italic: '*' } as const;

function directText({ text, marks }: Text, before: Inline | undefined, after: Inline | undefined): string | undefined {
  if (!harmless.test(text)) return undefined;
  const [mark, ...others] = marks ? (Object.keys(marks) as (keyof typeof marks)[]) : [];
  if (mark === undefined) return text;
  if (others.length > 0 || (mark !== 'bold' && mark !== 'italic')) return undefined;
  // Where words alone or blanks stand on either side, a sign of emphasis is read as one (CommonMark, section 6.2).
  const isApart =
    /^[\p{L}\p{N}](?:.*[\p{L}\p{N}])?$/u.test(text) &&
    (before === undefined || isPlainText(before, / $/)) &&
    (after === undefined || isPlainText(after, /^[ .,;:]/));
  return isApart ? signs[mark] + text + signs[mark] : undefined;
}

const isPlainText = (inline: Inline, pattern: RegExp): boolean =>
  inline.type === 'text' && Object.keys(inline.marks ?? {}).length === 0 && pattern.test(inline.text);

function directList({ ordered, start = 1, items }: List): string | undefined {
  const lines: string[] = [];
  for (const [index, { blocks, checked }] of items.entries()) {
    const [only, ...others] = blocks;
    const words = only?.type === 'paragraph' && others.length === 0 ? directLine(only.inlines) : undefined;
    if (words === undefined) return undefined;
    const box = checked === undefined ? '' : `[${checked ? 'x' : ' '}] `;
    lines.push(`${ordered ? `${start + index}.` : '-'} ${box}${words}`);
  }
  return lines.length === 0 ? undefined : lines.join('\n');
}

function directTable({ rows, headerRows = 0 }: Table): string | undefined {
  const columns = rows[0]?.cells.length ?? 0;
  const matrix: string[][] = headerRows > 0 ? [] : [Array.from({ length: columns }, () => '')];
  if (columns === 0) return undefined;
  for (const [row, { cells }] of rows.entries()) {
    const line = cells.map((cell) => directCell(cell, row < headerRows));
    if (line.length !== columns || !line.every((words) => words !== undefined)) return undefined;
    matrix.push(line);
  }
  return markdownTable(matrix, { align: alignments(rows.slice(headerRows).map(({ cells }) => cells)) });
}

/** Heading cells are shown bold as it is. */
function directCell({ blocks, columnSpan = 1, rowSpan = 1 }: TableCell, isHeading: boolean): string | undefined {
  const [only, ...others] = blocks;
  if (columnSpan > 1 || rowSpan > 1 || others.length > 0) return undefined;
  if (only === undefined) return '';
  if (only.type !== 'paragraph') return undefined;
  if (only.inlines.length === 0) return '';
  const isBold = isHeading && only.inlines.some((inline) => inline.type === 'text' && inline.marks?.bold);
  return isBold ? undefined : directLine(only.inlines);
}
