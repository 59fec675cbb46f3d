import type { CellsContent, Content, Gap, Gaps, Note, Table, TableCell } from './model.ts';

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

/** The rows and columns of a range, those not held counted too. */
export const rangeSize = ({ rows, gaps }: CellsContent): { readonly rows: number; readonly columns: number } => ({
  rows: rows.length + blank(gaps?.rows, rows.length),
  columns: (rows[0]?.length ?? 0) + blank(gaps?.columns, rows[0]?.length ?? 0),
});

const blank = (gaps: readonly Gap[] = [], held: number): number =>
  gaps.reduce((sum, { before, count }) => (before < held ? sum + count : sum), 0);

/** That a table in running text has no place for the gaps of a range. */
export function gapNotes(content: Content): Note[] {
  if (content.shape !== 'cells' || !content.gaps) return [];
  const size = rangeSize(content);
  const left = [
    ['blank-rows-left', size.rows - content.rows.length] as const,
    ['blank-columns-left', size.columns - (content.rows[0]?.length ?? 0)] as const,
  ];
  return left.flatMap(([kind, count]) => (count > 0 ? [{ kind, params: { count }, count: 1 }] : []));
}

/** How far each of the lines held stands from the first line of the range, from 0. */
export function offsets(held: number, gaps: readonly Gap[] = []): number[] {
  const counts = new Map(gaps.map(({ before, count }) => [before, count]));
  let skipped = 0;
  return Array.from({ length: held }, (_, index) => {
    skipped += counts.get(index) ?? 0;
    return index + skipped;
  });
}

/** The gaps of two ranges, the second under the first without its first `heads` rows; columns stand as in the first. */
export function stackedGaps(above: CellsContent, below: CellsContent, heads = 0): Gaps | undefined {
  const moved = (below.gaps?.rows ?? []).flatMap(({ before, count }): Gap[] =>
    before > heads ? [{ before: before - heads + above.rows.length, count }] : [],
  );
  const rows = [...(above.gaps?.rows ?? []), ...moved];
  const columns = above.gaps?.columns;
  return rows.length > 0 || columns ? { ...(rows.length > 0 && { rows }), ...(columns && { columns }) } : undefined;
}

/** The gaps of one row of a range. */
export const rowGaps = ({ gaps }: CellsContent): Pick<CellsContent, 'gaps'> =>
  gaps?.columns ? { gaps: { columns: gaps.columns } } : {};
