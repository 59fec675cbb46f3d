import { DrawerError } from '../content/index.ts';
import type { Format, FormatName, Source } from './format.ts';
import { openZip, partBytes, type Zip } from './package/zip.ts';

/** What there is to know of a format before its code is loaded. */
export interface FormatEntry {
  readonly name: FormatName;
  readonly title: string;
  readonly mediaTypes: readonly string[];
  /** With their dot; the first is the usual one. */
  readonly extensions: readonly string[];
  load(): Promise<Format>;
}

/** Every format, its code loaded only when it is used. */
export const formats: readonly FormatEntry[] = [
  {
    name: 'docx',
    title: 'Word-processing document (ISO/IEC 29500)',
    mediaTypes: ['application/vnd.openxmlformats-officedocument.wordprocessingml.document'],
    extensions: ['.docx', '.docm', '.dotx', '.dotm'],
    load: async () => (await import('./ooxml/docx.ts')).docx,
  },
  {
    name: 'odt',
    title: 'Text document (OpenDocument, ISO/IEC 26300)',
    mediaTypes: ['application/vnd.oasis.opendocument.text', 'application/vnd.oasis.opendocument.text-template'],
    extensions: ['.odt', '.ott'],
    load: async () => (await import('./odf/odt.ts')).odt,
  },
  {
    name: 'xlsx',
    title: 'Workbook (ISO/IEC 29500)',
    mediaTypes: ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'],
    extensions: ['.xlsx', '.xlsm', '.xltx', '.xltm'],
    load: async () => (await import('./ooxml/xlsx.ts')).xlsx,
  },
  {
    name: 'ods',
    title: 'Spreadsheet (OpenDocument, ISO/IEC 26300)',
    mediaTypes: [
      'application/vnd.oasis.opendocument.spreadsheet',
      'application/vnd.oasis.opendocument.spreadsheet-template',
    ],
    extensions: ['.ods', '.ots'],
    load: async () => (await import('./odf/ods.ts')).ods,
  },
  {
    name: 'html',
    title: 'Page (HTML)',
    mediaTypes: ['text/html'],
    extensions: ['.html', '.htm', '.xhtml'],
    load: async () => (await import('./html/html.ts')).html,
  },
  {
    name: 'markdown',
    title: 'Markdown (CommonMark with GFM)',
    mediaTypes: ['text/markdown'],
    extensions: ['.md', '.markdown'],
    load: async () => (await import('./markdown/markdown.ts')).markdown,
  },
  {
    name: 'text',
    title: 'Plain text',
    mediaTypes: ['text/plain'],
    extensions: ['.txt', '.text', '.log'],
    load: async () => (await import('./text/text.ts')).text,
  },
  {
    name: 'csv',
    title: 'Separated values (RFC 4180 and its dialects)',
    mediaTypes: ['text/csv', 'text/tab-separated-values'],
    extensions: ['.csv', '.tsv', '.tab'],
    load: async () => (await import('./csv/csv.ts')).csv,
  },
  {
    name: 'picture',
    title: 'Picture',
    mediaTypes: ['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/svg+xml'],
    extensions: ['.png', '.jpg', '.jpeg', '.gif', '.webp', '.svg'],
    load: async () => (await import('./picture/picture.ts')).picture,
  },
  {
    name: 'json',
    title: 'Snippets of a drawer (docs/snippets.schema.json)',
    mediaTypes: ['application/json'],
    extensions: ['.json'],
    load: async () => (await import('./json/json.ts')).json,
  },
];

/** The format that a file's name asks for; `undefined` when none does. */
export function findFormatByName(fileName: string): FormatEntry | undefined {
  const lower = fileName.toLowerCase();
  return formats.find(({ extensions }) => extensions.some((extension) => lower.endsWith(extension)));
}

/** The entry of a format by its name; its code is loaded by `load()`. */
export const formatNamed = (name: FormatName): FormatEntry =>
  formats.find((format) => format.name === name) as FormatEntry;

/**
 * The format of a file that is to be read: by what its bytes are, and by its name where bytes do not tell.
 * @throws DrawerError `unreadable` for empty, protected, old binary and foreign files; `unsupported` for formats that
 * cannot be read.
 */
export async function formatOf(source: Source): Promise<FormatEntry> {
  if (source.size === 0) throw new DrawerError('unreadable/file-empty');
  const start = await source.read(0, Math.min(source.size, 512));
  const signature = signatures.find(({ bytes }) => bytes.every((byte, index) => start[index] === byte));
  if (signature?.kind === 'compound') throw await compoundProblem(source);
  if (signature?.kind === 'zip') return formatOfZip(source);
  const named = findFormatByName(source.name);
  if (named && zipFormats.has(named.name)) {
    if (looksLikeHtml(start)) return formatNamed('html'); // as some programs export tables
    throw new DrawerError('unreadable/file-misnamed', { ending: named.extensions[0] ?? named.name });
  }
  if (signature?.kind === 'picture') return formatNamed('picture');
  if (signature)
    throw new DrawerError('unsupported/file-kind-unsupported', { kind: signature.kind, endings: readable() });
  if (named && named.name !== 'picture') return named;
  if (/^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[^>]*-->\s*)?(?:<!DOCTYPE svg[^>]*>\s*)?<svg[\s>]/i.test(wordsOf(start)))
    return formatNamed('picture');
  if (looksLikeHtml(start)) return formatNamed('html');
  if (looksLikeText(start)) return formatNamed('text');
  throw new DrawerError('unsupported/file-kind-unknown', { endings: readable() });
}

const zipFormats = new Set<FormatName>(['docx', 'odt', 'xlsx', 'ods']);
const readable = (): string[] => formats.map(({ extensions }) => extensions[0] ?? '');

const signatures: readonly { readonly kind: string; readonly bytes: readonly number[] }[] = [
  { kind: 'zip', bytes: [0x50, 0x4b, 0x03, 0x04] },
  { kind: 'zip', bytes: [0x50, 0x4b, 0x05, 0x06] },
  { kind: 'compound', bytes: [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1] },
  { kind: 'PDF', bytes: [0x25, 0x50, 0x44, 0x46] },
  { kind: 'RTF', bytes: [0x7b, 0x5c, 0x72, 0x74, 0x66] },
  { kind: 'picture', bytes: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { kind: 'picture', bytes: [0xff, 0xd8, 0xff] },
  { kind: 'picture', bytes: [0x47, 0x49, 0x46, 0x38] },
  { kind: 'picture', bytes: [0x52, 0x49, 0x46, 0x46] },
  { kind: 'SQLite', bytes: [0x53, 0x51, 0x4c, 0x69, 0x74, 0x65, 0x20, 0x66] },
];

const wordsOf = (start: Uint8Array): string => new TextDecoder().decode(start);

const looksLikeHtml = (start: Uint8Array): boolean =>
  /^\s*(?:Version:[\d.]+\s[^<]*)?(<!doctype html|<html|<head|<body|<!--|<meta|<p|<div|<h[1-6]|<table|<ul|<ol)\b/i.test(
    wordsOf(start),
  );

/** No character that texts do not have, unless every other byte is zero as UTF-16 has it. */
function looksLikeText(start: Uint8Array): boolean {
  const zeros = start.reduce((count, byte) => count + Number(byte === 0), 0);
  if (zeros > 0) return zeros > start.length * 0.35 && zeros < start.length * 0.65;
  return start.every((byte) => byte >= 0x20 || (byte >= 0x09 && byte <= 0x0d) || byte === 0x1b);
}

/** A zip file is the format that its own list of parts says; its name does not count. */
async function formatOfZip(source: Source): Promise<FormatEntry> {
  const zip = await openZip(source);
  const has = (name: string): boolean => zip.entries.some((entry) => entry.name.toLowerCase().startsWith(name));
  if (has('word/')) return formatNamed('docx');
  if (has('xl/') && !has('xl/workbook.bin')) return formatNamed('xlsx');
  if (zip.find('[Content_Types].xml'))
    return formatNamed(findFormatByName(source.name)?.name === 'xlsx' ? 'xlsx' : 'docx');
  if (zip.find('content.xml')) return formatNamed(await openDocumentKind(zip, source));
  throw new DrawerError('unreadable/zip-not-office');
}

/** OpenDocument files say what they are in a part of its own (ISO/IEC 26300-3, section 3.3). */
async function openDocumentKind(zip: Zip, source: Source): Promise<FormatName> {
  const stated = new TextDecoder().decode((await partBytes(zip, 'mimetype')) ?? new Uint8Array());
  if (stated.includes('opendocument.spreadsheet')) return 'ods';
  if (stated.includes('opendocument.text')) return 'odt';
  const kind = /opendocument\.([a-z-]+)/.exec(stated)?.[1];
  const named = findFormatByName(source.name)?.name;
  if (kind === undefined && (named === 'odt' || named === 'ods')) return named;
  throw new DrawerError('unsupported/opendocument-kind-unsupported', { kind: kind ?? 'unknown' });
}

/** Compound files ([MS-CFB]) are protected documents or those of the old binary formats; their directory names what is in them. */
async function compoundProblem(source: Source): Promise<DrawerError> {
  const text = new TextDecoder('utf-16le').decode(
    await source.read(0, Math.min(source.size - (source.size % 2), 2 ** 22)),
  );
  if (text.includes('EncryptedPackage')) {
    return new DrawerError('unreadable/file-encrypted');
  }
  const [ending, better] =
    text.includes('Workbook') || text.includes('Book\0')
      ? ['.xls', '.xlsx']
      : text.includes('WordDocument')
        ? ['.doc', '.docx']
        : ['.doc, .xls', '.docx or .xlsx'];
  return new DrawerError('unsupported/file-kind-old', { ending, better });
}
