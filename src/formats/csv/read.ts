import Papa from 'papaparse';
import { type Cell, type CellsContent, countOf, DrawerError, noMedia } from '../../content/index.ts';
import {
  type CsvFragment,
  type CsvPosition,
  columnLetters,
  type Fragment,
  maxColumns,
  maxRows,
  printFragment,
} from '../../places/index.ts';
import { checkBound, checkPlaces } from '../bounds.ts';
import { type Excerpt, type Outline, type OutlineEntry, type ReadTools, readWhole, type Source } from '../format.ts';
import { decodeText } from '../text/encoding.ts';
import { type Dialect, findDialect } from './rows.ts';

export async function readCsv(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Excerpt> {
  const { text, dialect } = await openCsv(source, tools);
  const areas = fragment.kind === 'whole' ? [everything] : findAreas(sizeOf(text, dialect), fragment);
  const place = fragment.kind === 'whole' ? undefined : printFragment(fragment);
  return { content: readAreas(text, dialect, areas), media: noMedia, notes: [], ...(place !== undefined && { place }) };
}

const everything: CsvArea = {
  rows: { from: 1, to: Number.POSITIVE_INFINITY },
  columns: { from: 1, to: Number.POSITIVE_INFINITY },
};

/** How many columns an outline names one by one. */
const mostNamed = 200;

export async function outlineCsv(source: Source, tools?: ReadTools): Promise<Outline> {
  const { text, dialect } = await openCsv(source, tools);
  const size = { rows: 0, columns: 0 };
  let heading: readonly string[] = [];
  const filled: number[] = [];
  eachRow(text, dialect, (values) => {
    if (size.rows === 0) heading = values;
    addRow(size, values);
    values.slice(0, mostNamed).forEach((value, column) => {
      if (value !== '') filled[column] = (filled[column] ?? 0) + 1;
    });
  });
  if (size.rows === 0) return { entries: [], notes: [] };
  const whole: OutlineEntry = {
    place: wholePlace(size),
    kind: 'sheet',
    depth: 0,
    label: heading.filter(Boolean).join(' · ').slice(0, 60),
    size: { kind: 'size.grid', params: { ...size } },
  };
  const each = Array.from(
    { length: Math.min(size.columns, mostNamed) },
    (_, index): OutlineEntry => ({
      place: `col=${index + 1}`,
      kind: 'column',
      depth: 1,
      label: (heading[index] || columnLetters(index + 1)).slice(0, 60),
      size: countOf('filledCells', filled[index] ?? 0),
    }),
  );
  return { entries: [whole, ...each], notes: [] };
}

/** By the addresses of its corners; where no sheet has such, by its rows or columns (RFC 7111, section 2). */
function wholePlace({ rows, columns }: CsvSize): string {
  if (columns > maxColumns) return `col=1-${columns}`;
  if (rows > maxRows) return `row=1-${rows}`;
  return printFragment({ kind: 'cells', columns: { from: 1, to: columns }, rows: { from: 1, to: rows } });
}

async function openCsv(source: Source, tools?: ReadTools): Promise<{ text: string; dialect: Dialect }> {
  const { text } = decodeText(await readWhole(source, 'values'));
  return { text, dialect: findDialect(text, tools?.csv) };
}

function eachRow(text: string, dialect: Dialect, hear: (values: string[]) => void): void {
  Papa.parse<string[]>(text.slice(dialect.skipped), {
    delimiter: dialect.separator,
    quoteChar: dialect.quote,
    comments: dialect.comment || false,
    skipEmptyLines: true,
    step: ({ data }) => hear(data),
  });
}

/** How many rows, and columns in the longest. */
interface CsvSize {
  readonly rows: number;
  readonly columns: number;
}

function addRow(size: { rows: number; columns: number }, values: readonly string[]): void {
  size.rows++;
  size.columns = Math.max(size.columns, values.length);
}

function sizeOf(text: string, dialect: Dialect): CsvSize {
  const size = { rows: 0, columns: 0 };
  eachRow(text, dialect, (values) => addRow(size, values));
  return size;
}

/** The values of a file, rows as long as they are. */
export interface CsvTable extends CsvSize {
  readonly values: readonly (readonly string[])[];
  readonly dialect: Dialect;
}

/** @throws DrawerError `too-large` for a file of more fields than may be changed */
export function readTable(text: string, tools: ReadTools = {}): CsvTable {
  const dialect = findDialect(text, tools.csv);
  const values: string[][] = [];
  const size = { rows: 0, columns: 0 };
  let fields = 0;
  eachRow(text, dialect, (row) => {
    fields += row.length;
    checkBound('fields', fields);
    addRow(size, row);
    values.push(row);
  });
  return { ...size, values, dialect };
}

/** Rows and columns by number, from 1, both ends included. */
export interface CsvArea {
  readonly rows: { readonly from: number; readonly to: number };
  readonly columns: { readonly from: number; readonly to: number };
}

/** @throws DrawerError `not-found` for places outside the table or of another kind. */
export function findAreas({ rows, columns }: CsvSize, fragment: Fragment): CsvArea[] {
  const all = { rows: { from: 1, to: rows }, columns: { from: 1, to: columns } };
  switch (fragment.kind) {
    case 'whole':
      return rows === 0 ? [] : [all];
    case 'cells':
      if (fragment.sheet === undefined)
        return [within({ rows: fragment.rows ?? all.rows, columns: fragment.columns ?? all.columns }, all, fragment)];
      break;
    case 'row':
    case 'col':
    case 'cell':
      return selections(fragment, all).map((area) => within(area, all, fragment));
  }
  throw new DrawerError('unsupported/place-kind-not-here', { place: printFragment(fragment), example: 'row=5-7' });
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
    throw new DrawerError('not-found/place-empty', {
      place: printFragment(fragment),
      rows: countOf('rows', all.rows.to),
      columns: countOf('columns', all.columns.to),
    });
  }
  return {
    rows: { from: area.rows.from, to: Math.min(area.rows.to, all.rows.to) },
    columns: { from: area.columns.from, to: Math.min(area.columns.to, all.columns.to) },
  };
}

/**
 * Areas one under another, the shorter rows filled up; areas of the same rows stand beside one another.
 * @throws DrawerError `too-large`
 */
function readAreas(text: string, dialect: Dialect, areas: readonly CsvArea[]): CellsContent {
  const cut = areas.map((): Cell[][] => []);
  const size = { rows: 0, columns: 0 };
  let filled = 0;
  eachRow(text, dialect, (values) => {
    addRow(size, values);
    areas.forEach(({ rows, columns }, area) => {
      if (size.rows < rows.from || size.rows > rows.to) return;
      const cells = values.slice(columns.from - 1, columns.to).map(toCell);
      for (const { type } of cells) if (type !== 'empty') filled++;
      checkBound('cells', filled);
      cut[area]?.push(cells);
    });
  });
  cut.forEach((rows, area) => {
    const { from, to } = (areas[area] as CsvArea).columns;
    const width = Math.min(to, size.columns) - from + 1;
    checkPlaces(rows.length, width, filled);
    for (const row of rows) while (row.length < width) row.push({ type: 'empty' });
  });
  const [first] = areas;
  const sameRows = areas.every(({ rows }) => rows.from === first?.rows.from && rows.to === first.rows.to);
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
