// Node's own decoder takes Windows-1252 for Latin-1.
import { TextDecoder } from '@exodus/bytes/encoding-lite.js';
import { createSinglebyteEncoder } from '@exodus/bytes/single-byte.js';
import { utf16fromString } from '@exodus/bytes/utf16.js';
import { concatBytes } from '@noble/hashes/utils.js';
import { DrawerError } from '../../content/index.ts';
import { nullPrototype } from '../xml/element.ts';

/** How a text file writes its characters. */
export interface TextEncoding {
  /** As the Encoding standard names it. */
  readonly name: string;
  /** Whether a byte order mark stands in front (Unicode, section 23.8). */
  readonly mark: boolean;
}

export interface DecodedText extends TextEncoding {
  /** Without the byte order mark; line ends as they are. */
  readonly text: string;
}

/** Marks and the encodings they mean. */
const marks: readonly { readonly name: TextEncoding['name']; readonly bytes: readonly number[] }[] = [
  { name: 'utf-8', bytes: [0xef, 0xbb, 0xbf] },
  { name: 'utf-16le', bytes: [0xff, 0xfe] },
  { name: 'utf-16be', bytes: [0xfe, 0xff] },
];

/** Decodes by the byte order mark; else UTF-8; else UTF-16 where every other byte is zero; else Windows-1252. */
export function decodeText(bytes: Uint8Array, name?: string): DecodedText {
  const { isExact: _, ...decoded } = decode(bytes, name);
  return decoded;
}

/** The same; `isExact` where well-formed UTF-8 is certain to be given back as it was. */
function decode(bytes: Uint8Array, name?: string): DecodedText & { readonly isExact: boolean } {
  const known = statedEncoding(bytes);
  const stated = name ?? known.name ?? 'utf-8';
  const hasMark = known.markLength > 0 && known.name === stated;
  const body = hasMark ? bytes.subarray(known.markLength) : bytes;
  const wellFormed = stated === 'utf-8' ? findUtf8(body) : undefined;
  if (wellFormed !== undefined) return { name: stated, mark: hasMark, text: wellFormed, isExact: true };
  const own = name ?? known.name ?? 'windows-1252';
  return { name: own, mark: hasMark, text: new TextDecoder(own, { ignoreBOM: true }).decode(body), isExact: false };
}

/** What a byte order mark or the first bytes tell, and how long the mark is; no name where nothing does. */
export function statedEncoding(bytes: Uint8Array): { readonly name: string | undefined; readonly markLength: number } {
  const mark = marks.find((each) => each.bytes.every((byte, index) => bytes[index] === byte));
  return { name: mark?.name ?? guessWide(bytes), markLength: mark?.bytes.length ?? 0 };
}

/** UTF-16 where every other byte is zero. */
function guessWide(bytes: Uint8Array): TextEncoding['name'] | undefined {
  const start = bytes.subarray(0, Math.min(bytes.length - (bytes.length % 2), 4096));
  const zeros = [0, 0];
  start.forEach((byte, index) => {
    if (byte === 0) zeros[index % 2] = (zeros[index % 2] ?? 0) + 1;
  });
  const most = start.length * 0.35;
  if ((zeros[1] ?? 0) > most) return 'utf-16le';
  return (zeros[0] ?? 0) > most ? 'utf-16be' : undefined;
}

/** Well-formed UTF-8 (Unicode, section 3.9, table 3-7) as text; `undefined` for other bytes. */
function findUtf8(bytes: Uint8Array): string | undefined {
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

/** Whether the bytes are well-formed UTF-8. */
export const isUtf8 = (bytes: Uint8Array): boolean => findUtf8(bytes) !== undefined;

/**
 * The bytes of a text in the encoding it was read in.
 * @throws DrawerError `unsupported` for characters that the encoding does not have.
 */
export function encodeText(text: string, { name, mark }: TextEncoding): Uint8Array {
  const body = (encoders[name] ?? singleByte(name))(text);
  const bytes = mark ? (marks.find((each) => each.name === name)?.bytes ?? []) : [];
  return bytes.length === 0 ? body : concatBytes(Uint8Array.from(bytes), body);
}

const encoders: Readonly<Record<string, (text: string) => Uint8Array>> = nullPrototype({
  'utf-8': (text) => new TextEncoder().encode(text),
  'utf-16le': (text) => utf16fromString(text, 'uint8-le'),
  'utf-16be': (text) => utf16fromString(text, 'uint8-be'),
});

const singleByte =
  (name: string) =>
  (text: string): Uint8Array => {
    try {
      return createSinglebyteEncoder(name)(text);
    } catch (cause) {
      throw new DrawerError('unsupported/encoding-not-written', { encoding: name }, { cause });
    }
  };

/**
 * The same, refusing bytes that decoding would not give back: a file is only edited where all else stays as it was.
 * @throws DrawerError `unsupported`
 */
export function decodeExactly(bytes: Uint8Array, name?: string): DecodedText {
  const { isExact, ...decoded } = decode(bytes, name);
  if (isExact) return decoded;
  const again = encodeText(decoded.text, decoded);
  if (again.length === bytes.length && again.every((byte, index) => byte === bytes[index])) return decoded;
  throw new DrawerError('unsupported/encodings-mixed');
}
