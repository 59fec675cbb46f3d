import { findAddress, printFragment } from '../../../places/index.ts';

/**
 * A cell range address (ISO/IEC 26300-1, section 9.2.2) such as `$'My sheet'.$A$1:.$B$2` as workbooks of the other family
 * write it, `'My sheet'!A1:B2`; `undefined` when it is no range of one sheet.
 */
export function a1Reference(address: string): string | undefined {
  const [, quoted, bare, first, second] =
    /^\$?(?:'((?:[^']|'')+)'|([^.'$]+))\.(\$?[A-Z]{1,3}\$?\d{1,7})(?::(?:\$?(?:'(?:[^']|'')+'|[^.'$]*)?\.)?(\$?[A-Z]{1,3}\$?\d{1,7}))?$/.exec(
      address.trim(),
    ) ?? [];
  const sheet = quoted?.replaceAll("''", "'") ?? bare;
  const start = findAddress(first ?? '');
  const end = findAddress(second ?? first ?? '');
  if (sheet === undefined || !start || !end) return undefined;
  return printFragment({
    kind: 'cells',
    sheet,
    rows: { from: Math.min(start.row, end.row), to: Math.max(start.row, end.row) },
    columns: { from: Math.min(start.column, end.column), to: Math.max(start.column, end.column) },
  });
}

/** A formula in OpenFormula (ISO/IEC 26300-2) as the other family writes it: `of:=SUM([.B2:.B9];1)` is `SUM(B2:B9,1)`. */
export function a1Formula(formula: string): string {
  const body = formula.replace(/^[a-z]+:=/, '').replace(/^=/, '');
  return body.replace(/"(?:[^"]|"")*"|'(?:[^']|'')*'|\[([^\]]*)\]|;/g, (whole, reference?: string) => {
    if (whole === ';') return ',';
    return reference === undefined ? whole : a1Part(reference);
  });
}

const a1Part = (reference: string): string =>
  reference
    .split(':')
    .map((part, index) => {
      const [, sheet = '', cell = part] = /^\$?((?:'(?:[^']|'')+'|[^.'])*)\.(.*)$/.exec(part) ?? [];
      return sheet === '' || index > 0 ? cell : `${sheet}!${cell}`;
    })
    .join(':');
