import { type Cell, type CellsContent, cellText } from '../../content/index.ts';
import { printFragment } from '../../places/index.ts';
import type { Slot, SlotValue } from '../format.ts';

/** A label is short, and asks for one thing. */
const longestLabel = 60;

/**
 * Slots of a sheet beside or below its labels: words that end with a colon, with nothing to their right; else nothing below
 * them. Other words with room to their right are slots only for who names them.
 */
export function labelSlots(
  sheet: string,
  { rows }: CellsContent,
  first: { readonly row: number; readonly column: number },
): Slot[] {
  const isEmpty = (cell: Cell | undefined): boolean =>
    cell === undefined || (cell.type === 'empty' && cell.formula === undefined);
  return rows.flatMap((line, row) =>
    line.flatMap((cell, column): Slot[] => {
      const words = cell.type === 'text' ? cellText(cell).trim() : '';
      if (words === '' || words.length > longestLabel || words.includes('\n')) return [];
      const isLabel = words.endsWith(':');
      const right = isEmpty(line[column + (cell.columnSpan ?? 1)]);
      if (!right && !(isLabel && isEmpty(rows[row + 1]?.[column]))) return [];
      const place = right
        ? { row: first.row + row, column: first.column + column + (cell.columnSpan ?? 1) }
        : { row: first.row + row + 1, column: first.column + column };
      const span = (number: number) => ({ from: number, to: number });
      const key = printFragment({ kind: 'cells', sheet, rows: span(place.row), columns: span(place.column) });
      return [{ key, names: [words], kind: 'text', ...(!isLabel && { isGuess: true as const }) }];
    }),
  );
}

/** A value as a cell; a day and a number stay what they are. */
export function valueCell(value: SlotValue): Cell {
  if (typeof value === 'number') return { type: 'number', value, text: String(value) };
  if (typeof value === 'boolean') return { type: 'boolean', value, text: value ? 'TRUE' : 'FALSE' };
  if (/^\d{4}-\d\d-\d\d$/.test(value)) return { type: 'date', value, text: value, format: 'd mmm yyyy' };
  return { type: 'text', value };
}
