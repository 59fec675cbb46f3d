import { DrawerError } from '../../../content/index.ts';
import { checkBound } from '../../bounds.ts';

/** The bytes of a part; each reader continues where the last one stopped. */
export class ByteStream {
  readonly #chunks: AsyncIterator<Uint8Array>;
  /** Buffer in which kept and new bytes are joined; earlier bytes are overwritten. */
  #joined: Uint8Array = new Uint8Array(0);
  /** Bytes read but not used. */
  bytes: Uint8Array = new Uint8Array(0);
  ended = false;

  constructor(chunks: AsyncIterable<Uint8Array>) {
    this.#chunks = chunks[Symbol.asyncIterator]();
  }

  /** Reads more bytes and drops those before `keepFrom`. */
  async more(keepFrom: number): Promise<void> {
    const { value, done } = await this.#chunks.next();
    const kept = this.bytes.subarray(keepFrom);
    if (done) {
      this.ended = true;
      this.bytes = kept;
    } else this.bytes = kept.length === 0 ? value : this.#join(kept, value);
  }

  #join(kept: Uint8Array, chunk: Uint8Array): Uint8Array {
    const length = kept.length + chunk.length;
    const room = this.#joined.length < length ? new Uint8Array(2 * length) : this.#joined;
    room.set(kept); // may overlap: both can be in the same buffer
    this.#joined = room;
    this.#joined.set(chunk, kept.length);
    return this.#joined.subarray(0, length);
  }

  async close(): Promise<void> {
    await this.#chunks.return?.();
  }
}

/** The text before the rows: sizes of columns, and the prefix of elements. */
export interface SheetHead {
  readonly text: string;
  /** The file's prefix for elements of sheets, with its colon; mostly empty. */
  readonly prefix: string;
  readonly isEmpty: boolean;
}

/** The start tag of a sheet's rows (ISO/IEC 29500-1, 18.3.1.80): its prefix, and whether it is a single tag. */
export const dataTag = /<((?:[\w.-]+:)?)sheetData(?:\s[^>]*)?(\/?)>/;

/** Reads up to the first row. */
export async function readSummary(stream: ByteStream, part: string): Promise<SheetHead> {
  const decoder = new TextDecoder();
  for (;;) {
    const text = decoder.decode(stream.bytes);
    const match = dataTag.exec(text);
    checkBound('sheetHead', match?.index ?? stream.bytes.length, part);
    if (match) {
      const end = match.index + match[0].length;
      stream.bytes = stream.bytes.subarray(new TextEncoder().encode(text.slice(0, end)).length);
      return { text: text.slice(0, match.index), prefix: match[1] ?? '', isEmpty: match[2] === '/' };
    }
    if (stream.ended) return { text, prefix: '', isEmpty: true };
    await stream.more(0);
    if (isUtf16(stream.bytes)) throw new DrawerError('unreadable/part-utf16', { part });
  }
}

const isUtf16 = (bytes: Uint8Array): boolean =>
  (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);

const letter = { w: 0x77, o: 0x6f, r: 0x72, less: 0x3c, slash: 0x2f, colon: 0x3a, greater: 0x3e } as const;

/**
 * Skips rows until one at or after `first` by searching for the letter w, which is rare outside the names of rows. Leaves the stream
 * at that row's tag and returns the number of the row before it.
 */
export async function skipToRow(stream: ByteStream, first: number): Promise<number> {
  let at = 0;
  let last = 0;
  for (;;) {
    const { bytes } = stream;
    const hit = bytes.indexOf(letter.w, at);
    if (hit < 0 || hit + 400 > bytes.length) {
      if (stream.ended) {
        if (hit < 0) {
          stream.bytes = bytes.subarray(bytes.length);
          return last;
        }
      } else {
        const keep = Math.max(0, (hit < 0 ? bytes.length : hit) - 80);
        const back = (hit < 0 ? bytes.length : hit) - keep;
        await stream.more(keep);
        at = back;
        continue;
      }
    }
    const start = rowStart(bytes, hit);
    if (start >= 0) {
      const number = rowNumber(bytes, hit) ?? last + 1;
      if (number >= first) {
        stream.bytes = bytes.subarray(start);
        return number - 1;
      }
      last = number;
    }
    at = hit + 1;
  }
}

/** Start of the row tag whose name ends at `hit`; -1 if there is none. */
export function rowStart(bytes: Uint8Array, hit: number): number {
  if (bytes[hit - 1] !== letter.o || bytes[hit - 2] !== letter.r) return -1;
  const next = bytes[hit + 1] ?? 0;
  if (next !== 0x20 && next !== letter.greater && next !== 0x2f && next !== 0x0a && next !== 0x0d && next !== 0x09)
    return -1;
  if (bytes[hit - 3] === letter.less) return hit - 3;
  if (bytes[hit - 3] !== letter.colon) return -1;
  for (let at = hit - 4; at >= Math.max(0, hit - 70); at--) {
    if (bytes[at] === letter.less) return at;
    if (bytes[at] === 0x2f || bytes[at] === 0x20) return -1;
  }
  return -1;
}

/** The `r` attribute of the row. */
export function rowNumber(bytes: Uint8Array, hit: number): number | undefined {
  if (bytes[hit + 2] === letter.r && bytes[hit + 3] === 0x3d && bytes[hit + 4] === 0x22) {
    let number = 0; // the usual form: first, in double quotes
    let at = hit + 5;
    for (let digit = bytes[at] ?? 0; digit >= 0x30 && digit <= 0x39; digit = bytes[++at] ?? 0)
      number = number * 10 + digit - 0x30;
    if (bytes[at] === 0x22 && at > hit + 5) return number;
  }
  const end = bytes.indexOf(letter.greater, hit);
  const attributes = String.fromCharCode(...bytes.subarray(hit + 1, Math.min(end < 0 ? bytes.length : end, hit + 400)));
  const [, number] = /(?:^|\s)r\s*=\s*["'](\d{1,7})["']/.exec(attributes) ?? [];
  return number === undefined ? undefined : Number(number);
}

/** Reads the text behind the rows. */
export async function readTail(stream: ByteStream): Promise<string> {
  await skipToEnd(stream);
  const decoder = new TextDecoder();
  let text = '';
  while (!stream.ended || stream.bytes.length > 0) {
    text += decoder.decode(stream.bytes, { stream: true });
    if (stream.ended) break;
    await stream.more(stream.bytes.length);
  }
  return text;
}

/** The letter `h` of `sheetData`: rare in cells, so a search for it finds the end tag quickly. */
const rareLetter = 0x68;
const name = new TextEncoder().encode('sheetData');
const letterAt = 1;
/** Longest tag name with prefix and bracket. */
const longestName = 80;

/** Start of the end tag of `sheetData` from an offset on; -1 if it is not there. */
export function findDataEnd(bytes: Uint8Array, from: number): number {
  for (let hit = bytes.indexOf(rareLetter, from); hit >= 0; hit = bytes.indexOf(rareLetter, hit + 1)) {
    const start = hit - letterAt;
    if (!name.every((each, index) => bytes[start + index] === each)) continue;
    let open = start - 1;
    while (open > start - longestName && bytes[open] !== letter.less) open--;
    if (bytes[open] === letter.less && bytes[open + 1] === letter.slash) return open;
  }
  return -1;
}

async function skipToEnd(stream: ByteStream): Promise<void> {
  for (;;) {
    const { bytes, ended } = stream;
    const end = findDataEnd(bytes, 0);
    if (end >= 0 || ended) {
      stream.bytes = bytes.subarray(end >= 0 ? end : bytes.length);
      return;
    }
    await stream.more(Math.max(0, bytes.length - longestName));
  }
}
