import Papa from 'papaparse';
import { type Cell, type CellsContent, DrawerError, noMedia, plural } from '../../content/index.ts';
import { type CsvFragment, type CsvPosition, columnLetters, type Fragment, printFragment } from '../../places/index.ts';
import { checkPlaces } from '../bounds.ts';
import { type Outline, type OutlineEntry, type ReadTools, readWhole, type Source, type Taken } from '../format.ts';
import { decodeText } from '../text/encoding.ts';
import { type Dialect, findDialect } from './dialect.ts';

export async function takeCsv(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken> {
  const table = readTable(decodeText(await readWhole(source, 'values')).text, tools);
  const areas = findAreas(table, fragment);
  const filled = table.values.reduce((sum, row) => sum + row.length, 0);
  for (const { rows, columns } of areas) checkPlaces(rows.to - rows.from + 1, columns.to - columns.from + 1, filled);
  const place = fragment.kind === 'whole' ? undefined : printFragment(fragment);
  return { content: cellsOf(table, areas), media: noMedia, notes: [], ...(place !== undefined && { place }) };
}

export async function outlineCsv(source: Source, tools?: ReadTools): Promise<Outline> {
  const { values, columns } = readTable(decodeText(await readWhole(source, 'values')).text, tools);
  if (values.length === 0) return { entries: [], notes: [] };
  const whole: OutlineEntry = {
    place: printFragment({ kind: 'cells', columns: { from: 1, to: columns }, rows: { from: 1, to: values.length } }),
    kind: 'sheet',
    depth: 0,
    label: (values[0] ?? []).filter(Boolean).join(' · ').slice(0, 60),
    size: `${values.length} × ${columns}`,
  };
  const each = Array.from({ length: Math.min(columns, 200) }, (_, index): OutlineEntry => {
    const filled = values.filter((row) => (row[index] ?? '') !== '').length;
    return {
      place: `col=${index + 1}`,
      kind: 'column',
      depth: 1,
      label: (values[0]?.[index] || columnLetters(index + 1)).slice(0, 60),
      size: plural(filled, 'filled cell'),
    };
  });
  return { entries: [whole, ...each], notes: [] };
}

/** The values of a file, rows as long as they are. */
export interface CsvTable {
  readonly values: readonly (readonly string[])[];
  readonly columns: number;
  readonly dialect: Dialect;
}

export function readTable(text: string, tools: ReadTools = {}): CsvTable {
  const dialect = findDialect(text, tools.csv);
  const { data } = Papa.parse<string[]>(text.slice(dialect.skipped), {
    delimiter: dialect.separator,
    quoteChar: dialect.quote,
    comments: dialect.comment || false,
    skipEmptyLines: true,
  });
  const columns = data.reduce((most, row) => Math.max(most, row.length), 0);
  return { values: data, columns, dialect };
}

/** Rows and columns by number, from 1, both ends included. */
export interface CsvArea {
  readonly rows: { readonly from: number; readonly to: number };
  readonly columns: { readonly from: number; readonly to: number };
}

/** @throws DrawerError `not-found` for places outside the table or of another kind. */
export function findAreas({ values, columns }: CsvTable, fragment: Fragment): CsvArea[] {
  const all = { rows: { from: 1, to: values.length }, columns: { from: 1, to: columns } };
  switch (fragment.kind) {
    case 'whole':
      return values.length === 0 ? [] : [all];
    case 'cells':
      if (fragment.sheet === undefined)
        return [within({ rows: fragment.rows ?? all.rows, columns: fragment.columns ?? all.columns }, all, fragment)];
      break;
    case 'row':
    case 'col':
    case 'cell':
      return selections(fragment, all).map((area) => within(area, all, fragment));
  }
  throw new DrawerError({
    code: 'unsupported',
    what: `A file of separated values has no place “${printFragment(fragment)}”`,
    next: 'Such as #row=5-7, #col=2, #cell=4,1-6,3 or #B2:D9',
  });
}

/** RFC 7111, section 2: `*` is the last row or column. */
function selections({ kind, selections: asked }: CsvFragment, all: CsvArea): CsvArea[] {
  const span = (from: CsvPosition | undefined, to: CsvPosition | undefined, last: number) => ({
    from: from === '*' ? last : (from ?? 1),
    to: to === '*' ? last : (to ?? 1),
  });
  return asked.map(({ from, to }): CsvArea => {
    if (kind === 'row') return { ...all, rows: span(from[0], to[0], all.rows.to) };
    if (kind === 'col') return { ...all, columns: span(from[0], to[0], all.columns.to) };
    return { rows: span(from[0], to[0], all.rows.to), columns: span(from[1], to[1], all.columns.to) };
  });
}

function within(area: CsvArea, all: CsvArea, fragment: Fragment): CsvArea {
  const isEmpty = area.rows.from > area.rows.to || area.columns.from > area.columns.to;
  if (isEmpty || area.rows.from > all.rows.to || area.columns.from > all.columns.to) {
    throw new DrawerError({
      code: 'not-found',
      what: `There is nothing at #${printFragment(fragment)}`,
      next: `The file has ${plural(all.rows.to, 'row')} and ${plural(all.columns.to, 'column')}`,
    });
  }
  return {
    rows: { from: area.rows.from, to: Math.min(area.rows.to, all.rows.to) },
    columns: { from: area.columns.from, to: Math.min(area.columns.to, all.columns.to) },
  };
}

/** Areas one under another, the shorter rows filled up; areas of the same rows stand beside one another. */
function cellsOf({ values }: CsvTable, areas: readonly CsvArea[]): CellsContent {
  const cut = areas.map(({ rows, columns }) =>
    values
      .slice(rows.from - 1, rows.to)
      .map((row) =>
        Array.from({ length: columns.to - columns.from + 1 }, (_, index) =>
          toCell(row[columns.from - 1 + index] ?? ''),
        ),
      ),
  );
  const sameRows = areas.every(({ rows }) => rows.from === areas[0]?.rows.from && rows.to === areas[0].rows.to);
  const rows = sameRows ? (cut[0] ?? []).map((_, row) => cut.flatMap((part) => part[row] ?? [])) : cut.flat();
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  return {
    shape: 'cells',
    rows: rows.map((row) => [...row, ...Array.from({ length: width - row.length }, (): Cell => ({ type: 'empty' }))]),
    untyped: true,
  };
}

/**
 * Whole numbers and dates are known where they can be nothing else in any language: digits without a leading zero or
 * separators, and ISO 8601 dates. All else is text, read in its language where it lands.
 */
function toCell(value: string): Cell {
  if (value === '') return { type: 'empty' };
  if (/^(?:0|-?[1-9]\d{0,14})$/.test(value)) return { type: 'number', value: Number(value), text: value };
  if (/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/.test(value) && !Number.isNaN(Date.parse(value)))
    return { type: 'date', value, text: value, format: 'yyyy-mm-dd' };
  return { type: 'text', value };
}
