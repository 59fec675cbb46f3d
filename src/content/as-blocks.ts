import { textWithBreaks } from './build.ts';
import type {
  Alignment,
  Block,
  Cell,
  CellsContent,
  Content,
  Marks,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  ValueCell,
} from './model.ts';

/** Any content as the blocks it becomes in running text: words a paragraph, a range a small table. */
export function asBlocks(content: Content): readonly Block[] {
  switch (content.shape) {
    case 'blocks':
      return content.blocks;
    case 'run':
      return [{ type: 'paragraph', inlines: content.inlines }];
    case 'cells':
      return [cellsToTable(content)];
    case 'picture':
      return [{ type: 'picture', ...content.picture }];
  }
}

/**
 * A range as a table that shows what its sheet shows: numbers and dates at the end side, truth values and errors in the
 * middle, as a sheet aligns them. The first row is a heading when it is all words over something that is not.
 */
export function cellsToTable(content: CellsContent): Table {
  const covered = coveredPlaces(content.rows);
  return {
    type: 'table',
    ...(hasHeading(content) && { headerRows: 1 }),
    ...(content.columnWidths && { columnWidths: content.columnWidths.map(tableWidth) }),
    rows: content.rows.map(
      (row, rowIndex): TableRow => ({
        cells: row.flatMap((cell, column) =>
          covered.has(`${rowIndex},${column}`) ? [] : [toTableCell(cell, content.untyped)],
        ),
      }),
    ),
  };
}

/** A sheet's columns have no margins inside and smaller letters than running text has. */
const tableWidth = (width: number): number => Math.round((width * 1.1 + 10.8) * 100) / 100;

/** The text a cell shows. */
export function cellText(cell: Cell): string {
  switch (cell.type) {
    case 'empty':
      return '';
    case 'text':
    case 'error':
      return cell.value;
    default:
      return cell.text;
  }
}

/** The places of a range, as `row,column`, that a neighbour's span covers. */
export function coveredPlaces(rows: CellsContent['rows']): ReadonlySet<string> {
  const covered = new Set<string>();
  rows.forEach((row, rowIndex) => {
    row.forEach((cell, column) => {
      const { rowSpan = 1, columnSpan = 1 } = cell;
      if (rowSpan === 1 && columnSpan === 1) return;
      for (let down = 0; down < Math.min(rowSpan, rows.length - rowIndex); down++) {
        for (let across = 0; across < Math.min(columnSpan, row.length - column); across++) {
          if (down > 0 || across > 0) covered.add(`${rowIndex + down},${column + across}`);
        }
      }
    });
  });
  return covered;
}

function toTableCell(cell: Cell, untyped: true | undefined): TableCell {
  const { columnSpan, rowSpan, background } = cell;
  return {
    blocks:
      cell.type === 'empty'
        ? []
        : [cellParagraph(cellText(cell), cell.align ?? alignmentOf(cell, untyped), cell.marks)],
    ...(columnSpan !== undefined && { columnSpan }),
    ...(rowSpan !== undefined && { rowSpan }),
    ...(background !== undefined && { background }),
    ...(cell.type !== 'empty' && cell.type !== 'text' && { value: bareValue(cell) }),
  };
}

/** The value alone: how the cell looks and how far it reaches stands in the table's own cell. */
function bareValue({
  columnSpan: _,
  rowSpan: __,
  background: ___,
  align: ____,
  marks: _____,
  ...value
}: ValueCell): ValueCell {
  return value as ValueCell;
}

const cellParagraph = (words: string, align: Alignment | undefined, marks: Marks | undefined): Paragraph => ({
  type: 'paragraph',
  inlines: textWithBreaks(words, marks),
  ...(align !== undefined && align !== 'start' && { align }),
});

const ownAlignment = {
  empty: undefined,
  text: undefined,
  number: 'end',
  date: 'end',
  boolean: 'center',
  error: 'center',
} as const satisfies Record<Cell['type'], Alignment | undefined>;

const alignmentOf = (cell: Cell, untyped: true | undefined): Alignment | undefined =>
  untyped && isFigure(cell) ? 'end' : ownAlignment[cell.type];

/** Whether untyped words look like a number, in whichever language. */
const isFigure = (cell: Cell): boolean =>
  cell.type === 'text' && /^[(\-−]?[£$€¥]? ?\d[\d.,'’ \u00a0\u202f]*(?: ?[%£$€¥])?\)?$/.test(cell.value);

const hasHeading = ({ rows: [first = [], ...rest], untyped }: CellsContent): boolean => {
  const isValue = (cell: Cell): boolean =>
    cell.type === 'number' || cell.type === 'date' || (untyped === true && isFigure(cell));
  return (
    first.some((cell) => cell.type === 'text') &&
    first.every((cell) => (cell.type === 'text' || cell.type === 'empty') && !isValue(cell)) &&
    rest.some((row) => row.some(isValue))
  );
};
