import { maxRows, type Span } from '../../../places/index.ts';
import type { Zip, ZipEntry } from '../../package/zip.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { misnumbered } from './sheet-rows.ts';
import { ByteStream, dataTag, findDataEnd, rowNumber, rowStart } from './sheet-stream.ts';

/** Smaller parts, in bytes, are read into memory. */
const large = 8 * 1024 * 1024;

/** A range of the part's bytes. */
interface Stretch {
  readonly start: number;
  readonly end: number;
}

/**
 * A sheet too large for memory. Only its head up to the first row, the rows to edit and everything behind the rows are held; joined,
 * they are `text`, a sheet without the other rows. Edits of `text` are applied to the whole sheet; other rows pass as bytes.
 */
export class LargeSheet {
  readonly text: string;
  readonly #zip: Zip;
  readonly #entry: ZipEntry;
  readonly #found: FoundWindow;

  constructor(zip: Zip, entry: ZipEntry, found: FoundWindow) {
    this.#zip = zip;
    this.#entry = entry;
    this.#found = found;
    this.text = found.head + found.rows + found.tailText;
  }

  /** Reads the part again and returns it with edits of `text` applied. */
  async *edited(edits: readonly TextEdit[]): AsyncGenerator<Uint8Array> {
    const encoder = new TextEncoder();
    const { head, headEnd, rows, around, tail } = this.#found;
    const first = head.length;
    const last = first + rows.length;
    const inHead = edits.filter(({ start, end }) => start < first && end <= first);
    const inRows = edits.filter(({ start, end }) => start >= first && end <= last);
    const inTail = edits.filter(({ start }) => start > last);
    const piece = (within: readonly TextEdit[], start: number, end: number): Uint8Array =>
      encoder.encode(applyEdits(this.text, within, { start, end }));
    yield piece(inHead, 0, first);
    yield* this.#stretches([
      { start: headEnd, end: around.start, behind: () => piece(inRows, first, last) },
      { start: around.end, end: tail.start, behind: () => piece(inTail, last, this.text.length) },
    ]);
  }

  /** Unchanged ranges of the part, each followed by other bytes. */
  async *#stretches(wanted: readonly (Stretch & { readonly behind: () => Uint8Array })[]): AsyncGenerator<Uint8Array> {
    let at = 0;
    let next = 0;
    for await (const chunk of this.#zip.chunks(this.#entry)) {
      for (let stretch = wanted[next]; stretch; stretch = wanted[++next]) {
        const from = Math.max(stretch.start - at, 0);
        const to = Math.min(stretch.end - at, chunk.length);
        if (from < to) yield chunk.subarray(from, to);
        if (stretch.end > at + chunk.length) break;
        yield stretch.behind();
      }
      at += chunk.length;
      if (next === wanted.length) return;
    }
  }
}

interface FoundWindow {
  readonly head: string;
  readonly headEnd: number;
  /** The rows to edit, and their range in the part. */
  readonly rows: string;
  readonly around: Stretch;
  readonly tail: Stretch;
  readonly tailText: string;
}

/**
 * Opens a large sheet around rows, or around its last filled row without `rows`. Returns `undefined` if the sheet is small, has
 * formulas, or is written in a way that requires all of it.
 * @throws DrawerError `unreadable` if row numbers do not increase, or exceed the sheet's limit
 */
export async function findLargeSheet(zip: Zip, part: string, rows: Span | undefined): Promise<LargeSheet | undefined> {
  const entry = zip.find(part);
  if (!entry || entry.size < large) return undefined;
  const found = await new WindowFinder(zip, entry, rows).find();
  return found && new LargeSheet(zip, entry, found);
}

const sign = { w: 0x77, f: 0x66, less: 0x3c, colon: 0x3a, slash: 0x2f, greater: 0x3e } as const;
/** Bytes needed behind a row's name to read its tag. */
const longestTag = 400;
/** Bytes kept before a letter that was found. */
const before = 80;

/** Searches a sheet once for rare letters, which a byte search finds quickly. */
class WindowFinder {
  readonly #stream: ByteStream;
  readonly #rows: Span | undefined;
  readonly #decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  /** Offset of `#stream.bytes` in the part. */
  #base = 0;
  #number = 0;
  /** Offsets of the first row to hold, and of the first row behind them. */
  #from: number | undefined;
  #to: number | undefined;
  /** The rows to hold, once the row behind them is reached. */
  #aroundText: string | undefined;

  constructor(zip: Zip, entry: ZipEntry, rows: Span | undefined) {
    this.#stream = new ByteStream(zip.chunks(entry));
    this.#rows = rows;
  }

  async find(): Promise<FoundWindow | undefined> {
    try {
      const head = await this.#head();
      const headEnd = this.#base;
      const end = head === undefined ? undefined : await this.#passRows();
      if (head === undefined || end === undefined) return undefined;
      const around = { start: this.#from ?? this.#to ?? end, end: this.#to ?? end };
      const rows = this.#aroundText ?? this.#text(around);
      while (!this.#stream.ended) await this.#more(end);
      const tail = { start: end, end: this.#base + this.#stream.bytes.length };
      const tailText = this.#text(tail);
      if (rows === undefined || tailText === undefined) return undefined;
      return { head, headEnd, rows, around, tail, tailText };
    } finally {
      await this.#stream.close();
    }
  }

  /** Text of a range; `undefined` if it is not UTF-8. */
  #text({ start, end }: Stretch): string | undefined {
    try {
      return this.#decoder.decode(this.#stream.bytes.subarray(start - this.#base, end - this.#base));
    } catch {
      return undefined;
    }
  }

  /** Reads more bytes and keeps those from an offset of the part. */
  async #more(keep: number): Promise<void> {
    const from = Math.max(0, keep - this.#base);
    await this.#stream.more(from);
    this.#base += from;
  }

  /** The text before the first row; `undefined` without rows. */
  async #head(): Promise<string | undefined> {
    for (;;) {
      const { bytes, ended } = this.#stream;
      const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
      const match = dataTag.exec(text);
      if (match?.[2] === '/' || (!match && (ended || bytes.length > large))) return undefined;
      if (match) {
        const head = text.slice(0, match.index + match[0].length);
        const length = new TextEncoder().encode(head).length;
        if (this.#text({ start: this.#base, end: this.#base + length }) !== head) return undefined; // not UTF-8
        this.#stream.bytes = bytes.subarray(length);
        this.#base += length;
        return head;
      }
      await this.#more(0);
    }
  }

  /** Offset of the end of the rows; `undefined` if the sheet must be read whole. */
  async #passRows(): Promise<number | undefined> {
    let at = this.#base;
    for (;;) {
      const { bytes, ended } = this.#stream;
      const limit = ended ? bytes.length : bytes.length - longestTag;
      const end = findDataEnd(bytes, at - this.#base);
      const stop = end < 0 ? Math.max(0, limit) : end;
      if (this.#holdsFormula(bytes, at - this.#base, stop) || !this.#passTags(bytes, at - this.#base, stop))
        return undefined;
      if (end >= 0) return this.#base + end;
      if (ended) return undefined;
      at = Math.max(at, this.#base + stop);
      const isOpen = this.#from !== undefined && this.#to === undefined;
      await this.#more(isOpen ? Math.min(this.#from ?? at, at - before) : at - before);
    }
  }

  #holdsFormula(bytes: Uint8Array, from: number, to: number): boolean {
    for (let hit = bytes.indexOf(sign.f, from); hit >= 0 && hit < to; hit = bytes.indexOf(sign.f, hit + 1))
      if (bytes[hit - 1] === sign.less || bytes[hit - 1] === sign.colon) return true;
    return false;
  }

  /** Finds the range to hold; `false` if a row has no number. */
  #passTags(bytes: Uint8Array, from: number, to: number): boolean {
    for (let hit = bytes.indexOf(sign.w, from); hit >= 0 && hit < to; hit = bytes.indexOf(sign.w, hit + 1)) {
      const start = rowStart(bytes, hit);
      if (start < 0) continue;
      const number = rowNumber(bytes, hit);
      if (number === undefined) return false;
      if (number <= this.#number || number > maxRows) throw misnumbered(this.#number, number);
      this.#number = number;
      this.#learn(bytes, start, hit);
    }
    return true;
  }

  #learn(bytes: Uint8Array, start: number, hit: number): void {
    const place = this.#base + start;
    if (this.#rows) {
      if (this.#number > this.#rows.to) {
        if (this.#to === undefined) this.#aroundText = this.#text({ start: this.#from ?? place, end: place });
        this.#to ??= place;
      } else if (this.#number >= this.#rows.from) this.#from ??= place;
      return;
    }
    const tagEnd = bytes.indexOf(sign.greater, hit);
    const isFilled = bytes[tagEnd - 1] !== sign.slash && bytes[tagEnd + 2] !== sign.slash;
    if (isFilled || this.#from === undefined) this.#from = place;
  }
}
