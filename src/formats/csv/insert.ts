import { type Cell, cellText, DrawerError, type Message, type Note, type Param } from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
import { checkBookmark } from '../capabilities.ts';
import { type Inserted, type Insertion, type ReadTools, readWhole, type Source } from '../format.ts';
import { landedAt } from '../insertion.ts';
import { hidesFormula, looksLikeFormula } from '../sheets/formulas.ts';
import {
  cellName,
  cellsTaken,
  checkFree,
  type FilledCell,
  type Grid,
  type GridRow,
  gridSize,
  layOut,
} from '../sheets/layout.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { lineEndOf } from '../text/positions.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import { type CsvTable, findAreas, readTable } from './read.ts';
import { type Dialect, type Row, readRows } from './rows.ts';

/**
 * The file with rows put between its rows, or with fields filled: `#row=5` takes rows before, after or instead of it, a
 * cell takes a range with its corner there. Written as the file is: its separator, quotes and line ends.
 */
export async function insertCsv(
  source: Source,
  fragment: Fragment,
  insertion: Insertion,
  tools?: ReadTools,
): Promise<Inserted> {
  checkBookmark('csv', insertion.bookmark);
  const decoded = decodeExactly(await readWhole(source, 'values'));
  const { text } = decoded;
  const table = readTable(text, tools);
  const rows = readRows(text, table.dialect);
  const { grid, notes } = layOut(insertion, { holdsValues: false });
  const writer = new FieldWriter(text, rows, table.dialect);
  const landing =
    fragment.kind === 'whole' || fragment.kind === 'row'
      ? landRows(text, rows, table, fragment, insertion, writer.lines(grid, table.columns))
      : landCells(rows, table, fragment, insertion, writer, grid);
  const safe: Note[] = writer.madeSafe > 0 ? [{ kind: 'formula-made-safe', count: writer.madeSafe }] : [];
  return { ...landing, notes: [...notes, ...safe], bytes: encodeText(applyEdits(text, landing.edits), decoded) };
}

interface CsvLanding {
  readonly edits: readonly TextEdit[];
  readonly where: Message;
  readonly replaced?: Param;
  readonly cells?: string;
}

function landRows(
  text: string,
  rows: readonly Row[],
  table: CsvTable,
  fragment: Fragment,
  { side = fragment.kind === 'whole' ? 'end' : 'after' }: Insertion,
  lines: readonly string[],
): CsvLanding {
  const [area] = rows.length === 0 ? [] : findAreas(table, fragment);
  const first = rows[(area?.rows.from ?? 1) - 1];
  const last = rows[(area?.rows.to ?? 1) - 1];
  const end = lineEndOf(text);
  const body = lines.map((line) => line + end).join('');
  if (!first || !last)
    return {
      edits: [{ start: text.length, end: text.length, replacement: body }],
      where: { kind: 'landed.firstRows' },
    };
  const isFront = side === 'before' || side === 'start';
  const place =
    fragment.kind === 'whole'
      ? 'all rows'
      : `row ${area?.rows.from}${area && area.rows.to > area.rows.from ? `–${area.rows.to}` : ''}`;
  if (side === 'replace')
    return {
      edits: [
        {
          start: first.start,
          end: last.end,
          replacement: last.end === text.length && !/[\n\r]$/.test(text) ? body.slice(0, -end.length) : body,
        },
      ],
      where: landedAt('replace', place),
      replaced: text.slice(first.start, last.end),
    };
  const at = isFront ? first.start : last.end;
  const needsEnd = !isFront && !/[\n\r]$/.test(text.slice(0, at));
  const replacement = needsEnd ? end + body.slice(0, -end.length) : body;
  return { edits: [{ start: at, end: at, replacement }], where: landedAt(isFront ? 'before' : 'after', place) };
}

function landCells(
  rows: readonly Row[],
  table: CsvTable,
  fragment: Fragment,
  { over }: Insertion,
  writer: FieldWriter,
  grid: Grid,
): CsvLanding {
  const { row, column } = cornerOf(table, fragment);
  const taken: FilledCell[] = [];
  const edits: TextEdit[] = [];
  const added: string[] = [];
  const end = Math.max(row - 1, rows.length);
  for (const { offset, cells: line } of grid) {
    const existing = rows[row - 1 + offset];
    if (!existing) {
      while (end + added.length < row - 1 + offset) added.push(writer.blank(table.columns));
      added.push(writer.line([...Array.from({ length: column - 1 }, () => undefined), ...line]));
      continue;
    }
    const behind: string[] = [];
    line.forEach((cell, across) => {
      if (!cell) return;
      const field = existing.fields[column - 1 + across];
      if (!field) {
        const missing = column - 1 + across - existing.fields.length - behind.length;
        behind.push(...Array.from({ length: Math.max(0, missing) }, () => ''), writer.field(cell));
        return;
      }
      if (field.value !== '') taken.push({ row: row + offset, column: column + across, words: field.value });
      edits.push({ start: field.start, end: field.end, replacement: writer.field(cell) });
    });
    const fieldEnd = existing.fields.at(-1)?.end ?? existing.start;
    if (behind.length > 0)
      edits.push({
        start: fieldEnd,
        end: fieldEnd,
        replacement: behind.map((field) => writer.separator + field).join(''),
      });
  }
  checkFree(taken, over);
  if (added.length > 0) edits.push(writer.atEnd(added));
  const size = gridSize(grid);
  const to = { row: row + size.rows - 1, column: column + Math.max(1, size.columns) - 1 };
  const cells =
    size.rows === 1 && to.column === column
      ? cellName({ row, column })
      : `${cellName({ row, column })}:${cellName(to)}`;
  return {
    edits,
    where: { kind: 'landed.cells', params: { place: cells } },
    cells,
    ...(taken.length > 0 && { replaced: cellsTaken(taken) }),
  };
}

/** The first cell of a place, which may lie below or beside what is there. */
function cornerOf(table: CsvTable, fragment: Fragment): { row: number; column: number } {
  if (fragment.kind === 'cells' && fragment.sheet === undefined && fragment.rows)
    return { row: Math.min(fragment.rows.from, table.values.length + 1), column: fragment.columns?.from ?? 1 };
  const selection = fragment.kind === 'cell' ? fragment.selections[0]?.from : undefined;
  if (selection)
    return {
      row: selection[0] === '*' ? table.values.length : Math.min(selection[0] ?? 1, table.values.length + 1),
      column: selection[1] === '*' ? table.columns : (selection[1] ?? 1),
    };
  throw new DrawerError('unsupported/place-not-pasted', { place: printFragment(fragment) });
}

/** Writes fields as the file has them. */
class FieldWriter {
  readonly separator: string;
  /** How many words got a sign in front. */
  madeSafe = 0;
  readonly #text: string;
  readonly #quote: string;
  readonly #quotesAll: boolean;
  readonly #end: string;

  constructor(text: string, rows: readonly Row[], { separator, quote }: Dialect) {
    this.#text = text;
    this.separator = separator;
    this.#quote = quote;
    this.#end = lineEndOf(text);
    const filled = rows.slice(0, 50).flatMap(({ fields }) => fields.filter(({ value }) => value !== ''));
    this.#quotesAll = filled.length > 0 && filled.every(({ start }) => text[start] === quote);
  }

  /** Rows at least as long as those of the file. */
  lines(grid: Grid, columns: number): string[] {
    const lines: string[] = [];
    for (const { offset, cells } of grid) {
      while (lines.length < offset) lines.push(this.blank(Math.max(columns, cells.length)));
      lines.push(
        this.line([...cells, ...Array.from({ length: Math.max(0, columns - cells.length) }, () => undefined)]),
      );
    }
    return lines;
  }

  blank(columns: number): string {
    return this.separator.repeat(Math.max(0, columns - 1));
  }

  line(cells: GridRow['cells']): string {
    return cells.map((cell) => (cell ? this.field(cell) : '')).join(this.separator);
  }

  field(cell: Cell): string {
    const words = this.#safe(plainValue(cell));
    const needsQuotes =
      (this.#quotesAll && words !== '') ||
      hidesFormula(words) ||
      words.includes(this.separator) ||
      words.includes(this.#quote) ||
      /[\n\r]|^\s|\s$/.test(words);
    return needsQuotes ? this.#quote + words.replaceAll(this.#quote, this.#quote + this.#quote) + this.#quote : words;
  }

  /** A spreadsheet that opens the file would run it as a formula. */
  #safe(words: string): string {
    if (!looksLikeFormula(words)) return words;
    this.madeSafe++;
    return `'${words}`;
  }

  atEnd(lines: readonly string[]): TextEdit {
    const { length } = this.#text;
    const opens = length > 0 && !/[\n\r]$/.test(this.#text) ? this.#end : '';
    return { start: length, end: length, replacement: opens + lines.join(this.#end) + this.#end };
  }
}

/** Values as programs read them, and not as a sheet shows them. */
function plainValue(cell: Cell): string {
  if (cell.type === 'number') return String(cell.value);
  return cell.type === 'date' ? cell.value.replace('T', ' ') : cellText(cell);
}
