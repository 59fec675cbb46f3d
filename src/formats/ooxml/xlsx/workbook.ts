import { findRange, printFragment } from '../../../places/index.ts';
import type { Zip } from '../../package/zip.ts';
import type { FullArea } from '../../sheets/area.ts';
import type { NamedPlace } from '../../sheets/places.ts';
import { namespaces, type Relationships, readPart, readRelationships } from '../opc.ts';

/** The workbook part (ISO/IEC 29500-1, 18.2). */
export interface Workbook {
  readonly sheets: readonly Sheet[];
  readonly names: readonly DefinedName[];
  /** Whether dates count from 1904 instead of 1900 (18.2.28). */
  readonly epoch1904: boolean;
}

export interface Sheet {
  /** The number that the list of calculations knows it by. */
  readonly id: string;
  readonly name: string;
  readonly part: string;
  readonly hidden: boolean;
}

export interface DefinedName {
  readonly name: string;
  readonly formula: string;
  readonly hidden: boolean;
}

export async function readWorkbook(zip: Zip, part: string, relationships: Relationships): Promise<Workbook> {
  const sheets: Sheet[] = [];
  const names: { name: string; formula: string; hidden: boolean }[] = [];
  let epoch1904 = false;
  let inName = false;
  await readPart(zip, part, namespaces, {
    open(name, attributes) {
      if (name === 'workbookPr') epoch1904 = ['1', 'true', 'on'].includes(attributes.date1904 ?? '');
      if (name === 'definedName') {
        inName = true;
        names.push({
          name: attributes.name ?? '',
          formula: '',
          hidden: ['1', 'true'].includes(attributes.hidden ?? ''),
        });
      }
      if (name !== 'sheet') return;
      const target = relationships.get(attributes['r:id'] ?? '');
      const state = attributes.state ?? 'visible';
      if (target?.type === 'worksheet')
        sheets.push({
          id: attributes.sheetId ?? '',
          name: attributes.name ?? '',
          part: target.target,
          hidden: state !== 'visible',
        });
    },
    close(name) {
      if (name === 'definedName') inName = false;
    },
    text(words) {
      const last = names.at(-1);
      if (inName && last) last.formula += words;
    },
  });
  return { sheets, names, epoch1904 };
}

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
