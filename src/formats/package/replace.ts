import { concatBytes } from '@noble/hashes/utils.js';
import { deflateSync, type Zippable, zipSync } from 'fflate';
import { DrawerError } from '../../content/index.ts';
import { type Deflate, type Packed, type ReadTools, readAll, type Source } from '../format.ts';
import { checksumOf, type Zip, type ZipEntry } from './zip.ts';

/** What a part becomes: bytes, or bytes in chunks; `undefined` takes it out. */
export type NewPart = Uint8Array | AsyncIterable<Uint8Array> | undefined;
/** What becomes of parts by name; a name that is not there yet adds one at the end. */
export type PartChanges = ReadonlyMap<string, NewPart>;

/**
 * The container with some parts replaced. All others, packed as they are, and the order of all are as before: only their
 * places in the file move.
 * @throws DrawerError `unsupported` for containers over 4 GB (APPNOTE 4.5.3).
 */
export async function replaceParts(
  source: Source,
  zip: Zip,
  changes: PartChanges,
  { deflate = portableDeflate, pack }: PackingTools = {},
): Promise<Uint8Array> {
  const packed = new Map<string, Packed>();
  for (const [name, part] of changes) {
    if (part instanceof Uint8Array) packed.set(name, await packAtOnce(part, deflate));
    else if (part) packed.set(name, await (pack?.(part) ?? packAtOnce(await gathered(part), deflate)));
  }
  const bytes = await readAll(source);
  const kept = zip.entries.filter(({ name }) => !changes.has(name) || packed.has(name));
  const bodies: Uint8Array[] = [];
  const offsets = new Map<ZipEntry, number>();
  let at = 0;
  const byPlace = [...zip.entries].sort((one, other) => one.offset - other.offset);
  byPlace.forEach((entry, index) => {
    if (!kept.includes(entry)) return;
    // Up to the next part: what stands between, such as a data descriptor, belongs to this one.
    const end = byPlace[index + 1]?.offset ?? zip.directory.start;
    const replacement = packed.get(entry.name);
    const body = replacement ? newBody(bytes, entry, replacement) : bytes.subarray(entry.offset, end);
    offsets.set(entry, at);
    bodies.push(body);
    at += body.length;
  });
  const records = kept.map((entry) => newRecord(bytes, entry, offsets.get(entry) ?? 0, packed.get(entry.name)));
  const known = new Set(zip.entries.map(({ name }) => name));
  for (const [name, part] of packed) {
    if (known.has(name)) continue;
    const entry = newEntry(name, part, at);
    bodies.push(entry.body);
    records.push(entry.record);
    at += entry.body.length;
  }
  const size = records.reduce((sum, record) => sum + record.length, 0);
  if (at + size >= 0xffffffff || zip.entries.some(({ offset }) => offset >= 0xffffffff))
    throw new DrawerError('unsupported/package-too-large');
  return concatBytes(...bodies, ...records, newEnd(bytes, records.length, size, at));
}

export type PackingTools = Pick<ReadTools, 'deflate' | 'pack'>;

/** The platform's own, beside the page's thread, where it has one (Compression Streams); else one in JavaScript. */
const portableDeflate: Deflate = async (bytes) => {
  if (bytes.length < smallPart || !('CompressionStream' in globalThis)) return deflateSync(bytes);
  const packed = new Blob([bytes as Uint8Array<ArrayBuffer>])
    .stream()
    .pipeThrough(new CompressionStream('deflate-raw'));
  return new Uint8Array(await new Response(packed).arrayBuffer());
};

/** Handing a part to another thread takes longer than packing one of this size, in bytes. */
const smallPart = 256 * 1024;

/** The checksum is worked out while another thread may be packing. */
async function packAtOnce(part: Uint8Array, deflate: Deflate): Promise<Packed> {
  const packing = deflate(part);
  const checksum = checksumOf(part, 0);
  return { bytes: await packing, size: part.length, checksum };
}

async function gathered(chunks: AsyncIterable<Uint8Array>): Promise<Uint8Array> {
  const all: Uint8Array[] = [];
  for await (const chunk of chunks) all.push(chunk);
  return concatBytes(...all);
}

const flagDescriptor = 1 << 3;
const deflated = 8;
const localLength = 30;
const recordLength = 46;

/** The local header (APPNOTE 4.3.7) with new sizes and no extra field, and the packed bytes. */
function newBody(bytes: Uint8Array, entry: ZipEntry, replacement: Packed): Uint8Array {
  const old = viewOf(bytes, entry.offset);
  const nameLength = old.getUint16(26, true);
  const header = bytes.slice(entry.offset, entry.offset + localLength + nameLength);
  const view = viewOf(header, 0);
  view.setUint16(6, view.getUint16(6, true) & ~flagDescriptor, true);
  view.setUint16(28, 0, true);
  writeSizes(view, 8, replacement);
  return concatBytes(header, replacement.bytes);
}

/** Method at `at`, then time and date as they were, checksum, packed and unpacked size: so both kinds of header have them. */
function writeSizes(view: DataView, at: number, { bytes, size, checksum }: Packed): void {
  view.setUint16(at, deflated, true);
  view.setUint32(at + 6, checksum, true);
  view.setUint32(at + 10, bytes.length, true);
  view.setUint32(at + 14, size, true);
}

function newRecord(bytes: Uint8Array, entry: ZipEntry, offset: number, replacement: Packed | undefined): Uint8Array {
  const record = bytes.slice(entry.record.start, entry.record.end);
  const view = viewOf(record, 0);
  view.setUint32(42, offset, true);
  if (!replacement) return record;
  view.setUint16(8, view.getUint16(8, true) & ~flagDescriptor, true);
  writeSizes(view, 10, replacement);
  const nameEnd = recordLength + view.getUint16(28, true);
  const commentStart = nameEnd + view.getUint16(30, true);
  view.setUint16(30, 0, true);
  return concatBytes(record.subarray(0, nameEnd), record.subarray(commentStart));
}

/** A part that was not there: its local header with the packed bytes, and its record (APPNOTE 4.3.7 and 4.3.12). */
function newEntry(name: string, part: Packed, offset: number): { body: Uint8Array; record: Uint8Array } {
  const label = new TextEncoder().encode(name);
  const header = new Uint8Array(localLength);
  const record = new Uint8Array(recordLength);
  const [local, central] = [viewOf(header, 0), viewOf(record, 0)];
  local.setUint32(0, 0x04034b50, true);
  local.setUint16(4, zipVersion, true);
  local.setUint16(6, flagUtf8, true);
  writeSizes(local, 8, part);
  local.setUint16(12, dosDate, true);
  local.setUint16(26, label.length, true);
  central.setUint32(0, 0x02014b50, true);
  central.setUint16(4, zipVersion, true);
  central.setUint16(6, zipVersion, true);
  central.setUint16(8, flagUtf8, true);
  writeSizes(central, 10, part);
  central.setUint16(14, dosDate, true);
  central.setUint16(28, label.length, true);
  central.setUint32(42, offset, true);
  return { body: concatBytes(header, label, part.bytes), record: concatBytes(record, label) };
}

const zipVersion = 20;
const flagUtf8 = 1 << 11;
/** 1 January 1980, which stands for no date. */
const dosDate = (1 << 5) | 1;

/** The end record (APPNOTE 4.3.16) with the file's comment. */
function newEnd(bytes: Uint8Array, count: number, size: number, offset: number): Uint8Array {
  let at = bytes.length - 22;
  while (at > 0 && viewOf(bytes, at).getUint32(0, true) !== 0x06054b50) at--;
  const end = bytes.slice(at);
  const view = viewOf(end, 0);
  view.setUint16(8, count, true);
  view.setUint16(10, count, true);
  view.setUint32(12, size, true);
  view.setUint32(16, offset, true);
  return end;
}

const viewOf = (bytes: Uint8Array, at: number): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset + at, bytes.length - at);

/** Parts by name, packed in the order given. Pictures come packed already, so they are stored, and so is the type of an OpenDocument file (ISO/IEC 26300-3, 3.3). */
export function pack(parts: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const files: Zippable = {};
  for (const [name, bytes] of parts)
    files[name] = [
      bytes,
      { level: /\.(png|jpg|gif|webp)$|^mimetype$/.test(name) ? 0 : 6, mtime: '1980-01-01T00:00:00' },
    ];
  return zipSync(files);
}
