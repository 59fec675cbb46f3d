import { type Cell, isSafeHref, type Marks } from '../../../content/index.ts';
import { type Budget, checkBound } from '../../bounds.ts';
import type { Zip } from '../../package/zip.ts';
import type { Display } from '../../sheets/display.ts';
import { isErrorValue } from '../../sheets/formulas.ts';
import { decodeReferences } from '../../xml/element.ts';
import { textOf } from '../../xml/text-of.ts';
import { stringWords } from './row-scanner.ts';
import type { CellLook } from './styles.ts';

/** What cells need of the rest of the workbook. */
export interface CellContext {
  readonly styleOf: (index: number) => CellLook;
  readonly display: Display;
  readonly budget: Budget;
}

type TextCell = { -readonly [K in keyof Extract<Cell, { type: 'text' }>]: Extract<Cell, { type: 'text' }>[K] };

/**
 * Cells whose shared strings have not been read yet. Cells of the same string and look share one object, since sheets repeat strings
 * and cells are immutable.
 */
export class WaitingCells implements StringSink {
  readonly #display: Display;
  readonly #byLook = new Map<CellLook, CellsByString>();
  #newest: { readonly look: CellLook; readonly cells: CellsByString } | undefined;
  #length = 0;
  /** Index of the last string needed; -1 if none. */
  last = -1;

  constructor(display: Display) {
    this.#display = display;
  }

  cell(string: number, look: CellLook): Cell {
    if (this.#newest?.look !== look) this.#newest = { look, cells: this.#cellsOf(look) };
    const { cells, repeats } = this.#newest.cells;
    const known = cells[string];
    if (known) {
      repeats[string] = (repeats[string] ?? 0) + 1;
      return known;
    }
    const cell: TextCell = look.plain ? { type: 'text', value: '' } : { type: 'text', value: '', ...look.look };
    cells[string] = cell;
    if (string > this.last) this.last = string;
    return cell;
  }

  #cellsOf(look: CellLook): CellsByString {
    const known = this.#byLook.get(look) ?? { cells: [], repeats: [] };
    this.#byLook.set(look, known);
    return known;
  }

  waitsFor(string: number): boolean {
    for (const { cells } of this.#byLook.values()) if (cells[string]) return true;
    return false;
  }

  /** @throws DrawerError `too-large` if long strings repeat too often */
  string(string: number, words: string): void {
    for (const [{ format }, { cells, repeats }] of this.#byLook) {
      const cell = cells[string];
      if (!cell) continue;
      cell.value = this.#display.words(words, format);
      this.#length += cell.value.length * (1 + (repeats[string] ?? 0));
    }
    checkBound('words', this.#length);
  }
}

/** Cells by the index of their string, and how often each repeats. Plain arrays, for a million entries. */
interface CellsByString {
  readonly cells: TextCell[];
  readonly repeats: number[];
}

/** A cell with its typed value (ISO/IEC 29500-1, 18.18.11) and shown text; shared strings follow later. */
export function typedCell(
  type: string,
  style: number,
  value: string,
  formula: string | undefined,
  { styleOf, display }: CellContext,
  waiting: WaitingCells,
): Cell {
  const known = styleOf(style);
  const { format, look: own } = known;
  if (type === 'n' && formula === undefined) return storedNumber(value, known, own, display);
  const look = formula === undefined ? own : { ...own, ...formulaLook(formula, own.marks) };
  switch (type) {
    case 's':
      return waiting.cell(Number(value), formula === undefined ? known : { format, look, plain: false });
    case 'str':
    case 'inlineStr':
      return textCell(display.words(unescapeXstring(value), format), look);
    case 'b': {
      const isTrue = value === '1' || value === 'true';
      return { type: 'boolean', value: isTrue, text: isTrue ? 'TRUE' : 'FALSE', ...withFormat(look, format) };
    }
    case 'e':
      return isErrorValue(value) ? { type: 'error', value, ...look } : textCell(value, look);
    case 'd':
      return dateCell(value, format, look);
    default:
      return storedNumber(value, known, look, display);
  }
}

type Look = CellLook['look'] & { readonly formula?: string };

const withFormat = (look: Look, format: string | undefined) => (format === undefined ? look : { ...look, format });

/** The formula, and the link of `HYPERLINK` with a literal address. */
function formulaLook(formula: string, marks: Marks | undefined): Pick<Look, 'formula' | 'marks'> {
  const [, address = ''] = /^HYPERLINK\(\s*"([^"]{1,2000})"/i.exec(formula) ?? [];
  return { formula, ...(isSafeHref(address) && { marks: { ...marks, link: { href: address } } }) };
}

export const textCell = (value: string, look: Look): Cell =>
  value === '' ? { type: 'empty', ...look } : { type: 'text', value, ...look };

/** Strict workbooks may write dates in full (18.18.11, `d`). */
function dateCell(value: string, format: string | undefined, look: Look): Cell {
  const moment = value.replace(/(?:\.\d+)?(?:Z|[+-]\d\d:\d\d)?$/, '').replace(/T00:00:00$/, '');
  return /^\d{4}-\d\d-\d\d(?:T\d\d:\d\d:\d\d)?$/.test(moment)
    ? { type: 'date', value: moment, text: moment.replace('T', ' '), ...withFormat(look, format) }
    : textCell(value, look);
}

function storedNumber(value: string, known: CellLook, look: Look, display: Display): Cell {
  const number = Number(value);
  if (value === '' || !Number.isFinite(number)) return { type: 'empty', ...look };
  return numberCell(number, known, display, look);
}

/** A number as its format shows it; a date if the format is one of dates. */
export function numberCell(number: number, known: CellLook, display: Display, look: Look = known.look): Cell {
  const { format } = known;
  const text = display.number(number, format);
  const isBare = known.plain && look.formula === undefined;
  if (format === undefined)
    return isBare ? { type: 'number', value: number, text } : { type: 'number', value: number, text, ...look };
  const date = display.isDate(format) ? display.isoMoment(number) : undefined;
  if (date !== undefined) return { type: 'date', value: date, text, ...look, format };
  return isBare
    ? { type: 'number', value: number, text, format }
    : { type: 'number', value: number, text, ...look, format };
}

/** Receives shared strings by their indexes. */
export interface StringSink {
  /** Last index needed; -1 if none. */
  readonly last: number;
  waitsFor(number: number): boolean;
  string(number: number, words: string): void;
}

/** Reads the shared strings (ISO/IEC 29500-1, 18.4.9) that a sink needs, and stops after the last of them. */
export async function readStrings(zip: Zip, part: string | undefined, sink: StringSink): Promise<void> {
  const entry = part === undefined || sink.last < 0 ? undefined : zip.find(part);
  if (!entry) return;
  let scan: StringScan | undefined;
  let text = '';
  for await (const piece of textOf(zip.chunks(entry), entry.name)) {
    text += piece;
    scan ??= findScan(text, sink);
    if (!scan) continue;
    text = text.slice(scanStrings(text, scan));
    if (scan.count > sink.last) return;
  }
}

/** The tags of items in this part. */
interface StringScan {
  readonly open: string;
  readonly close: string;
  readonly plain: string;
  readonly plainEnd: string;
  readonly sink: StringSink;
  /** Items read so far. */
  count: number;
}

function findScan(text: string, sink: StringSink): StringScan | undefined {
  const prefix = /<((?:[\w.-]+:)?)sst[\s>]/.exec(text)?.[1];
  if (prefix === undefined) return undefined;
  const close = `</${prefix}si`;
  return { open: `<${prefix}si`, close, plain: `<${prefix}t>`, plainEnd: `</${prefix}t>${close}>`, sink, count: 0 };
}

/** Reads whole items; returns the number of characters used. */
function scanStrings(text: string, scan: StringScan): number {
  const { open, close, plain, plainEnd, sink } = scan;
  let at = 0;
  for (;;) {
    const start = text.startsWith(open, at) ? at : text.indexOf(open, at);
    const tagEnd = start < 0 ? -1 : text.indexOf('>', start);
    if (tagEnd < 0) return start < 0 ? Math.max(at, text.length - open.length) : start;
    if (text.charCodeAt(tagEnd - 1) === slash) {
      scan.count++;
      at = tagEnd + 1;
      continue;
    }
    const inner = tagEnd + 1;
    const isPlain = text.startsWith(plain, inner);
    const first = isPlain ? inner + plain.length : inner;
    let end = text.indexOf(isPlain ? '<' : close, first);
    const ends = isPlain && text.startsWith(plainEnd, end) ? plainEnd : close;
    if (ends === close) end = findEndTag(text, close, inner);
    const itemEnd = end < 0 ? -1 : text.indexOf('>', end + ends.length - 1) + 1;
    if (itemEnd <= 0) return start;
    const number = scan.count++;
    if (sink.waitsFor(number)) {
      const words = ends === plainEnd ? decodeReferences(text.slice(first, end)) : stringWords(text.slice(inner, end));
      sink.string(number, unescapeXstring(words));
    }
    at = itemEnd;
  }
}

/** Start of an end tag from an offset on, which may have a space behind its name; -1 if it is not there. */
export function findEndTag(text: string, close: string, from: number): number {
  let at = text.indexOf(close, from);
  while (at >= 0 && !/[\s>]/.test(text[at + close.length] ?? '')) at = text.indexOf(close, at + 1);
  return at;
}

const slash = 0x2f;

/** Decodes ST_Xstring (22.9.2.19): `_x000D_` is the character with that code. */
export const unescapeXstring = (words: string): string =>
  words.includes('_x')
    ? words.replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex) => String.fromCharCode(Number.parseInt(hex, 16)))
    : words;
