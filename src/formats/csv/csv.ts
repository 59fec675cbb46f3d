/**
 * Separated values (.csv, .tsv) alone.
 * @packageDocumentation
 */

import { type Content, DrawerError, noMedia } from '../../content/index.ts';
import type { Fragment } from '../../places/index.ts';
import { checkedWrite, cleanedRead } from '../checked-change.ts';
import {
  type Format,
  type Inserted,
  type Insertion,
  type ReadTools,
  type Removed,
  readWhole,
  type Source,
  sourceOf,
  type WriteOptions,
} from '../format.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import { insertCsv } from './insert.ts';
import { type CsvArea, findAreas, outlineCsv, readCsv, readTable } from './read.ts';
import { type Row, readRows } from './rows.ts';

/** Separated values: RFC 4180 and the dialects people have. */
export const csv = {
  name: 'csv',
  outline: outlineCsv,
  read: cleanedRead(readCsv),
  remove: removeCsv,
  insert: insertCsv,
  checkMayChange: async (): Promise<void> => {},
  create: createCsv,
  write: (content: Content, options?: WriteOptions): Promise<Uint8Array> =>
    checkedWrite(content, async () => {
      const { media = noMedia } = options ?? {};
      return (await createCsv({ kind: 'whole' }, { content, media, style: 'original' })).bytes;
    }),
} satisfies Format;

async function createCsv(fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  return insertCsv(sourceOf(new Uint8Array(), 'new.csv'), fragment, insertion);
}

/** The file without a place: whole rows and columns go, single cells are emptied. */
export async function removeCsv(source: Source, fragments: readonly Fragment[], tools?: ReadTools): Promise<Removed> {
  const decoded = decodeExactly(await readWhole(source, 'values'));
  const table = readTable(decoded.text, tools);
  const rows = readRows(decoded.text, table.dialect);
  const isSame =
    rows.length === table.values.length && rows.every(({ fields }, at) => sameValues(fields, table.values[at]));
  if (!isSame) throw new DrawerError('unsupported/quotes-unpaired');
  const edits = fragments.flatMap((fragment) =>
    findAreas(table, fragment).flatMap((area) => areaEdits(rows, area, fragment.kind, table.columns)),
  );
  return { bytes: encodeText(applyEdits(decoded.text, edits), decoded), notes: [] };
}

const sameValues = (fields: readonly { readonly value: string }[], values: readonly string[] = []): boolean =>
  fields.length === values.length && fields.every(({ value }, at) => value === values[at]);

function areaEdits(rows: readonly Row[], area: CsvArea, kind: Fragment['kind'], columns: number): TextEdit[] {
  const chosen = rows.slice(area.rows.from - 1, area.rows.to);
  if (kind === 'whole' || kind === 'row') return chosen.map(({ start, end }) => ({ start, end, replacement: '' }));
  if (kind === 'col') return chosen.flatMap((row) => columnEdit(row, area, columns));
  return chosen.flatMap(({ fields }) =>
    fields.slice(area.columns.from - 1, area.columns.to).map(({ start, end }) => ({ start, end, replacement: '' })),
  );
}

/** Fields with the separator in front of them; the first of a row with the one behind. */
function columnEdit({ fields }: Row, { columns: { from, to } }: CsvArea, columns: number): TextEdit[] {
  const first = fields[from - 1];
  const last = fields[Math.min(to, fields.length) - 1];
  if (!first || !last) return [];
  const before = fields[from - 2];
  const after = fields[to];
  if (!before && !after && columns > 1 && fields.length === 1)
    return [{ start: first.start, end: first.end, replacement: '' }];
  return [{ start: before?.end ?? first.start, end: before ? last.end : (after?.start ?? last.end), replacement: '' }];
}
