import { columnLetters, maxColumns, maxRows, printFragment } from '../../../places/index.ts';
import type { Area } from '../../sheets/area.ts';
import { movedFormula, namesCells } from '../../sheets/formulas.ts';
import type { Book } from './read.ts';
import { scanRows } from './row-scanner.ts';
import { ByteStream, readSummary } from './sheet-stream.ts';
import type { Sheet } from './workbook.ts';

/** The cells outside an area whose formulas name cells in it. */
export async function findPointing(book: Book, emptied: Sheet, area: Area): Promise<string[]> {
  const whole = { rows: area.rows ?? { from: 1, to: maxRows }, columns: area.columns ?? { from: 1, to: maxColumns } };
  const found: string[] = [];
  for (const sheet of book.workbook.sheets) {
    const isOwn = sheet === emptied;
    await formulasOf(book, sheet, (formula, column, row) => {
      const isInside =
        isOwn &&
        whole.rows.from <= row &&
        row <= whole.rows.to &&
        whole.columns.from <= column &&
        column <= whole.columns.to;
      if (!isInside && namesCells(formula, isOwn, emptied.name, whole)) found.push(cellName(sheet.name, column, row));
    });
  }
  return found;
}

/** Every formula of a sheet, shared ones as they read in each cell. */
export async function formulasOf(
  { zip }: Book,
  sheet: Sheet,
  hear: (formula: string, column: number, row: number) => void,
): Promise<void> {
  const entry = zip.find(sheet.part);
  if (!entry) return;
  const stream = new ByteStream(zip.chunks(entry));
  const head = await readSummary(stream, sheet.part);
  const shared = new Map<string, { readonly text: string; readonly column: number; readonly row: number }>();
  let row = 0;
  await scanRows(stream, head.prefix, 0, {
    row(number) {
      row = number;
      return true;
    },
    number: () => {},
    string: () => {},
    cell(column, _type, _style, _value, formula) {
      if (!formula) return;
      if (formula.shared !== undefined && formula.text !== '')
        shared.set(formula.shared, { text: formula.text, column, row });
      const master = formula.text === '' ? shared.get(formula.shared ?? '') : undefined;
      const words = master ? movedFormula(master.text, master, { column, row }) : formula.text;
      if (words !== '') hear(words, column, row);
    },
  });
  await stream.close();
}

/** A cell in people's words, such as `Timber!B2`. */
const cellName = (sheet: string, column: number, row: number): string =>
  `${printFragment({ kind: 'cells', sheet })}${columnLetters(column)}${row}`;
