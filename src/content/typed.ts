import { cellText } from './as-blocks.ts';
import { tableGrid } from './grid.ts';
import type { Block, Cell, CellsContent, Content, Inline, Note, Table, TableCell, ValueCell } from './model.ts';
import { blocksText, inlineText } from './plain-text.ts';
import { ValueReader, type WrittenCell } from './written-value.ts';

/**
 * Content with values where its words write some: the cells of an untyped range become numbers, dates and truth values, and
 * the cells of tables in running text, below their headings, get one beside their words. Content without any is the same object.
 * @param language a BCP 47 tag: how numbers and dates are written in it.
 * @param notes gets a note for each column whose numbers can be read in two ways, and so stay words.
 */
export function typedContent(content: Content, language: string | undefined, notes: Note[] = []): Content {
  if (content.shape === 'cells') return content.untyped ? typedRange(content, language, notes) : content;
  if (content.shape !== 'blocks' || !content.blocks.some(({ type }) => type === 'table')) return content;
  const reader = new ValueReader(language);
  const blocks = content.blocks.map(
    (block): Block => (block.type === 'table' ? typedTable(block, reader, notes) : block),
  );
  return blocks.every((block, at) => block === content.blocks[at]) ? content : { ...content, blocks };
}

function typedRange({ untyped: _, ...range }: CellsContent, language: string | undefined, notes: Note[]): CellsContent {
  const reader = new ValueReader(language);
  const width = range.rows.reduce((most, row) => Math.max(most, row.length), 0);
  const columns = Array.from({ length: width }, (_, column) => {
    const words = range.rows.map((row) => (row[column]?.type === 'text' ? cellText(row[column]) : ''));
    return columnOf(words, reader, notes);
  });
  return {
    ...range,
    rows: range.rows.map((row, at) => row.map((cell, column) => typedCell(cell, columns[column]?.[at]))),
  };
}

function typedCell(cell: Cell, value: WrittenCell | undefined): Cell {
  if (!value) return cell;
  const { type: _, value: __, ...look } = cell as Extract<Cell, { type: 'text' }>;
  return { ...look, ...value };
}

/** A cell counts in the column in which it begins. */
function typedTable(table: Table, reader: ValueReader, notes: Note[]): Table {
  const grid = tableGrid(table);
  const heads = table.headerRows ?? 0;
  const found = new Map<TableCell, ValueCell>();
  for (let column = 0; column < (grid[0]?.length ?? 0); column++) {
    const cells = grid.slice(heads).flatMap((line, row) => {
      const placed = line[column];
      return placed?.row === row + heads && placed.column === column ? [placed.cell] : [];
    });
    columnOf(cells.map(valueWords), reader, notes).forEach((value, at) => {
      const cell = cells[at];
      if (value && cell && !findValue(cell)) found.set(cell, value);
    });
  }
  if (found.size === 0) return table;
  return {
    ...table,
    rows: table.rows.map(({ cells }) => ({
      cells: cells.map((cell) => {
        const value = found.get(cell);
        return value ? { ...cell, value } : cell;
      }),
    })),
  };
}

function columnOf(words: readonly string[], reader: ValueReader, notes: Note[]): readonly (WrittenCell | undefined)[] {
  const { values, ambiguity } = reader.readColumn(words);
  if (ambiguity) notes.push(ambiguousNote(ambiguity));
  return values;
}

/** That numbers of one column may be read in two ways. */
export const ambiguousNote = ([one, other]: readonly [string, string]): Note => ({
  kind: 'decimals-ambiguous',
  params: { one, other },
  count: 1,
});

/** The words of a table cell that may write a value: one paragraph of plain words. */
function valueWords({ blocks }: TableCell): string {
  const [only] = blocks;
  return blocks.length === 1 && only?.type === 'paragraph' ? (plainWords(only.inlines) ?? '') : '';
}

/** Words that are only words: raised and lowered digits, notes and pictures among them would be read as something else. */
export function plainWords(inlines: readonly Inline[]): string | undefined {
  const isPlain = inlines.every((inline) => inline.type === 'text' && inline.marks?.position === undefined);
  return isPlain ? inlineText(inlines) : undefined;
}

/** The typed cell behind a table cell, as long as its words are the ones that this shows. */
export function findValue({ value, blocks }: TableCell): ValueCell | undefined {
  return value && cellText(value) === blocksText(blocks) ? value : undefined;
}
