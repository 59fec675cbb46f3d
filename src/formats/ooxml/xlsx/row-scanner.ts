import { checkBound } from '../../bounds.ts';
import { decimal } from '../../sheets/display.ts';
import { decodeReferences } from '../../xml/element.ts';
import type { ByteStream } from './sheet-stream.ts';

/** Receives rows and cells in the order of the sheet part (ISO/IEC 29500-1, 18.3.1.4 and 18.3.1.73). */
export interface CellSink {
  /** Called for each row; `false` ends the scan. */
  row(number: number, hidden: boolean): boolean;
  /** A number without a formula, as in most cells of large sheets. */
  number(column: number, style: number, value: number): void;
  /** A shared string without a formula, by its index. */
  string(column: number, style: number, index: number): void;
  /** Any other cell, as stored; for shared strings, `value` is the index. */
  cell(column: number, type: string, style: number, value: string, formula: Formula | undefined): void;
}

export interface Formula {
  readonly text: string;
  readonly kind: string | undefined;
  /** The number of a shared formula, and the cells that share it. */
  readonly shared: string | undefined;
  readonly range: string | undefined;
}

/**
 * Scans rows of the stream until the sink has enough or they end. It looks for rows and cells only; reading every tag of a large
 * sheet takes several times as long. The stream's bytes start at or between rows and are scanned in whole rows.
 */
export async function scanRows(stream: ByteStream, prefix: string, before: number, sink: CellSink): Promise<void> {
  const scanner = new RowScanner(prefix, before, sink);
  for (;;) {
    const { bytes, ended } = stream;
    const used = scanner.scan(bytes, ended);
    if (scanner.isDone || ended) {
      stream.bytes = bytes.subarray(used); // for the next reader
      return;
    }
    checkBound('xmlLength', bytes.length - used, 'sheet');
    await stream.more(used);
  }
}

/** Longest name with prefix; kept if no row starts in the bytes, since a name may continue in the next ones. */
const longestName = 80;

const signsOf = (text: string): Uint8Array => new TextEncoder().encode(text);

const code = {
  space: 0x20,
  quote: 0x22,
  apostrophe: 0x27,
  slash: 0x2f,
  equals: 0x3d,
  less: 0x3c,
  greater: 0x3e,
  c: 0x63,
  h: 0x68,
  v: 0x76,
} as const;

class RowScanner {
  /** The last cell tag read; one object is reused for millions of cells. */
  readonly #cell = { column: 0, type: 'n', style: 0 };
  readonly #sink: CellSink;
  readonly #prefix: string;
  readonly #rowOpen: Uint8Array;
  readonly #rowClose: Uint8Array;
  readonly #cellClose: Uint8Array;
  readonly #valueClose: Uint8Array;
  readonly #dataClose: Uint8Array;
  readonly #prefixSigns: Uint8Array;
  readonly #decoder = new TextDecoder('utf-8', { ignoreBOM: true });
  #row: number;
  isDone = false;

  constructor(prefix: string, before: number, sink: CellSink) {
    this.#sink = sink;
    this.#row = before;
    this.#prefix = prefix;
    this.#prefixSigns = signsOf(prefix);
    this.#rowOpen = signsOf(`<${prefix}row`);
    this.#rowClose = signsOf(`</${prefix}row`);
    this.#cellClose = signsOf(`</${prefix}c`);
    this.#valueClose = signsOf(`</${prefix}v></${prefix}c>`);
    this.#dataClose = signsOf(`</${prefix}sheetData`);
  }

  /** Scans whole rows; returns the number of bytes used. */
  scan(bytes: Uint8Array, isLast: boolean): number {
    const limit = isLast ? bytes.length : this.#lastWhole(bytes);
    let at = 0;
    while (!this.isDone) {
      at = bytes.indexOf(code.less, at);
      if (at < 0 || at >= limit) return limit;
      if (isAt(bytes, at, this.#dataClose)) {
        this.isDone = true;
        return at;
      }
      const isRow = isAt(bytes, at, this.#rowOpen) && isNameEnd(bytes[at + this.#rowOpen.length]);
      at = isRow ? this.#readRow(bytes, at + this.#rowOpen.length, limit) : at + 1;
    }
    return at;
  }

  /** Start of the last row, which may continue in the next bytes. */
  #lastWhole(bytes: Uint8Array): number {
    const last = lastIndexOf(bytes, this.#rowOpen);
    if (indexOf(bytes, this.#dataClose, Math.max(0, last)) >= 0) return bytes.length;
    return last < 0 ? Math.max(0, bytes.length - longestName) : last;
  }

  /** Scans a row; without a number, it follows the one before. Returns the position behind it. */
  #readRow(bytes: Uint8Array, tagStart: number, limit: number): number {
    const tagEnd = bytes.indexOf(code.greater, tagStart);
    if (tagEnd < 0) return limit;
    const hidden = this.#readRowTag(bytes, tagStart, tagEnd);
    if (!this.#sink.row(this.#row, hidden)) {
      this.isDone = true;
      return tagEnd + 1;
    }
    return bytes[tagEnd - 1] === code.slash ? tagEnd + 1 : this.#readCells(bytes, tagEnd + 1, limit);
  }

  /** Reads the row's number and returns whether it is hidden. Usually the number comes first and `hidden` is absent. */
  #readRowTag(bytes: Uint8Array, start: number, end: number): boolean {
    let number = Number.NaN;
    if (isAt(bytes, start, numberOpen)) {
      const first = start + numberOpen.length;
      number = decimal(bytes, first, find(bytes, code.quote, first, end));
    }
    const mayHide = find(bytes, code.h, start, end) < end;
    if (mayHide || !isRowNumber(number)) {
      const tag = this.#decoder.decode(bytes.subarray(start, end));
      const stated = attribute(tag, 'r');
      const hidden = attribute(tag, 'hidden');
      this.#row = rowNumbered(stated, this.#row);
      return hidden === '1' || hidden === 'true';
    }
    this.#row = number;
    return false;
  }

  /** Scans the cells of a row; returns the position behind it. */
  #readCells(bytes: Uint8Array, start: number, limit: number): number {
    const nameAt = 1 + this.#prefixSigns.length;
    this.#cell.column = 0;
    let at = start;
    while (at < limit) {
      if (bytes[at] !== code.less) {
        at++;
        continue;
      }
      if (bytes[at + nameAt] !== code.c || !this.#isCell(bytes, at)) {
        if (bytes[at + 1] === code.slash && isAt(bytes, at, this.#rowClose)) return at + this.#rowClose.length + 1;
        at++;
        continue;
      }
      const cursor = this.#readCellTag(bytes, at + nameAt + 1, limit);
      if (cursor === limit) return limit;
      const { column, type, style } = this.#cell;
      if (bytes[cursor] === code.slash) {
        this.#sink.cell(column, type, style, '', undefined);
        at = cursor + 2;
        continue;
      }
      const inner = cursor + 1;
      const valueStart = inner + nameAt + 2;
      if (bytes[inner + nameAt] === code.v && bytes[valueStart - 1] === code.greater) {
        const valueEnd = find(bytes, code.less, valueStart, limit);
        if (isAt(bytes, valueEnd, this.#valueClose)) {
          this.#plainCell(bytes, valueStart, valueEnd, column, type, style);
          at = valueEnd + this.#valueClose.length;
          continue;
        }
      }
      const end = this.#findCellEnd(bytes, inner);
      const cellEnd = end < 0 || end > limit ? limit : end;
      this.#readOther(this.#decoder.decode(bytes.subarray(inner, cellEnd)), column, type, style);
      at = cellEnd + this.#cellClose.length; // the rest of the end tag is skipped
    }
    return limit;
  }

  /** Start of a cell's end tag, which may have a space behind its name. */
  #findCellEnd(bytes: Uint8Array, from: number): number {
    let end = indexOf(bytes, this.#cellClose, from);
    while (end >= 0 && !isNameEnd(bytes[end + this.#cellClose.length])) end = indexOf(bytes, this.#cellClose, end + 1);
    return end;
  }

  /**
   * Learns a cell's column, type and format from its attributes, sign by sign: most of a sheet's length is these. Gives where they
   * end, or `limit` where that is not in sight.
   */
  #readCellTag(bytes: Uint8Array, start: number, limit: number): number {
    const cell = this.#cell;
    let stated = 0;
    cell.type = 'n';
    cell.style = 0;
    let cursor = start;
    for (;;) {
      while ((bytes[cursor] ?? code.greater) <= code.space) cursor++;
      const sign = bytes[cursor];
      if (sign === code.greater || sign === code.slash || cursor >= limit) break;
      const equals = find(bytes, code.equals, cursor, limit);
      let from = equals + 1;
      while ((bytes[from] ?? code.greater) <= code.space) from++;
      const quote = bytes[from] === code.apostrophe ? code.apostrophe : code.quote;
      const to = find(bytes, quote, from + 1, limit);
      if (to === limit) return limit;
      if (equals - cursor === 1 || (bytes[cursor + 1] ?? 0) <= code.space) {
        if (sign === 0x72 /* r */) stated = columnOf(bytes, from + 1, to);
        else if (sign === 0x73 /* s */) cell.style = smallNumber(bytes, from + 1, to);
        else if (sign === 0x74 /* t */) cell.type = this.#typeOf(bytes, from + 1, to);
      }
      cursor = to + 1;
    }
    cell.column = stated > 0 ? stated : cell.column + 1;
    return cursor;
  }

  /** Whether a cell starts here, and not another element with the same first letter. */
  #isCell(bytes: Uint8Array, at: number): boolean {
    const prefix = this.#prefixSigns;
    for (let each = 0; each < prefix.length; each++) if (bytes[at + 1 + each] !== prefix[each]) return false;
    return isNameEnd(bytes[at + prefix.length + 2]);
  }

  #typeOf(bytes: Uint8Array, from: number, to: number): string {
    if (to - from === 1 && bytes[from] === 0x73) return 's';
    return this.#decoder.decode(bytes.subarray(from, to));
  }

  /** A cell with only a value. */
  #plainCell(bytes: Uint8Array, from: number, to: number, column: number, type: string, style: number): void {
    if (type === 'n') {
      const number = decimal(bytes, from, to);
      if (!Number.isNaN(number)) return this.#sink.number(column, style, number);
    } else if (type === 's') {
      const index = decimal(bytes, from, to);
      if (Number.isInteger(index) && index >= 0) return this.#sink.string(column, style, index);
    }
    this.#sink.cell(column, type, style, decodeReferences(this.#decoder.decode(bytes.subarray(from, to))), undefined);
  }

  /** A cell with a formula, with text of its own, or with unusual markup. */
  #readOther(inner: string, column: number, type: string, style: number): void {
    const formula = elementIn(inner, this.#prefix, 'f');
    const value = elementIn(inner, this.#prefix, 'v');
    const words = type === 'inlineStr' ? elementIn(inner, this.#prefix, 'is') : undefined;
    this.#sink.cell(
      column,
      type,
      style,
      words ? stringWords(words.inner) : decodeReferences(withoutMarkup(value?.inner ?? '')),
      formula && {
        text: decodeReferences(withoutMarkup(formula.inner)),
        kind: attribute(formula.tag, 't'),
        shared: attribute(formula.tag, 'si'),
        range: attribute(formula.tag, 'ref'),
      },
    );
  }
}

const numberOpen = signsOf(' r="');

const isRowNumber = (number: number): boolean => Number.isInteger(number) && number > 0;

/** A row's number from its `r` attribute; without one it follows the row before (18.3.1.73). */
export function rowNumbered(stated: string | undefined, before: number): number {
  const number = Number(stated ?? Number.NaN);
  return isRowNumber(number) ? number : before + 1;
}

const isNameEnd = (sign: number | undefined): boolean =>
  sign !== undefined && (sign <= code.space || sign === code.greater || sign === code.slash);

function isAt(bytes: Uint8Array, at: number, signs: Uint8Array): boolean {
  for (let each = 0; each < signs.length; each++) if (bytes[at + each] !== signs[each]) return false;
  return true;
}

function indexOf(bytes: Uint8Array, signs: Uint8Array, from: number): number {
  const [first = 0] = signs;
  let at = bytes.indexOf(first, from);
  while (at >= 0 && !isAt(bytes, at, signs)) at = bytes.indexOf(first, at + 1);
  return at;
}

/** Searches backwards byte by byte, since the match is near the end. */
function lastIndexOf(bytes: Uint8Array, signs: Uint8Array): number {
  let at = bytes.length - signs.length;
  while (at >= 0 && !(bytes[at] === signs[0] && isAt(bytes, at, signs))) at--;
  return at;
}

/** Next position of a byte before `stop`, byte by byte, since it is always near. */
function find(bytes: Uint8Array, sign: number, from: number, stop: number): number {
  let at = from;
  while (at < stop && bytes[at] !== sign) at++;
  return at;
}

/** Column number of an address such as `AB12`; 0 if invalid. */
function columnOf(bytes: Uint8Array, from: number, to: number): number {
  let column = 0;
  for (let at = from; at < to; at++) {
    const sign = (bytes[at] as number) & 0xdf; // upper case
    if (sign < 0x41 || sign > 0x5a) break;
    column = column * 26 + sign - 0x40;
  }
  return column <= 16_384 ? column : 0;
}

function smallNumber(bytes: Uint8Array, from: number, to: number): number {
  let number = 0;
  for (let at = from; at < to; at++) number = number * 10 + (bytes[at] as number) - 0x30;
  return number >= 0 ? number : 0;
}

/** Value of an attribute in the text of a tag. */
export function attribute(tag: string, name: string): string | undefined {
  let at = tag.indexOf(name);
  for (; at >= 0; at = tag.indexOf(name, at + 1)) {
    if (at > 0 && tag.charCodeAt(at - 1) > code.space) continue;
    const [, double, single] = /^\s*=\s*(?:"([^"]*)"|'([^']*)')/.exec(tag.slice(at + name.length)) ?? [];
    if (double !== undefined || single !== undefined) return decodeReferences(double ?? single ?? '');
  }
  return undefined;
}

interface FoundElement {
  readonly tag: string;
  readonly inner: string;
}

function elementIn(text: string, prefix: string, name: string): FoundElement | undefined {
  const open = `<${prefix}${name}`;
  for (let at = text.indexOf(open); at >= 0; at = text.indexOf(open, at + 1)) {
    const after = text.charCodeAt(at + open.length);
    if (after !== code.greater && after !== code.slash && after > code.space) continue;
    const tagEnd = text.indexOf('>', at);
    if (tagEnd < 0) return undefined;
    const tag = text.slice(at + open.length, tagEnd);
    if (tag.endsWith('/')) return { tag: tag.slice(0, -1), inner: '' };
    const end = text.indexOf(`</${prefix}${name}`, tagEnd);
    return { tag, inner: text.slice(tagEnd + 1, end < 0 ? text.length : end) };
  }
  return undefined;
}

/** The text of a string item (18.4.8): all runs joined, without phonetic guides (18.4.6). */
export function stringWords(item: string): string {
  let words = '';
  let spoken = 0;
  let inText = false;
  for (const [, slash = '', name = '', rest = '', text = ''] of withoutMarkup(item).matchAll(
    /<(\/?)(?:[\w.-]*:)?([\w.-]*)([^<>]*)>([^<]*)/g,
  )) {
    const isClosed = rest.endsWith('/');
    if (name === 'rPh' && !isClosed) spoken += slash === '' ? 1 : -1;
    if (name === 't') inText = slash === '' && !isClosed;
    else if (slash === '') inText = false;
    if (inText && spoken <= 0) words += decodeReferences(text);
  }
  return words;
}

/** Removes comments and processing instructions, and turns CDATA sections into text. */
function withoutMarkup(text: string): string {
  if (!text.includes('<!') && !text.includes('<?')) return text;
  const data = between(text, '<![CDATA[', ']]>', (inside) => inside.replaceAll('&', '&amp;').replaceAll('<', '&lt;'));
  return between(
    between(data, '<!--', '-->', () => ''),
    '<?',
    '?>',
    () => '',
  );
}

/** Replaces each section between two delimiters, and the delimiters, in one pass. */
function between(text: string, open: string, close: string, replace: (inside: string) => string): string {
  let result = '';
  let at = 0;
  for (;;) {
    const start = text.indexOf(open, at);
    const end = start < 0 ? -1 : text.indexOf(close, start + open.length);
    if (end < 0) return result + text.slice(at);
    result += text.slice(at, start) + replace(text.slice(start + open.length, end));
    at = end + close.length;
  }
}
