import {
  blocksText,
  type Cell,
  type CellsContent,
  cellText,
  type Note,
  type Table,
  type TableCell,
} from '../content/index.ts';

/** One row of names over rows of values. */
interface Grid<T> {
  readonly names: readonly string[];
  readonly rows: readonly (readonly T[])[];
}

/**
 * Two grids under one heading, columns matched by their names whatever their order. Missing ones are filled; one without a
 * match is added at the end, and noted. `undefined` where fewer than half of the names match: these are different tables.
 */
function stack<T>(above: Grid<T>, below: Grid<T>, filler: T, notes: Note[]): Grid<T> | undefined {
  const names = [...above.names];
  const matches = below.names.filter((name) => name !== '' && names.includes(name)).length;
  const isOne = new Set(names).size === names.length && new Set(below.names).size === below.names.length;
  if (matches === 0 || !isOne || matches * 2 < Math.min(names.length, below.names.length)) return undefined;
  const added = below.names.filter((name) => !names.includes(name));
  for (const name of added)
    notes.push({ what: `column “${name}” is not in the table above: added at the end`, count: 1 });
  const missing = names.filter((name) => !below.names.includes(name));
  for (const name of missing)
    notes.push({ what: `column “${name}” is missing from a table below: left empty`, count: 1 });
  const all = [...names, ...added];
  const places = all.map((name) => below.names.indexOf(name));
  return {
    names: all,
    rows: [
      ...above.rows.map((row) => [...row, ...added.map(() => filler)]),
      ...below.rows.map((row) => places.map((place) => row[place] ?? filler)),
    ],
  };
}

const nameOf = (words: string): string => words.replace(/\s+/g, ' ').trim().toLowerCase();

/** Two tables as one, under the heading of the first; `undefined` where they have no heading in common. */
export function stackTables(above: Table, below: Table, notes: Note[]): Table | undefined {
  if ((above.headerRows ?? 0) < 1 || above.headerRows !== below.headerRows) return undefined;
  const heads = above.headerRows ?? 0;
  const isSame = JSON.stringify(namesOf(above, heads)) === JSON.stringify(namesOf(below, heads));
  if (isSame) return { ...above, rows: [...above.rows, ...below.rows.slice(heads)] };
  if (heads > 1 || hasSpans(above) || hasSpans(below)) return undefined;
  const [first, second] = [gridOf(above), gridOf(below)];
  const together = stack(first, second, { blocks: [] }, notes);
  if (!together) return undefined;
  const shown = [...(above.rows[0]?.cells ?? []), ...(below.rows[0]?.cells ?? [])];
  const heading = together.names.map((name) => shown.find((cell) => cellName(cell) === name) ?? { blocks: [] });
  const { columnWidths: _, ...rest } = above;
  const isWider = together.names.length > first.names.length;
  return { ...(isWider ? rest : above), rows: [heading, ...together.rows].map((cells) => ({ cells })) };
}

const cellName = ({ blocks }: TableCell): string => nameOf(blocksText(blocks, ' '));
const namesOf = ({ rows }: Table, heads: number): string[][] =>
  rows.slice(0, heads).map(({ cells }) => cells.map(cellName));
const hasSpans = ({ rows }: Table): boolean =>
  rows.some(({ cells }) => cells.some(({ rowSpan = 1, columnSpan = 1 }) => rowSpan > 1 || columnSpan > 1));
const gridOf = ({ rows }: Table): Grid<TableCell> => ({
  names: rows[0]?.cells.map(cellName) ?? [],
  rows: rows.slice(1).map(({ cells }) => cells),
});

/** Ranges under one another: under one heading where they share one, else as they are, the narrower filled up. */
export function stackRanges(above: CellsContent, below: CellsContent, notes: Note[]): CellsContent {
  const together =
    hasNames(above) && hasNames(below)
      ? stack(rangeGrid(above), rangeGrid(below), { type: 'empty' } as Cell, notes)
      : undefined;
  if (together) {
    const shown = [...(above.rows[0] ?? []), ...(below.rows[0] ?? [])];
    const heading = together.names.map(
      (name): Cell => shown.find((cell) => nameOf(cellText(cell)) === name) ?? { type: 'empty' },
    );
    return ranged(above, [heading, ...together.rows]);
  }
  return ranged(above, [...above.rows, ...below.rows]);
}

/** All words over something that is not: a heading. */
const hasNames = ({ rows: [first = [], ...rest] }: CellsContent): boolean =>
  rest.length > 0 && first.every(({ type }) => type === 'text') && first.length > 0;

const rangeGrid = ({ rows: [first = [], ...rest] }: CellsContent): Grid<Cell> => ({
  names: first.map((cell) => nameOf(cellText(cell))),
  rows: rest,
});

function ranged({ columnWidths }: CellsContent, rows: readonly (readonly Cell[])[]): CellsContent {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  return {
    shape: 'cells',
    rows: rows.map((row) => [...row, ...Array.from({ length: width - row.length }, (): Cell => ({ type: 'empty' }))]),
    ...(columnWidths?.length === width && { columnWidths }),
  };
}
