import { DrawerError, type Params, type ProblemName } from '../content/index.ts';
import {
  type CsvPosition,
  type CsvSelection,
  type Fragment,
  findRange,
  type NumberedFragment,
  type Span,
  type TableCells,
  whole,
} from './fragment.ts';

/** A file and which part of it. */
export interface Place {
  /** As given: a path or a name. */
  readonly file: string;
  readonly fragment: Fragment;
}

/**
 * Reads `FILE#place`. In the file's name `%23` stands for `#` and `%25` for `%`; every other character is itself.
 * @throws DrawerError `invalid` when what follows the `#` is no kind of place.
 */
export function parsePlace(place: string): Place {
  const mark = place.indexOf('#');
  const file = mark < 0 ? place : place.slice(0, mark);
  return {
    file: file.replace(/%(23|25)/g, (_, code) => (code === '23' ? '#' : '%')),
    fragment: mark < 0 ? whole : parseFragment(place.slice(mark + 1)),
  };
}

/**
 * Reads a place that may name several areas of sheets, such as `costs.xlsx#B2,B4,D:D` or `costs.xlsx#Timber!B2,B4`: a
 * sheet holds for the areas behind it too.
 * @throws DrawerError as `parsePlace` does
 */
export function parsePlaces(place: string): readonly Place[] {
  const mark = place.indexOf('#');
  const parts = mark < 0 ? [] : (place.slice(mark + 1).match(/(?:'(?:[^']|'')*'|[^',])+/g) ?? []);
  const areas = parts.map((part) => /^((?:'(?:[^']|'')+'|[^'!]+)!)?([A-Za-z0-9$:]+)$/.exec(part));
  if (parts.length < 2 || !areas.every((area) => area && findRange(area[2] ?? ''))) return [parsePlace(place)];
  let sheet = '';
  return areas.map((area) => {
    sheet = area?.[1] ?? sheet;
    return parsePlace(`${place.slice(0, mark)}#${sheet}${area?.[2] ?? ''}`);
  });
}

/** Reads what stands behind the `#`. */
export function parseFragment(fragment: string): Fragment {
  if (fragment === '') return whole;
  if (fragment.startsWith(':~:')) return parseQuote(fragment);
  const keyed = /^([a-z]+)=(.*)$/s.exec(fragment);
  if (keyed?.[1] !== undefined && keyed[2] !== undefined) return parseKeyed(fragment, keyed[1], keyed[2]);
  return parseCells(fragment) ?? parseSnippets(fragment) ?? { kind: 'name', name: decode(fragment) };
}

function parseKeyed(fragment: string, key: string, value: string): Fragment {
  const parse = Object.hasOwn(keys, key) ? keys[key as keyof typeof keys] : undefined;
  if (!parse) {
    throw invalid(fragment, 'invalid/place-kind-unknown', { kind: key, kinds: Object.keys(keys) });
  }
  return parse(value, fragment);
}

const keys = {
  section: (value: string, fragment: string) => named('section', value, fragment),
  bookmark: (value: string, fragment: string) => named('bookmark', value, fragment),
  paragraph: (value: string, fragment: string) => numbered('paragraph', value, fragment),
  table: (value: string, fragment: string) => tablePlace(value, fragment),
  list: (value: string, fragment: string) => numbered('list', value, fragment),
  picture: (value: string, fragment: string) => numbered('picture', value, fragment),
  line: (value: string, fragment: string) => textPositions('line', value, fragment),
  char: (value: string, fragment: string) => textPositions('char', value, fragment),
  row: (value: string, fragment: string) => csvSelections('row', value, fragment),
  col: (value: string, fragment: string) => csvSelections('col', value, fragment),
  cell: (value: string, fragment: string) => csvSelections('cell', value, fragment),
} satisfies Record<string, (value: string, fragment: string) => Fragment>;

function named(kind: 'section' | 'bookmark', value: string, fragment: string): Fragment {
  const [, words = value, nth] = /^(.*);([1-9]\d{0,5})$/s.exec(value) ?? [];
  const name = decode(words);
  if (name.trim() === '') throw invalid(fragment, 'invalid/place-name-missing', { kind });
  return nth === undefined ? { kind, name } : { kind, name, nth: Number(nth) };
}

function numbered(kind: NumberedFragment['kind'], value: string, fragment: string): Fragment {
  const span = findSpan(value);
  if (!span) throw invalid(fragment, 'invalid/place-number-invalid', { words: value, kind });
  return { kind, ...span };
}

/** `2`, `2-4`, or cells of one: `2!B2:D9`, `2!B:B`, `2!row=5-7`, `2!Price`. */
function tablePlace(value: string, fragment: string): Fragment {
  const [, number, words] = /^([1-9]\d{0,8})!(.+)$/s.exec(value) ?? [];
  if (number === undefined || words === undefined) return numbered('table', value, fragment);
  const [, rows] = /^row=(.+)$/.exec(words) ?? [];
  const span = rows === undefined ? undefined : findSpan(rows);
  if (rows !== undefined && !span)
    throw invalid(fragment, 'invalid/place-rows-invalid', { words: rows, table: number });
  const cells: TableCells = span ? { rows: span } : (findRange(words) ?? { heading: decode(words) });
  return { kind: 'table', from: Number(number), to: Number(number), cells };
}

/** `4` or `4-6`, from 1, in rising order. */
function findSpan(value: string): Span | undefined {
  const [, first, last = first] = /^([1-9]\d{0,8})(?:-([1-9]\d{0,8}))?$/.exec(value) ?? [];
  const span = { from: Number(first), to: Number(last) };
  return first !== undefined && span.from <= span.to ? span : undefined;
}

/** RFC 5147, section 3. */
function textPositions(kind: 'line' | 'char', value: string, fragment: string): Fragment {
  const [range = '', ...checks] = value.split(';');
  const [, from, comma, to] = /^(\d*)(?:(,)(\d*))?$/.exec(range) ?? [];
  if (!from && !to) throw invalid(fragment, 'invalid/place-position-invalid', { words: range, kind });
  const start = from ? { from: Number(from) } : {};
  const end = comma ? (to ? { to: Number(to) } : {}) : { to: Number(from) };
  return { kind, ...start, ...end, ...Object.assign({}, ...checks.map((check) => integrityCheck(check, fragment))) };
}

function integrityCheck(check: string, fragment: string): { length?: number; md5?: string } {
  const [, length, md5] = /^(?:length=(\d+)|md5=([0-9a-fA-F]{32}))(?:,[\w-]+)?$/.exec(check) ?? [];
  if (length !== undefined) return { length: Number(length) };
  if (md5 !== undefined) return { md5: md5.toLowerCase() };
  throw invalid(fragment, 'invalid/place-check-invalid', { words: check });
}

/** RFC 7111, section 3. */
function csvSelections(kind: 'row' | 'col' | 'cell', value: string, fragment: string): Fragment {
  return { kind, selections: value.split(';').map((each) => csvSelection(kind, each, fragment)) };
}

function csvSelection(kind: 'row' | 'col' | 'cell', value: string, fragment: string): CsvSelection {
  const position = '(?:[1-9]\\d{0,8}|\\*)';
  const corner = kind === 'cell' ? `${position},${position}` : position;
  const [, first, last = first] = new RegExp(`^(${corner})(?:-(${corner}))?$`).exec(value) ?? [];
  if (!first || !last)
    throw invalid(fragment, 'invalid/place-selection-invalid', {
      words: value,
      kind,
      example: kind === 'cell' ? 'cell=4,1-6,3' : `${kind}=5-7`,
    });
  return { from: first.split(',').map(csvPosition), to: last.split(',').map(csvPosition) };
}

const csvPosition = (value: string): CsvPosition => (value === '*' ? '*' : Number(value));

function parseCells(fragment: string): Fragment | undefined {
  const [, quoted, bare, range] = /^(?:'((?:[^']|'')+)'|([^'!]+))!(.*)$/s.exec(fragment) ?? [];
  if (range === undefined) {
    const found = findRange(fragment);
    return found && { kind: 'cells', ...found };
  }
  const sheet = quoted === undefined ? decode(bare ?? '') : decode(quoted.replaceAll("''", "'"));
  if (range === '') return { kind: 'cells', sheet };
  const found = findRange(range);
  if (!found) throw invalid(fragment, 'invalid/place-range-invalid', { words: range });
  return { kind: 'cells', sheet, ...found };
}

function parseSnippets(fragment: string): Fragment | undefined {
  const spans = fragment.split(',').map(findSpan);
  return spans.every((span) => span !== undefined) ? { kind: 'snippets', ranges: spans } : undefined;
}

/** One text directive; its parts are percent-encoded, so that commas and hyphens outside them are the grammar's own. */
function parseQuote(fragment: string): Fragment {
  const [, directive] = /^:~:text=([^&]*)$/.exec(fragment) ?? [];
  const parts = directive === undefined ? [] : directive.split(',');
  const prefix = parts.length > 1 && parts[0]?.endsWith('-') ? parts.shift()?.slice(0, -1) : undefined;
  const suffix = parts.length > 1 && parts.at(-1)?.startsWith('-') ? parts.pop()?.slice(1) : undefined;
  const [start, end] = parts;
  const isBlank = (words: string | undefined): boolean => words !== undefined && decode(words).trim() === '';
  if (!start || parts.length > 2 || [start, end, prefix, suffix].some(isBlank)) {
    throw invalid(fragment, 'invalid/place-quote-invalid');
  }
  return {
    kind: 'quote',
    start: decode(start),
    ...(end !== undefined && { end: decode(end) }),
    ...(prefix !== undefined && { prefix: decode(prefix) }),
    ...(suffix !== undefined && { suffix: decode(suffix) }),
  };
}

/** Percent-decoding (RFC 3986, section 2.1) that leaves what is not encoded UTF-8 as it stands. */
const decode = (words: string): string =>
  words.replace(/(?:%[0-9a-fA-F]{2})+/g, (encoded) => {
    try {
      return decodeURIComponent(encoded);
    } catch {
      return encoded;
    }
  });

const invalid = (fragment: string, reason: ProblemName, params: Params = {}): DrawerError =>
  new DrawerError(reason, params, { where: `#${fragment}` });
