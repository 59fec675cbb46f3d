import {
  blocksCell,
  type Cell,
  type CellsContent,
  type Table,
  type TableCell,
  tableGrid,
} from '../../content/index.ts';
import { Display } from '../sheets/display.ts';
import { declarations, pixels, points } from './css.ts';
import { attribute, type Element, elementsIn, isElement } from './dom.ts';

/** Rows in the order shown: the head's, then the bodies', then the foot's. */
export function tableRows(table: Element): { row: Element; isHeader: boolean }[] {
  const sections = table.childNodes.filter(isElement);
  const rowsOf = (tag: string) =>
    sections
      .filter((section) => section.tagName === tag)
      .flatMap((section) => section.childNodes.filter(isElement).filter((row) => row.tagName === 'tr'));
  const head = rowsOf('thead').map((row) => ({ row, isHeader: true }));
  const body = [...sections.filter((row) => row.tagName === 'tr'), ...rowsOf('tbody'), ...rowsOf('tfoot')];
  const isHeading = (row: Element): boolean =>
    cellsOf(row).length > 0 && cellsOf(row).every((cell) => cell.tagName === 'th');
  return [...head, ...body.map((row) => ({ row, isHeader: head.length === 0 && isHeading(row) }))];
}

export const cellsOf = (row: Element): Element[] =>
  row.childNodes.filter(isElement).filter(({ tagName }) => tagName === 'td' || tagName === 'th');

export function spanOf(element: Element, name: string): number | undefined {
  const span = Number.parseInt(attribute(element, name) ?? '', 10);
  return span > 1 && span <= 1000 ? span : undefined; // HTML, section 4.9.11: at most 1000
}

export function columnWidths(table: Element): number[] | undefined {
  const columns = [
    ...elementsIn(table.childNodes.filter((node) => isElement(node) && node.tagName === 'colgroup')),
  ].filter(({ tagName }) => tagName === 'col');
  const widths = columns.map(
    (column) =>
      points(declarations(attribute(column, 'style')).get('width')) ?? pixels(attribute(column, 'width')) ?? 0,
  );
  return widths.length > 0 && widths.every((width) => width >= 0.01) ? widths : undefined;
}

/** A table as a range: the values its cells are known to have, and the words of the others. */
export function valuedCells(table: Table, values: ReadonlyMap<TableCell, Cell>): CellsContent {
  return {
    shape: 'cells',
    ...(table.columnWidths && { columnWidths: table.columnWidths }),
    rows: tableGrid(table).map((line, row) =>
      line.map((placed, column): Cell => {
        if (!placed || placed.row !== row || placed.column !== column) return { type: 'empty' };
        const { columnSpan, rowSpan, background, blocks } = placed.cell;
        const { marks, ...words } = blocksCell(blocks);
        return {
          ...(values.get(placed.cell) ?? words),
          ...(marks && { marks }),
          ...(columnSpan !== undefined && { columnSpan }),
          ...(rowSpan !== undefined && { rowSpan }),
          ...(background !== undefined && { background }),
        };
      }),
    ),
  };
}

/**
 * The value behind what a cell of a table shows, where a spreadsheet put it on the clipboard with attributes of its own.
 * `shown` is the cell's text.
 */
export function cellValue(element: Element, shown: string): Cell | undefined {
  return officeValue(element, shown) ?? openValue(element, shown) ?? webValue(element, shown);
}

const numberCell = (value: number, shown: string, format: string | undefined): Cell | undefined =>
  Number.isFinite(value)
    ? { type: 'number', value, text: shown || String(value), ...(format && format !== 'General' && { format }) }
    : undefined;

/** `x:num="1250"` or, where the text is the number, `x:num` alone; the format stands in a style property. */
function officeValue(element: Element, shown: string): Cell | undefined {
  const number = attribute(element, 'x:num');
  const truth = attribute(element, 'x:bool');
  const format = declarations(attribute(element, 'style'))
    .get('mso-number-format')
    ?.replace(/^"|"$/g, '')
    .replace(/\\(?:00([0-9a-f]{2})\s?|(.))/gi, (_, hex, sign) =>
      hex === undefined ? sign : String.fromCharCode(Number.parseInt(hex, 16)),
    );
  if (number !== undefined)
    return numberCell(Number(number === '' ? shown.replace(/[^\d.eE+-]/g, '') || 'x' : number), shown, format);
  if (truth !== undefined) return { type: 'boolean', value: /^true$/i.test(truth), text: shown };
  return attribute(element, 'x:str') === undefined ? undefined : { type: 'text', value: shown };
}

/** `sdval="1250" sdnum="2057;2057;#,##0.00"` */
function openValue(element: Element, shown: string): Cell | undefined {
  const value = attribute(element, 'sdval');
  if (value === undefined) return undefined;
  const [, , ...parts] = (attribute(element, 'sdnum') ?? '').split(';');
  const [format, number] = [parts.join(';') || undefined, Number(value)];
  if (format !== undefined && /^(?:BOOLEAN|"TRUE";)/i.test(format) && (number === 0 || number === 1))
    return { type: 'boolean', value: number === 1, text: shown };
  const display = new Display();
  const moment = format !== undefined && display.isDate(format) ? display.isoMoment(number) : undefined;
  if (format !== undefined && moment !== undefined) return { type: 'date', value: moment, text: shown, format };
  return numberCell(number, shown, format);
}

/** `data-sheets-value='{"1":3,"3":1250}'`: 2 is words, 3 a number, 4 a truth value. */
function webValue(element: Element, shown: string): Cell | undefined {
  const stored = parsed(attribute(element, 'data-sheets-value'));
  if (!stored) return undefined;
  const format = parsed(attribute(element, 'data-sheets-numberformat'))?.['2'];
  if (stored['1'] === 3) return numberCell(Number(stored['3']), shown, typeof format === 'string' ? format : undefined);
  if (stored['1'] === 4) return { type: 'boolean', value: stored['4'] === 1 || stored['4'] === true, text: shown };
  return stored['1'] === 2 ? { type: 'text', value: typeof stored['2'] === 'string' ? stored['2'] : shown } : undefined;
}

function parsed(json: string | undefined): Readonly<Record<string, unknown>> | undefined {
  try {
    const value: unknown = JSON.parse(json ?? 'null');
    return typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : undefined;
  } catch {
    return undefined; // some other program's
  }
}
