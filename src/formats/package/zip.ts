import crc32 from 'crc-32';
import { Inflate as Inflater } from 'fflate';
import { DrawerError } from '../../content/index.ts';
import { checkBound } from '../bounds.ts';
import type { Checksum, Inflate, ReadTools, Source } from '../format.ts';

/**
 * Reads zip containers (PKWARE APPNOTE 6.3) by the directory at their end, so that a part costs its own length and no
 * more, and can be left off half-way. It is our own because an edit must copy untouched parts as they lie in the file,
 * and because the platform's inflate has to be handed in.
 */
export interface Zip {
  readonly entries: readonly ZipEntry[];
  /** Where the directory begins, and what stands behind it. */
  readonly directory: { readonly start: number; readonly end: number };
  find(name: string): ZipEntry | undefined;
  /** The unpacked part in chunks. */
  chunks(entry: ZipEntry): AsyncIterable<Uint8Array>;
}

export interface ZipEntry {
  readonly name: string;
  readonly method: number;
  readonly packedSize: number;
  readonly size: number;
  /** The CRC-32 of the unpacked part (APPNOTE 4.4.7). */
  readonly checksum: number;
  /** Where the entry's local header begins. */
  readonly offset: number;
  /** Where its record in the directory begins and ends. */
  readonly record: { readonly start: number; readonly end: number };
}

const endLength = 22;
const endSignature = 0x06054b50;
const entrySignature = 0x02014b50;
const localSignature = 0x04034b50;
const zip64EndSignature = 0x06064b50;
const zip64LocatorSignature = 0x07064b50;
const stored = 0;
const deflated = 8;
const packedChunk = 64 * 1024;

/** Read once for each source: telling the format of a file needs it too. */
const directories = new WeakMap<Source, ReturnType<typeof readDirectory>>();

/**
 * @param areNamesAlike - whether names that differ only by case name one part, as in Open Packaging Conventions (ISO/IEC
 *   29500-2, 6.2.2.3)
 * @throws DrawerError `unreadable` for two parts of one name: each program would take another of them
 */
export async function openZip(
  source: Source,
  { inflate = portableInflate, checksum = checksumOf }: Pick<ReadTools, 'inflate' | 'checksum'> = {},
  areNamesAlike = false,
): Promise<Zip> {
  const reading = directories.get(source) ?? readDirectory(source);
  directories.set(source, reading);
  const { entries, directory } = await reading;
  const keyOf = (name: string): string => (areNamesAlike ? name.toLowerCase() : name);
  const entriesByName = new Map<string, ZipEntry>();
  for (const entry of entries) {
    const key = keyOf(entry.name);
    if (entriesByName.has(key) && !key.endsWith('/')) throw damaged('partTwice', entry.name);
    entriesByName.set(key, entry);
  }
  return {
    entries,
    directory,
    find: (name) => entriesByName.get(keyOf(name)),
    chunks: (entry) => guarded(entry, unpack(source, entry, inflate), checksum),
  };
}

export const checksumOf: Checksum = (bytes, before) => crc32.buf(bytes, before) >>> 0;

/** The whole of a part; `undefined` when there is none of that name. */
export async function partBytes(zip: Zip, part: string): Promise<Uint8Array | undefined> {
  const entry = zip.find(part);
  if (!entry) return undefined;
  const bytes = new Uint8Array(entry.size);
  let at = 0;
  for await (const chunk of zip.chunks(entry)) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
}

/** @param fault - which of the package's faults it is, as `fault.` and its name say it */
const damaged = (fault: string, part = '', cause?: unknown): DrawerError =>
  new DrawerError('unreadable/zip-damaged', { fault: { kind: `fault.${fault}`, params: { part } } }, { cause });

async function readDirectory(source: Source): Promise<Pick<Zip, 'entries' | 'directory'>> {
  const { count, size, offset } = await findDirectory(source);
  checkBound('parts', count);
  if (offset + size > source.size) throw damaged('directoryOutside');
  const bytes = await source.read(offset, offset + size);
  const entries: ZipEntry[] = [];
  for (let at = 0; entries.length < count; ) {
    const { entry, length } = readEntry(bytes, at);
    entries.push({ ...entry, record: { start: offset + at, end: offset + at + length } });
    at += length;
  }
  return { entries, directory: { start: offset, end: offset + size } };
}

interface Directory {
  readonly count: number;
  readonly size: number;
  readonly offset: number;
}

/** APPNOTE 4.3.16: the end record lies before a comment of at most 65,535 bytes. */
async function findDirectory(source: Source): Promise<Directory> {
  const tailStart = Math.max(0, source.size - endLength - 0xffff);
  const tail = view(await source.read(tailStart, source.size));
  for (let at = tail.byteLength - endLength; at >= 0; at--) {
    if (tail.getUint32(at, true) !== endSignature) continue;
    const directory = {
      count: tail.getUint16(at + 10, true),
      size: tail.getUint32(at + 12, true),
      offset: tail.getUint32(at + 16, true),
    };
    const isZip64 = directory.count === 0xffff || directory.size === 0xffffffff || directory.offset === 0xffffffff;
    return isZip64 ? findZip64Directory(source, tailStart + at) : directory;
  }
  throw damaged('directoryMissing');
}

/** APPNOTE 4.3.14 and 4.3.15. */
async function findZip64Directory(source: Source, end: number): Promise<Directory> {
  const locatorLength = 20;
  const recordLength = 56;
  if (end < locatorLength) throw damaged('longDirectoryMissing');
  const locator = view(await source.read(end - locatorLength, end));
  const at = readLong(locator, 8);
  if (locator.getUint32(0, true) !== zip64LocatorSignature || at + recordLength > source.size)
    throw damaged('longDirectoryMissing');
  const record = view(await source.read(at, at + recordLength));
  if (record.getUint32(0, true) !== zip64EndSignature) throw damaged('longDirectoryMissing');
  return { count: readLong(record, 32), size: readLong(record, 40), offset: readLong(record, 48) };
}

/** APPNOTE 4.3.12: one entry of the directory, and how long its record is. */
function readEntry(bytes: Uint8Array, at: number): { entry: Omit<ZipEntry, 'record'>; length: number } {
  const headerLength = 46;
  const record = view(bytes);
  if (at + headerLength > bytes.length || record.getUint32(at, true) !== entrySignature)
    throw damaged('directoryBroken');
  const nameLength = record.getUint16(at + 28, true);
  const extraLength = record.getUint16(at + 30, true);
  const length = headerLength + nameLength + extraLength + record.getUint16(at + 32, true);
  if (at + length > bytes.length) throw damaged('directoryBroken');
  const nameEnd = at + headerLength + nameLength;
  const entry = {
    name: new TextDecoder().decode(bytes.subarray(at + headerLength, nameEnd)).replaceAll('\\', '/'),
    method: record.getUint16(at + 10, true),
    checksum: record.getUint32(at + 16, true),
    ...readSizes(record, at, nameEnd, extraLength),
  };
  if (record.getUint16(at + 8, true) & 1) {
    throw new DrawerError('unreadable/part-encrypted', { part: entry.name });
  }
  return { entry, length };
}

/** Sizes and offset; those that do not fit 32 bits stand in an extra field (APPNOTE 4.5.3). */
function readSizes(
  record: DataView,
  at: number,
  extra: number,
  extraLength: number,
): Pick<ZipEntry, 'size' | 'packedSize' | 'offset'> {
  const sizes = {
    size: record.getUint32(at + 24, true),
    packedSize: record.getUint32(at + 20, true),
    offset: record.getUint32(at + 42, true),
  };
  if (!Object.values(sizes).includes(0xffffffff)) return sizes;
  for (let field = extra; field + 4 <= extra + extraLength; field += 4 + record.getUint16(field + 2, true)) {
    if (record.getUint16(field, true) !== 1) continue;
    let next = field + 4;
    for (const key of ['size', 'packedSize', 'offset'] as const) {
      if (sizes[key] !== 0xffffffff) continue;
      if (next + 8 > extra + extraLength) throw damaged('directoryBroken');
      sizes[key] = readLong(record, next);
      next += 8;
    }
  }
  return sizes;
}

async function* unpack(source: Source, entry: ZipEntry, inflate: Inflate): AsyncGenerator<Uint8Array> {
  const headerLength = 30;
  if (entry.offset + headerLength > source.size) throw damaged('partMissing', entry.name);
  const header = view(await source.read(entry.offset, entry.offset + headerLength));
  if (header.getUint32(0, true) !== localSignature) throw damaged('partMissing', entry.name);
  const start = entry.offset + headerLength + header.getUint16(26, true) + header.getUint16(28, true);
  if (start + entry.packedSize > source.size) throw damaged('partCut', entry.name);
  const packed = readChunks(source, start, start + entry.packedSize);
  if (entry.method === stored) yield* packed;
  else if (entry.method === deflated) yield* inflate(packed, { packed: entry.packedSize, unpacked: entry.size });
  else throw new DrawerError('unreadable/part-packed-unknown', { part: entry.name, method: String(entry.method) });
}

async function* readChunks(source: Source, start: number, end: number): AsyncGenerator<Uint8Array> {
  for (let at = start; at < end; at += packedChunk) yield await source.read(at, Math.min(end, at + packedChunk));
}

/** Stops a part that unpacks to more or other than it says, or to more than we allow, and gives its faults one name. */
async function* guarded(
  entry: ZipEntry,
  chunks: AsyncIterable<Uint8Array>,
  checksumOf: Checksum,
): AsyncGenerator<Uint8Array> {
  checkBound('unpacked', entry.size, entry.name);
  checkBound('ratio', (entry.size - 4096) / Math.max(1, entry.packedSize), entry.name);
  let size = 0;
  let checksum = 0;
  try {
    for await (const chunk of chunks) {
      size += chunk.length;
      checksum = checksumOf(chunk, checksum);
      if (size > entry.size) throw damaged('partLonger', entry.name);
      yield chunk;
    }
  } catch (error) {
    throw DrawerError.is(error) ? error : damaged('partNotUnpacked', entry.name, error);
  }
  if (size < entry.size) throw damaged('partCut', entry.name);
  if (checksum !== entry.checksum) throw damaged('partChanged', entry.name);
}

const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

function readLong(record: DataView, at: number): number {
  const long = record.getBigUint64(at, true);
  if (long > BigInt(Number.MAX_SAFE_INTEGER)) throw damaged('sizeImpossible');
  return Number(long);
}

/** Inflate in plain JavaScript, for where the platform has none; a half to a third as fast. */
export const portableInflate: Inflate = async function* (packed) {
  const ready: Uint8Array[] = [];
  const inflater = new Inflater((chunk) => ready.push(chunk));
  for await (const chunk of packed) {
    inflater.push(chunk);
    yield* ready.splice(0);
  }
  inflater.push(new Uint8Array(0), true);
  yield* ready;
};
