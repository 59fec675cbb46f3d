import type { Table, TableCell } from './model.ts';

/** A cell and the place where it begins, counted from 0. */
export interface PlacedCell {
  readonly cell: TableCell;
  readonly row: number;
  readonly column: number;
}

/**
 * The table as a full grid: for each row and column the cell that covers it, and `undefined` where none does. Cells go to
 * the first free column, as in HTML (section 4.9.12); a span ends with the table.
 */
export function tableGrid({ rows }: Table): readonly (readonly (PlacedCell | undefined)[])[] {
  const grid: (PlacedCell | undefined)[][] = rows.map(() => []);
  rows.forEach(({ cells }, row) => {
    let column = 0;
    for (const cell of cells) {
      while (grid[row]?.[column]) column++;
      const { rowSpan = 1, columnSpan = 1 } = cell;
      const placed = { cell, row, column };
      for (const line of grid.slice(row, row + rowSpan)) {
        for (let across = column; across < column + columnSpan; across++) line[across] ??= placed;
      }
      column += columnSpan;
    }
  });
  const columns = grid.reduce((most, line) => Math.max(most, line.length), 0);
  return grid.map((line) => Array.from({ length: columns }, (_, column) => line[column]));
}

/** How many columns a table has, spans counted. */
export const columnCount = (table: Table): number => tableGrid(table)[0]?.length ?? 0;

/** The cells of one row of the grid, each once; those that began further up have a lower `row`. */
export const cellsOfRow = (line: readonly (PlacedCell | undefined)[]): PlacedCell[] =>
  line.filter((placed, column): placed is PlacedCell => placed !== undefined && placed.column === column);
