import { type Cell, type CellsContent, cellText, type Note, noMedia } from '../../content/index.ts';
import { type Fragment, parseFragment, printFragment } from '../../places/index.ts';
import {
  type Filled,
  type Inserted,
  type Insertion,
  type Slot,
  type SlotValue,
  type Source,
  sourceOf,
} from '../format.ts';
import type { AnySheet, NamedPlace } from './places.ts';

/** A label is short, and asks for one thing. */
const longestLabel = 60;

/**
 * Slots of a sheet beside or below its labels: words that end with a colon, with nothing to their right; else nothing below
 * them. Other words with room to their right are slots only for who names them.
 */
function labelSlots(sheet: string, { rows }: CellsContent): Slot[] {
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
        ? { row: row + 1, column: column + 1 + (cell.columnSpan ?? 1) }
        : { row: row + 2, column: column + 1 };
      const span = (number: number) => ({ from: number, to: number });
      const key = printFragment({ kind: 'cells', sheet, rows: span(place.row), columns: span(place.column) });
      return [{ key, names: [words], kind: 'text', ...(!isLabel && { isGuess: true as const }) }];
    }),
  );
}

/** Slots of cells that have a name of their own. */
const namedCellSlots = (names: readonly NamedPlace[]): Slot[] =>
  names
    .filter(({ name, formula }) => !name.startsWith('_') && /[A-Z]\$?\d+$/.test(formula) && !formula.includes(':'))
    .map(({ name, formula }) => ({ key: formula.replaceAll('$', ''), names: [name], kind: 'text' }));

type InsertCells = (source: Source, fragment: Fragment, insertion: Insertion) => Promise<Inserted>;

/** A form with values in its cells, by their places: each put in like any other cell. */
export async function fillCells(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  insert: InsertCells,
  language?: string,
): Promise<Filled> {
  const notes: Note[] = [];
  let filled = source;
  for (const [key, value] of values) {
    const content = { shape: 'cells', rows: [[valueCell(value)]], untyped: true } as const;
    const inserted = await insert(filled, parseFragment(key), {
      content,
      media: noMedia,
      style: 'local',
      over: true,
      languages: [language],
    });
    notes.push(...inserted.notes);
    filled = sourceOf(inserted.bytes, source.name);
  }
  return { bytes: await filled.read(0, filled.size), notes };
}

type ReadPlace = (place: Fragment) => Promise<CellsContent>;

/** How far a form is looked through on each of its sheets. */
const looked = { rows: { from: 1, to: 500 }, columns: { from: 1, to: 50 } };

/** The named cells of a workbook, and the cells beside its labels. */
export async function formSlots(
  sheets: readonly AnySheet[],
  names: readonly NamedPlace[],
  read: ReadPlace,
): Promise<Slot[]> {
  const named = namedCellSlots(names);
  const labelled: Slot[] = [];
  for (const { name, hidden } of sheets) {
    if (hidden) continue;
    labelled.push(...labelSlots(name, await read({ kind: 'cells', sheet: name, ...looked })));
  }
  return [...named, ...labelled.filter(({ key }) => !named.some((slot) => slot.key === key))];
}

/** A value as a cell; a day and a number stay what they are. */
function valueCell(value: SlotValue): Cell {
  if (typeof value === 'number') return { type: 'number', value, text: String(value) };
  if (typeof value === 'boolean') return { type: 'boolean', value, text: value ? 'TRUE' : 'FALSE' };
  if (/^\d{4}-\d\d-\d\d$/.test(value)) return { type: 'date', value, text: value, format: 'd mmm yyyy' };
  return { type: 'text', value };
}
