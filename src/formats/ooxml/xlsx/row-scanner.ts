import { DrawerError } from '../../../content/index.ts';
import { xmlLimits } from '../../xml/faults.ts';
import { decimal } from '../../sheets/decimal.ts';
import { decodeReferences } from '../../xml/references.ts';
import type { ByteStream } from './sheet-stream.ts';

/** Hears rows and cells as the sheet part has them (ISO/IEC 29500-1, 18.3.1.4 and 18.3.1.73). */
export interface CellSink {
  /** Whether the rows from here on are wanted; asked for each. */
  row(number: number, hidden: boolean): boolean;
  /** A cell that holds a number and no formula: most of what large sheets hold. */
  number(column: number, style: number, value: number): void;
  /** A cell that holds a shared string, by its index, and no formula. */
  string(column: number, style: number, index: number): void;
  /** Any other; `value` and `formula` are as stored: `value` an index for shared strings. */
  cell(column: number, type: string, style: number, value: string, formula: Formula | undefined): void;
}

export interface Formula {
  readonly text: string;
  readonly kind: string | undefined;
  /** Which shared formula it is, and where that stands for. */
  readonly shared: string | undefined;
  readonly range: string | undefined;
}

/**
 * Reads rows from the stream until the sink has enough or they end. A scanner for what sheets hold, since tokenising every
 * tag of a large sheet takes several times as long. State: bytes that begin at or between rows; only whole rows are read
 * from them, in one pass. They are cut where a row begins, so that each piece is decoded by itself: a decoder that has to
 * remember what came before is several times slower.
 */
export async function scanRows(stream: ByteStream, prefix: string, before: number, sink: CellSink): Promise<void> {
  const scanner = new RowScanner(prefix, before, sink);
  const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
  const open = signsOf(`<${prefix}row`);
  const close = signsOf(`</${prefix}sheetData`);
  for (;;) {
    const { bytes, ended } = stream;
    const last = lastIndexOf(bytes, open);
    const isAll = ended || indexOf(bytes, close, Math.max(0, last)) >= 0;
    const cut = isAll ? bytes.length : last < 0 ? Math.max(0, bytes.length - longestName) : last;
    const text = decoder.decode(bytes.subarray(0, cut));
    const read = scanner.scan(text, isAll);
    const used = read === text.length ? cut : new TextEncoder().encode(text.slice(0, read)).length;
    if (scanner.isDone || isAll) {
      stream.bytes = bytes.subarray(used); // for who reads on
      return;
    }
    if (bytes.length - used > xmlLimits.length) throw tooLongRow();
    await stream.more(used);
  }
}

/** Of a name with its prefix; what is kept where no row begins, since a name may go on in what follows. */
const longestName = 80;

const tooLongRow = (): DrawerError =>
  new DrawerError({ code: 'too-large', what: 'The sheet has a row of over 32 MB, which no office file needs' });

const signsOf = (text: string): Uint8Array => new TextEncoder().encode(text);

function isAt(bytes: Uint8Array, at: number, signs: Uint8Array): boolean {
  for (let each = 1; each < signs.length; each++) if (bytes[at + each] !== signs[each]) return false;
  return true;
}

function indexOf(bytes: Uint8Array, signs: Uint8Array, from: number): number {
  const [first = 0] = signs;
  let at = bytes.indexOf(first, from);
  while (at >= 0 && !isAt(bytes, at, signs)) at = bytes.indexOf(first, at + 1);
  return at;
}

/** Looked for sign by sign, since it is near the end. */
function lastIndexOf(bytes: Uint8Array, signs: Uint8Array): number {
  let at = bytes.length - signs.length;
  while (at >= 0 && !(bytes[at] === signs[0] && isAt(bytes, at, signs))) at--;
  return at;
}

const code = {
  space: 0x20,
  quote: 0x22,
  apostrophe: 0x27,
  slash: 0x2f,
  equals: 0x3d,
  less: 0x3c,
  greater: 0x3e,
} as const;

class RowScanner {
  readonly #sink: CellSink;
  readonly #rowOpen: string;
  readonly #rowClose: string;
  readonly #cellOpen: string;
  readonly #cellClose: string;
  readonly #valueOpen: string;
  readonly #valueAndCellClose: string;
  readonly #dataClose: string;
  readonly #prefix: string;
  #row: number;
  isDone = false;

  constructor(prefix: string, before: number, sink: CellSink) {
    this.#sink = sink;
    this.#row = before;
    this.#prefix = prefix;
    this.#rowOpen = `<${prefix}row`;
    this.#rowClose = `</${prefix}row>`;
    this.#cellOpen = `<${prefix}c`;
    this.#cellClose = `</${prefix}c>`;
    this.#valueOpen = `<${prefix}v>`;
    this.#valueAndCellClose = `</${prefix}v>${this.#cellClose}`;
    this.#dataClose = `</${prefix}sheetData`;
  }

  /** Reads whole rows of the text; gives how much of it was used. */
  scan(text: string, isLast: boolean): number {
    let at = 0;
    while (!this.isDone) {
      const start = text.indexOf(this.#rowOpen, at);
      if (start !== at) {
        const end = text.slice(at, start < 0 ? text.length : start).indexOf(this.#dataClose);
        if (end >= 0) {
          this.isDone = true;
          return at + end;
        }
        if (start < 0) return text.length;
      }
      const tagEnd = text.indexOf('>', start);
      if (tagEnd < 0) return start;
      const isEmpty = text.charCodeAt(tagEnd - 1) === code.slash;
      const rowEnd = isEmpty ? tagEnd : text.indexOf(this.#rowClose, tagEnd);
      if (rowEnd < 0 && !isLast) return start;
      const stop = rowEnd < 0 ? text.length : rowEnd;
      this.#readRow(text, start + this.#rowOpen.length, tagEnd, stop);
      at = rowEnd < 0 ? text.length : isEmpty ? tagEnd + 1 : rowEnd + this.#rowClose.length;
    }
    return at;
  }

  /** Rows and cells may leave their address out: then they follow the one before. */
  #readRow(text: string, tagStart: number, tagEnd: number, stop: number): void {
    const tag = text.slice(tagStart, tagEnd);
    const number = attribute(tag, 'r');
    this.#row = number === undefined ? this.#row + 1 : Number(number);
    const hidden = tag.includes('hidden') ? attribute(tag, 'hidden') : undefined;
    if (!this.#sink.row(this.#row, hidden === '1' || hidden === 'true')) {
      this.isDone = true;
      return;
    }
    this.#readCells(text, tagEnd + 1, stop);
  }

  #readCells(text: string, start: number, stop: number): void {
    let column = 0;
    let at = start;
    for (;;) {
      const open = text.indexOf(this.#cellOpen, at);
      if (open < 0 || open >= stop) return;
      let cursor = open + this.#cellOpen.length;
      const next = text.charCodeAt(cursor);
      if (next !== code.space && next !== code.greater && next !== code.slash && next > code.space) {
        at = cursor; // another element whose name begins with the letter
        continue;
      }
      let type = 'n';
      let style = 0;
      let hasAddress = false;
      // Attributes, sign by sign: most of a sheet's length is these.
      for (;;) {
        while (text.charCodeAt(cursor) <= code.space) cursor++;
        const sign = text.charCodeAt(cursor);
        if (sign === code.greater || sign === code.slash || cursor >= stop) break;
        const equals = find(text, code.equals, cursor, stop);
        let from = equals + 1;
        while (text.charCodeAt(from) <= code.space) from++;
        const quote = text.charCodeAt(from) === code.apostrophe ? code.apostrophe : code.quote;
        const to = find(text, quote, from + 1, stop);
        if (to === stop) return;
        if (equals - cursor === 1 || text.charCodeAt(cursor + 1) <= code.space) {
          if (sign === 0x72 /* r */) {
            const found = columnOf(text, from + 1, to);
            if (found > 0) {
              column = found;
              hasAddress = true;
            }
          } else if (sign === 0x73 /* s */) style = smallNumber(text, from + 1, to);
          else if (sign === 0x74 /* t */) type = text.slice(from + 1, to);
        }
        cursor = to + 1;
      }
      if (!hasAddress) column++;
      if (text.charCodeAt(cursor) === code.slash) {
        this.#sink.cell(column, type, style, '', undefined);
        at = cursor + 2;
        continue;
      }
      const inner = cursor + 1;
      if (text.startsWith(this.#valueOpen, inner)) {
        const valueStart = inner + this.#valueOpen.length;
        const valueEnd = find(text, code.less, valueStart, stop);
        if (text.startsWith(this.#valueAndCellClose, valueEnd)) {
          this.#plainCell(text, valueStart, valueEnd, column, type, style);
          at = valueEnd + this.#valueAndCellClose.length;
          continue;
        }
      }
      const end = text.indexOf(this.#cellClose, inner);
      const cellEnd = end < 0 || end > stop ? stop : end;
      this.#readOther(text.slice(inner, cellEnd), column, type, style);
      at = cellEnd + this.#cellClose.length;
    }
  }

  /** A cell with nothing but a value. */
  #plainCell(text: string, from: number, to: number, column: number, type: string, style: number): void {
    if (type === 'n') {
      const number = decimal(text, from, to);
      if (!Number.isNaN(number)) return this.#sink.number(column, style, number);
    } else if (type === 's') {
      const index = decimal(text, from, to);
      if (Number.isInteger(index) && index >= 0) return this.#sink.string(column, style, index);
    }
    this.#sink.cell(column, type, style, decodeReferences(text.slice(from, to)), undefined);
  }

  /** A cell with a formula, with words of its own, or written in some other way. */
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

/** Where a sign stands next, before `stop`; looked for sign by sign, since it is always near. */
function find(text: string, sign: number, from: number, stop: number): number {
  let at = from;
  while (at < stop && text.charCodeAt(at) !== sign) at++;
  return at;
}

/** The column of an address such as `AB12`; 0 when it is none. */
function columnOf(text: string, from: number, to: number): number {
  let column = 0;
  for (let at = from; at < to; at++) {
    const sign = text.charCodeAt(at) & 0xdf; // capital
    if (sign < 0x41 || sign > 0x5a) break;
    column = column * 26 + sign - 0x40;
  }
  return column <= 16_384 ? column : 0;
}

function smallNumber(text: string, from: number, to: number): number {
  let number = 0;
  for (let at = from; at < to; at++) number = number * 10 + text.charCodeAt(at) - 0x30;
  return number >= 0 ? number : 0;
}

/** The value of an attribute in the inside of a tag. */
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

/** The words of a string item (18.4.8), its rich runs joined and its phonetic guides (18.4.6) left out. */
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

/** Without comments and instructions; character data sections as the text they stand for. */
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

/** Replaces what stands between two marks, and the marks, in one pass. */
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
