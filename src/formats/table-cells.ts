import {
  type Block,
  blocksCell,
  blocksText,
  type Cell,
  type CellsContent,
  countOf,
  DrawerError,
  type PlacedCell,
  type Table,
  tableGrid,
} from '../content/index.ts';
import { type NumberedFragment, printFragment, type Span, type TableCells } from '../places/index.ts';
import type { Side } from './format.ts';
import { nearest } from './nearest.ts';
import type { GridPlace } from './table-insertion.ts';

/** Some cells of a table in running text: as a range without types, and the blocks in them. */
export interface CellsOfTable {
  readonly content: CellsContent;
  readonly place: string;
  readonly blocks: readonly Block[];
  /** Where the first of them stands: the row, and which of the cells that begin in it, from 0. */
  readonly first: { readonly row: number; readonly cell: number };
}

/**
 * The cells of a table that a place names, spans cut to it.
 * @throws DrawerError `not-found` where the table has no such column, row or cell.
 */
export function cellsOfTable(table: Table, fragment: NumberedFragment, cells: TableCells): CellsOfTable {
  const grid = tableGrid(table);
  const area = areaIn(table, grid, cells, fragment.from);
  const rows: Cell[][] = [];
  const found = new Set<PlacedCell>();
  for (let row = area.rows.from; row <= area.rows.to; row++) {
    const line: Cell[] = [];
    for (let column = area.columns.from; column <= area.columns.to; column++) {
      const placed = grid[row - 1]?.[column - 1];
      const isFirst = placed !== undefined && !found.has(placed);
      if (placed) found.add(placed);
      line.push(placed && isFirst ? cellOf(placed, row, column, area) : { type: 'empty' });
    }
    rows.push(line);
  }
  return {
    content: { shape: 'cells', rows, untyped: true },
    place: printFragment(fragment),
    blocks: [...found].flatMap(({ cell }) => cell.blocks),
    first: placeOf(table, [...found][0]),
  };
}

function placeOf(table: Table, placed: PlacedCell | undefined): CellsOfTable['first'] {
  const row = placed?.row ?? 0;
  return { row, cell: placed ? (table.rows[row]?.cells.indexOf(placed.cell) ?? 0) : 0 };
}

/**
 * Where rows of cells go that are put at a place of a table: whole rows and columns that are named make room beside them, unless
 * they are to give way; cells are the corner of a range. `undefined` where it stands before, behind or instead of the table.
 */
export function gridPlace(table: Table, fragment: NumberedFragment, side: Side): GridPlace | undefined {
  const { cells } = fragment;
  if (!cells) {
    if (side !== 'start' && side !== 'end') return undefined;
    return { row: side === 'end' ? table.rows.length : (table.headerRows ?? 0), column: 0, adds: 'rows' };
  }
  const { rows, columns } = areaIn(table, tableGrid(table), cells, fragment.from);
  const corner = { row: rows.from - 1, column: columns.from - 1 };
  const isRows = !('heading' in cells) && cells.rows !== undefined && cells.columns === undefined;
  const isColumns = 'heading' in cells || (cells.columns !== undefined && cells.rows === undefined);
  if (isRows && side !== 'replace')
    return { row: side === 'before' || side === 'start' ? rows.from - 1 : rows.to, column: 0, adds: 'rows' };
  if (isColumns && (side === 'before' || side === 'after'))
    return { row: 0, column: side === 'before' ? columns.from - 1 : columns.to, adds: 'columns' };
  return corner;
}

/** Whether a place is a cell of the row that would come next in a table. */
export function startsBelow(table: Table, { cells }: NumberedFragment): boolean {
  if (!cells || 'heading' in cells || !cells.rows || !cells.columns) return false;
  return cells.rows.from === table.rows.length + 1 && cells.columns.to <= (tableGrid(table)[0]?.length ?? 0);
}

export const belowPlace = (table: Table, { cells }: NumberedFragment): GridPlace => ({
  row: table.rows.length,
  column: (cells && 'columns' in cells ? (cells.columns?.from ?? 1) : 1) - 1,
});

type Grid = ReturnType<typeof tableGrid>;
interface Area {
  readonly rows: Span;
  readonly columns: Span;
}

function areaIn(table: Table, grid: Grid, cells: TableCells, number: number): Area {
  const all = { rows: { from: 1, to: grid.length }, columns: { from: 1, to: grid[0]?.length ?? 0 } };
  if ('heading' in cells) {
    const column = columnOf(table, grid, cells.heading, number);
    const heads = Math.min(Math.max(1, table.headerRows ?? 1), grid.length - 1);
    return { rows: { from: heads + 1, to: grid.length }, columns: { from: column, to: column } };
  }
  const { rows = all.rows, columns = all.columns } = cells;
  if (rows.to <= all.rows.to && columns.to <= all.columns.to) return { rows, columns };
  throw new DrawerError('not-found/table-cells-unknown', {
    table: number,
    rows: countOf('rows', all.rows.to),
    columns: countOf('columns', all.columns.to),
  });
}

/** A column by the words of its heading, whatever their case. */
function columnOf(table: Table, grid: Grid, heading: string, number: number): number {
  const folded = (words: string): string => words.replace(/\s+/g, ' ').trim().toLowerCase();
  const heads = Math.max(1, table.headerRows ?? 1);
  const names = (grid[heads - 1] ?? []).map((placed) => blocksText(placed?.cell.blocks ?? [], ' ').trim());
  const at = names.findIndex((name) => folded(name) === folded(heading));
  if (at >= 0) return at + 1;
  const near = nearest(heading, names.filter(Boolean));
  throw new DrawerError('not-found/table-column-unknown', {
    table: number,
    heading,
    ...(near !== undefined && { near }),
  });
}

function cellOf({ cell, row, column }: PlacedCell, atRow: number, atColumn: number, area: Area): Cell {
  const rowSpan = Math.min(row + (cell.rowSpan ?? 1), area.rows.to) - atRow + 1;
  const columnSpan = Math.min(column + (cell.columnSpan ?? 1), area.columns.to) - atColumn + 1;
  return {
    ...blocksCell(cell.blocks),
    ...(rowSpan > 1 && { rowSpan }),
    ...(columnSpan > 1 && { columnSpan }),
    ...(cell.background !== undefined && { background: cell.background }),
  };
}
