import type { Zip } from '../../package/zip.ts';
import { decodeReferences } from '../../xml/declared.ts';
import { textOf } from '../../xml/text-of.ts';
import { stringWords } from './row-scanner.ts';

/** Who waits for shared strings, by their numbers. */
export interface StringSink {
  /** The last number waited for; -1 when none is. */
  readonly last: number;
  waitsFor(number: number): boolean;
  string(number: number, words: string): void;
}

/** Tells the shared strings (ISO/IEC 29500-1, 18.4.9) that are waited for; behind the last of them the part is not read. */
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

/** What items are called in this part. */
interface StringScan {
  readonly open: string;
  readonly close: string;
  readonly plain: string;
  readonly plainEnd: string;
  readonly sink: StringSink;
  /** How many have been passed. */
  count: number;
}

function findScan(text: string, sink: StringSink): StringScan | undefined {
  const prefix = /<((?:[\w.-]+:)?)sst[\s>]/.exec(text)?.[1];
  if (prefix === undefined) return undefined;
  const close = `</${prefix}si>`;
  return { open: `<${prefix}si`, close, plain: `<${prefix}t>`, plainEnd: `</${prefix}t>${close}`, sink, count: 0 };
}

/** Reads whole items of the text; gives how much of it was used. */
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
    if (isPlain && ends === close) end = text.indexOf(close, inner);
    if (end < 0) return start;
    const number = scan.count++;
    if (sink.waitsFor(number)) {
      const words = ends === plainEnd ? decodeReferences(text.slice(first, end)) : stringWords(text.slice(inner, end));
      sink.string(number, unescapeXstring(words));
    }
    at = end + ends.length;
  }
}

const slash = 0x2f;

/** ST_Xstring (22.9.2.19): `_x000D_` stands for the character of that number. */
export const unescapeXstring = (words: string): string =>
  words.includes('_x')
    ? words.replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex) => String.fromCharCode(Number.parseInt(hex, 16)))
    : words;
