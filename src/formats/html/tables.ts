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
