import {
  blocksText,
  type Cell,
  type CellsContent,
  type Table,
  type TableCell,
  tableGrid,
} from '../../content/index.ts';

/** A table as a range: the values its cells are known to have, and the words of the others. */
export function valuedCells(table: Table, values: ReadonlyMap<TableCell, Cell>): CellsContent {
  return {
    shape: 'cells',
    ...(table.columnWidths && { columnWidths: table.columnWidths }),
    rows: tableGrid(table).map((line, row) =>
      line.map((placed, column): Cell => {
        if (!placed || placed.row !== row || placed.column !== column) return { type: 'empty' };
        const { columnSpan, rowSpan, background, blocks } = placed.cell;
        const words = blocksText(blocks, '\n');
        return {
          ...(values.get(placed.cell) ?? (words === '' ? { type: 'empty' } : { type: 'text', value: words })),
          ...(columnSpan !== undefined && { columnSpan }),
          ...(rowSpan !== undefined && { rowSpan }),
          ...(background !== undefined && { background }),
        };
      }),
    ),
  };
}
