import { maxRows, type Span } from '../../../places/index.ts';
import type { Zip, ZipEntry } from '../../package/zip.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { misnumbered } from './sheet-rows.ts';
import { ByteStream, dataTag, findDataEnd, rowNumber, rowStart } from './sheet-stream.ts';

/** Smaller parts, in bytes, are simpler to have in memory. */
const large = 8 * 1024 * 1024;

/** A stretch of the part's bytes. */
interface Stretch {
  readonly start: number;
  readonly end: number;
}

/**
 * A sheet too long to be had in memory, of which only what stands around the rows in question is: the head up to its first row,
 * those rows, and what stands behind all rows, put together to `text`, which reads as a sheet without the other rows. Its edits
 * become those of the whole, whose other rows pass through as bytes.
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

  /** The whole part with edits of `text` made in it, read anew. */
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

  /** Stretches of the part as they are, each followed by something else. */
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
  /** The rows in question, and where they stand in the part. */
  readonly rows: string;
  readonly around: Stretch;
  readonly tail: Stretch;
  readonly tailText: string;
}

/**
 * The sheet around rows, or around its last filled row where `rows` is `undefined`; `undefined` where it is small, holds
 * formulas, or is written in a way that asks for all of it.
 * @throws DrawerError `unreadable` where the numbers of rows do not rise, or go past the sheet's end.
 */
export async function findLargeSheet(zip: Zip, part: string, rows: Span | undefined): Promise<LargeSheet | undefined> {
  const entry = zip.find(part);
  if (!entry || entry.size < large) return undefined;
  const found = await new WindowFinder(zip, entry, rows).find();
  return found && new LargeSheet(zip, entry, found);
}

const sign = { w: 0x77, f: 0x66, less: 0x3c, colon: 0x3a, slash: 0x2f, greater: 0x3e } as const;
/** What a tag of a row needs, so that it can be read where it stands. */
const longestTag = 400;
/** What stands in front of a letter that was found, as far as it matters. */
const before = 80;

/** Passes over a sheet once, looking for letters that are rare in it, as a search of bytes is quick at that. */
class WindowFinder {
  readonly #stream: ByteStream;
  readonly #rows: Span | undefined;
  readonly #decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  /** Where `#stream.bytes` begins in the part. */
  #base = 0;
  #number = 0;
  /** The first row of what is held, and the first behind it. */
  #from: number | undefined;
  #to: number | undefined;
  /** What is held, once what follows it has been reached. */
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

  /** `undefined` where it is no UTF-8. */
  #text({ start, end }: Stretch): string | undefined {
    try {
      return this.#decoder.decode(this.#stream.bytes.subarray(start - this.#base, end - this.#base));
    } catch {
      return undefined;
    }
  }

  /** Reads on, and keeps what begins at a place of the part. */
  async #more(keep: number): Promise<void> {
    const from = Math.max(0, keep - this.#base);
    await this.#stream.more(from);
    this.#base += from;
  }

  /** Up to the first row; `undefined` where there are none. */
  async #head(): Promise<string | undefined> {
    for (;;) {
      const { bytes, ended } = this.#stream;
      const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
      const match = dataTag.exec(text);
      if (match?.[2] === '/' || (!match && (ended || bytes.length > large))) return undefined;
      if (match) {
        const head = text.slice(0, match.index + match[0].length);
        const length = new TextEncoder().encode(head).length;
        if (this.#text({ start: this.#base, end: this.#base + length }) !== head) return undefined; // no UTF-8
        this.#stream.bytes = bytes.subarray(length);
        this.#base += length;
        return head;
      }
      await this.#more(0);
    }
  }

  /** Where the rows end; `undefined` where something stands in the way. */
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

  /** Learns where what is held begins and ends; `false` where a row does not say its number. */
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
