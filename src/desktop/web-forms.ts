import type { Copied } from './clipboard.ts';

/** Where Chromium tells which of its numbered forms has what a page copied under a name of its own (Clipboard API, `web ` forms). */
const formMap = 'application/web;type="custom/formatmap"';
const firstForm = 'application/web;type="custom/format0"';
/** Where Chromium has what a page put into a copy by a name of its own (HTML, DataTransfer `setData`): pairs of names and words. */
const pageData = 'chromium/x-web-custom-data';

/** What a page copied under a media type of its own, in either of Chromium's ways. */
export async function readWebForm(copied: Copied, type: string): Promise<Uint8Array | undefined> {
  if (copied.forms.includes(formMap)) {
    const map = recordIn(await copied.read(formMap));
    const form = map[type];
    if (typeof form === 'string') return copied.read(form);
  }
  const data = copied.forms.includes(pageData) ? await copied.read(pageData) : undefined;
  const words = data && wordsIn(data).get(type);
  return words === undefined ? undefined : new TextEncoder().encode(words);
}

/** The forms by which a page in Chromium is handed words under a media type of its own, in both ways. */
export const webForms = (type: string, words: string): readonly (readonly [string, Uint8Array])[] => [
  [formMap, new TextEncoder().encode(JSON.stringify({ [type]: firstForm }))],
  [firstForm, new TextEncoder().encode(words)],
  [pageData, pairs(type, words)],
];

function recordIn(json: Uint8Array | undefined): Readonly<Record<string, unknown>> {
  try {
    const held: unknown = JSON.parse(new TextDecoder().decode(json));
    return typeof held === 'object' && held !== null ? (held as Record<string, unknown>) : {};
  } catch {
    return {};
  }
}

/** A length, how many pairs there are, and each word as its length in UTF-16 and itself, filled up to 32 bits. */
function wordsIn(data: Uint8Array): ReadonlyMap<string, string> {
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  let at = 4;
  const number = (): number => {
    at += 4;
    return view.getUint32(at - 4, true);
  };
  const word = (): string => {
    const size = number() * 2;
    const found = new TextDecoder('utf-16le').decode(data.subarray(at, at + size));
    at += size + (size % 4);
    return found;
  };
  const words = new Map<string, string>();
  try {
    for (let left = number(); left > 0; left--) words.set(word(), word());
  } catch (error) {
    if (!(error instanceof RangeError)) throw error; // cut off
  }
  return words;
}

function pairs(name: string, words: string): Uint8Array {
  const parts = [number(1), ...[name, words].flatMap(filledUp)];
  const size = parts.reduce((sum, { length }) => sum + length, 0);
  return new Uint8Array(Buffer.concat([number(size), ...parts]));
}

function filledUp(words: string): readonly Buffer[] {
  const bytes = Buffer.from(words, 'utf16le');
  return [number(words.length), bytes, Buffer.alloc(bytes.length % 4)];
}

function number(value: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32LE(value);
  return bytes;
}
