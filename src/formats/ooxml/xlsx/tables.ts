import { findRange, printFragment } from '../../../places/index.ts';
import type { Zip } from '../../package/zip.ts';
import type { FullArea } from '../../sheets/area.ts';
import type { NamedPlace } from '../../sheets/places.ts';
import { namespaces } from '../namespaces.ts';
import { readPart, readRelationships } from '../opc.ts';
import type { Sheet } from './workbook.ts';

/** A table of a sheet (ISO/IEC 29500-1, 18.5.1.2): a range with a name. */
export interface SheetTable extends NamedPlace {
  readonly area: FullArea;
  /** How many rows at its top hold the names of its columns, and how many at its end totals. */
  readonly headerRows: number;
  readonly totalsRows: number;
  /** The names of its columns. */
  readonly columns: readonly string[];
  readonly sheet: string;
}

export async function readTables(zip: Zip, sheet: Sheet): Promise<SheetTable[]> {
  const tables: SheetTable[] = [];
  for (const { type, target, external } of (await readRelationships(zip, sheet.part)).values()) {
    if (type !== 'table' || external) continue;
    const named: string[] = [];
    await readPart(zip, target, namespaces, {
      open(name, { displayName, name: plainName, ref = '', headerRowCount, totalsRowCount }) {
        if (name === 'tableColumn') named.push(plainName ?? '');
        const { rows, columns } = findRange(ref) ?? {};
        const label = displayName ?? plainName;
        if (name !== 'table' || !rows || !columns || label === undefined) return;
        const formula = printFragment({ kind: 'cells', sheet: sheet.name, rows, columns });
        tables.push({
          name: label,
          formula,
          area: { rows, columns },
          headerRows: Number(headerRowCount ?? 1),
          totalsRows: Number(totalsRowCount ?? 0),
          columns: named,
          sheet: sheet.name,
        });
      },
      close: () => {},
    });
  }
  return tables;
}
