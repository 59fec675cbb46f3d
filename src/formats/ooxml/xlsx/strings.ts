import type { Zip } from '../../package/zip.ts';
import { decodeReferences } from '../../xml/references.ts';
import { stringWords } from './row-scanner.ts';

/** The shared strings (ISO/IEC 29500-1, 18.4.9) up to the last one asked for; the rest of the part is not read. */
export async function readStrings(zip: Zip, part: string | undefined, last: number): Promise<readonly string[]> {
  const strings: string[] = [];
  const entry = part === undefined || last < 0 ? undefined : zip.find(part);
  if (!entry) return strings;
  const decoder = new TextDecoder();
  let scan: StringScan | undefined;
  let text = '';
  for await (const chunk of zip.chunks(entry)) {
    text += decoder.decode(chunk, { stream: true });
    scan ??= findScan(text);
    if (!scan) continue;
    text = text.slice(scanStrings(text, scan, strings));
    if (strings.length > last) return strings;
  }
  return strings;
}

/** What items are called in this part. */
interface StringScan {
  readonly open: string;
  readonly close: string;
  readonly plain: string;
  readonly plainEnd: string;
}

function findScan(text: string): StringScan | undefined {
  const prefix = /<((?:[\w.-]+:)?)sst[\s>]/.exec(text)?.[1];
  if (prefix === undefined) return undefined;
  const close = `</${prefix}si>`;
  return { open: `<${prefix}si`, close, plain: `<${prefix}t>`, plainEnd: `</${prefix}t>${close}` };
}

/** Reads whole items of the text; gives how much of it was used. */
function scanStrings(text: string, { open, close, plain, plainEnd }: StringScan, strings: string[]): number {
  let at = 0;
  for (;;) {
    const start = text.indexOf(open, at);
    const tagEnd = start < 0 ? -1 : text.indexOf('>', start);
    if (tagEnd < 0) return start < 0 ? Math.max(at, text.length - open.length) : start;
    if (text[tagEnd - 1] === '/') {
      strings.push('');
      at = tagEnd + 1;
      continue;
    }
    const inner = tagEnd + 1;
    if (text.startsWith(plain, inner)) {
      const end = text.indexOf('<', inner + plain.length);
      if (text.startsWith(plainEnd, end)) {
        strings.push(unescapeXstring(decodeReferences(text.slice(inner + plain.length, end))));
        at = end + plainEnd.length;
        continue;
      }
    }
    const end = text.indexOf(close, inner);
    if (end < 0) return start;
    strings.push(unescapeXstring(stringWords(text.slice(inner, end))));
    at = end + close.length;
  }
}

/** ST_Xstring (22.9.2.19): `_x000D_` stands for the character of that number. */
export const unescapeXstring = (words: string): string =>
  words.includes('_x')
    ? words.replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex) => String.fromCharCode(Number.parseInt(hex, 16)))
    : words;
