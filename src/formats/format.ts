import type { Content, Media, Message, Note, NoteKind, Param, PasteStyle, Picture } from '../content/index.ts';
import type { Fragment, Span } from '../places/index.ts';
import { checkBound } from './bounds.ts';

/** Random-access bytes: reading a part of a large file costs no more than that part. */
export interface Source {
  /** The name shown in messages. */
  readonly name: string;
  /** In bytes. */
  readonly size: number;
  /** The bytes from `start` up to, not including, `end`; both lie within the source. */
  read(start: number, end: number): Promise<Uint8Array>;
}

/**
 * Decompresses raw DEFLATE data (RFC 1951) chunk by chunk; stops when its reader stops. `sizes` are the container's own
 * figures in bytes: a hint, never trusted.
 */
export type Inflate = (
  packed: AsyncIterable<Uint8Array>,
  sizes: { readonly packed: number; readonly unpacked: number },
) => AsyncIterable<Uint8Array>;

/** Compresses bytes to raw DEFLATE data (RFC 1951). */
export type Deflate = (bytes: Uint8Array) => Promise<Uint8Array>;

/** Compressed bytes, with the size in bytes and the CRC-32 (APPNOTE 4.4.7) of the data before compression. */
export interface Packed {
  readonly bytes: Uint8Array;
  readonly size: number;
  readonly checksum: number;
}

/** CRC-32 (APPNOTE 4.4.7); `before` is the checksum of the preceding bytes. */
export type Checksum = (bytes: Uint8Array, before: number) => number;

/** Compresses like `Deflate`, chunk by chunk, so that the data is never in memory as a whole. */
export type Pack = (chunks: AsyncIterable<Uint8Array>) => Promise<Packed>;

/** Functions that a platform runs faster than JavaScript (each has a portable fallback), and choices for reading. */
export interface ReadTools {
  readonly inflate?: Inflate;
  readonly deflate?: Deflate;
  readonly pack?: Pack;
  readonly checksum?: Checksum;
  /** Include hidden rows, columns and sheets. */
  readonly hidden?: boolean;
  /** For a preview: reading may stop after this number of blocks. */
  readonly enough?: number;
  /** The dialect of a file of separated values, where it cannot be detected. */
  readonly csv?: CsvDialect;
  /** Reads a file that a page or text refers to by a relative path; `undefined` if it does not exist. */
  readonly relativeFile?: (path: string) => Promise<Uint8Array | undefined>;
  /** The page's address: the base of its relative links and pictures. */
  readonly address?: string;
  /** Whether an outline also lists every paragraph, and the columns of each table. */
  readonly paragraphs?: boolean;
  readonly columns?: boolean;
  /** The language in which form values write numbers and dates: a BCP 47 tag. */
  readonly language?: string;
}

/** The dialect of a file of separated values (RFC 4180 and its variants). */
export interface CsvDialect {
  /** The field separator: `,`, `;`, a tab, `|` or any other character. */
  readonly separator?: string;
  readonly quote?: string;
  /** The prefix of comment lines; the empty string if there are none. */
  readonly comment?: string;
}

/**
 * The source rows and columns of the cells read from a sheet, numbered from 1, in the content's order. Hidden ones and long
 * blank stretches are left out.
 */
export interface SheetLines {
  readonly rows: readonly number[];
  readonly columns: readonly number[];
  /** Columns left out because they are hidden, in the place read or elsewhere in the sheet. */
  readonly hiddenColumns: readonly Span[];
}

/** The content read from a place. */
export interface Excerpt {
  readonly content: Content;
  /** Bytes of the pictures in `content`. */
  readonly media: Media;
  /** Notes about simplified content. */
  readonly notes: readonly Note[];
  /** The place in the syntax of `#`, with the document's own names: `section=Hull condition`; `undefined` for a whole file. */
  readonly place?: string;
  /** For cells of a workbook: their position in the sheet. */
  readonly lines?: SheetLines;
  /** The page's own title and address, where it has them. */
  readonly title?: string;
  readonly url?: string;
  /** The main language, if the file declares it: a BCP 47 tag. */
  readonly language?: string;
  /** The source marks the content as secret. */
  readonly secret?: true;
  /** Metadata of a snippet from another drawer, not yet validated: origin, time, label and marks. */
  readonly brings?: Readonly<Record<string, unknown>>;
  /** Separate items, such as several snippets; `content` then joins them all. */
  readonly separate?: readonly Excerpt[];
}

/** A file after a removal. */
export interface Removed {
  readonly bytes: Uint8Array;
  /** Notes about parts that had to stay, and references that now lead nowhere. */
  readonly notes: readonly Note[];
}

/** The side of its place where content lands; `start` and `end` are inside the place. */
export const sides = ['before', 'after', 'replace', 'start', 'end'] as const;
/** A side of a place. */
export type Side = (typeof sides)[number];

/** How content is spread over a sheet: one piece per cell downwards or across, its parts along rows, all in one cell, or as the original range. */
export const spreads = ['down', 'across', 'rows', 'cell', 'range'] as const;
/** A way to spread content over a sheet. */
export type Spread = (typeof spreads)[number];

/** Content to insert into a file, and how. */
export interface Insertion {
  readonly content: Content;
  /** Bytes of the pictures in the content. */
  readonly media: Media;
  readonly style: PasteStyle;
  /** Default: after the place, or at the end of a whole file. Sheets have no sides. */
  readonly side?: Side | undefined;
  /** The pieces to insert cell by cell; default: the content as one piece. */
  readonly pieces?: readonly Content[];
  /** The language of the numbers and dates in each piece, as BCP 47 tags; only for sheets. */
  readonly languages?: readonly (string | undefined)[];
  /** Whether words that read as a number, date or boolean stay words; only for sheets. */
  readonly asWords?: boolean | undefined;
  /** Only for sheets; default: depends on the content's shape. */
  readonly spread?: Spread | undefined;
  /** Whether filled cells may be overwritten. */
  readonly over?: boolean | undefined;
  /** Inserts the content as a tracked change by this author; only in documents. */
  readonly author?: string | undefined;
  /** The time of the tracked change: ISO 8601. */
  readonly date?: string | undefined;
  /**
   * Leaves a bookmark of this name around the content, instead of an older one of that name; in a workbook a name for its cells.
   * Letters, digits and underscores, at most 40.
   */
  readonly bookmark?: string | undefined;
  /** Returns the address of a picture, for formats that cannot contain pictures. */
  readonly pictureAddress?: ((picture: Picture) => string | undefined) | undefined;
}

/** The displayed size of a picture, if known, as an outline shows it. Width and height in points. */
export const pointsOf = ({
  width,
  height,
}: {
  readonly width?: number | undefined;
  readonly height?: number | undefined;
}): Pick<OutlineEntry, 'size'> =>
  width && height
    ? { size: { kind: 'size.points', params: { width: Math.round(width), height: Math.round(height) } } }
    : {};

/** A file after an insertion. */
export interface Inserted {
  readonly bytes: Uint8Array;
  /** Notes about content that was simplified or placed differently. */
  readonly notes: readonly Note[];
  /** The insertion's position as a message: `landed.after` with a place, `landed.cells` and so on. */
  readonly where: Message;
  /** A quotation of the replaced content; absent if nothing was replaced. */
  readonly replaced?: Param | undefined;
  /** The place after which the next piece of a sequence follows: cells only. */
  readonly cells?: string;
}

/** The kinds of form fields. */
export const slotKinds = ['text', 'date', 'number', 'email', 'url', 'phone', 'check', 'choice'] as const;
/** The kind of a form field. */
export type SlotKind = (typeof slotKinds)[number];

/** A form field. */
export interface Slot {
  /** Unique within the file. */
  readonly key: string;
  /** Its names for people: title, label, name; the first one is shown. */
  readonly names: readonly string[];
  readonly kind: SlotKind;
  /** For `choice`: the values to choose from. */
  readonly choices?: readonly string[];
  /** Filled only when named explicitly: a label with blank space beside it may be no field at all. */
  readonly isGuess?: true;
}

/** The value of a field: words, a day as ISO 8601, a number, one of the choices, or whether a box is ticked. */
export type SlotValue = string | number | boolean;

/** A form after filling. */
export interface Filled {
  readonly bytes: Uint8Array;
  readonly notes: readonly Note[];
}

/** The kind of a place in an outline. */
export type OutlineKind =
  | 'section'
  | 'paragraph'
  | 'table'
  | 'list'
  | 'picture'
  | 'sheet'
  | 'column'
  | 'name'
  | 'bookmark'
  | 'snippet';

/** An addressable place of a file. */
export interface OutlineEntry {
  /** The place in the syntax of `#`, without the `#`. */
  readonly place: string;
  readonly kind: OutlineKind;
  /** Nesting depth from 0: sections by heading level, their contents one deeper. */
  readonly depth: number;
  /** Its heading, name, or first words. */
  readonly label: string;
  /** Its size as a message: `212 words`, `4 × 3`. */
  readonly size?: Message;
  /** A hidden sheet. */
  readonly isHidden?: true;
  /** Listed only because paragraphs or columns were requested; not counted in the outline's numbering. */
  readonly isExtra?: true;
}

/** The places of a file, in order. */
export interface Outline {
  readonly entries: readonly OutlineEntry[];
  readonly notes: readonly Note[];
}

/** Options for writing a new file. */
export interface WriteOptions {
  /** Bytes of the pictures in the content; default: none. */
  readonly media?: Media;
  /** Main language of the new file, a BCP 47 tag; default `en-GB`. */
  readonly language?: string;
  readonly title?: string;
  /** The sheet's name in a workbook; default `Sheet1`. */
  readonly sheet?: string;
  /** Returns the address of a picture, for formats that cannot contain pictures; default: a `data:` URI. */
  readonly pictureAddress?: (picture: Picture) => string | undefined;
}

/** The names of all formats. */
export const formatNames = [
  'docx',
  'odt',
  'xlsx',
  'ods',
  'html',
  'markdown',
  'text',
  'csv',
  'picture',
  'json',
] as const;
/** The name of a format. */
export type FormatName = (typeof formatNames)[number];

/** A file format: its name and its operations. An absent method means that the format does not support it. */
export interface Format {
  readonly name: FormatName;
  outline?(source: Source, tools?: ReadTools): Promise<Outline>;
  read?(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Excerpt>;
  /** Removes the contents of places, all of which refer to the original file. Everything else stays byte for byte. */
  remove?(source: Source, fragments: readonly Fragment[], tools?: ReadTools): Promise<Removed>;
  /** Inserts content at a place. Everything else stays byte for byte. */
  insert?(source: Source, fragment: Fragment, insertion: Insertion, tools?: ReadTools): Promise<Inserted>;
  /** Checks that content may land at a place, and writes nothing. @throws DrawerError `unsupported` for a signed or protected file */
  checkMayChange?(source: Source, fragment: Fragment, tools?: ReadTools): Promise<void>;
  /** Inserts into a new file, where places may be named before they exist: sheets. */
  create?(fragment: Fragment, insertion: Insertion): Promise<Inserted>;
  /** The fields of a form. */
  slots?(source: Source, tools?: ReadTools): Promise<readonly Slot[]>;
  /** Fills fields by their keys. Everything else stays byte for byte. */
  fill?(source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled>;
  /** Writes a new file. */
  write?(content: Content, options?: WriteOptions): Promise<Uint8Array>;
}

/** Bytes in memory as a source. */
export function sourceOf(bytes: Uint8Array, name: string): Source {
  // Copies of a Node Buffer share its bytes; copies of a plain array do not.
  const plain = new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length);
  return { name, size: plain.length, read: async (start, end) => plain.subarray(start, end) };
}

/** The whole source as bytes. */
export const readAll = (source: Source): Promise<Uint8Array> => source.read(0, source.size);

/** Reads a whole file up to a size limit. @throws DrawerError `too-large` */
export async function readWhole(source: Source, bound: 'text' | 'values'): Promise<Uint8Array> {
  checkBound(bound, source.size);
  return readAll(source);
}

/** Counts notes by kind. */
export class NoteCounter {
  readonly #notes: Note[] = [];
  readonly #counts = new Map<NoteKind, number>();

  add(kind: NoteKind, count = 1): void {
    this.#counts.set(kind, (this.#counts.get(kind) ?? 0) + count);
  }

  /** Adds notes; those with parameters stay separate. */
  addAll(notes: readonly Note[]): void {
    for (const note of notes) {
      if (note.params) this.#notes.push(note);
      else this.add(note.kind, note.count);
    }
  }

  get notes(): Note[] {
    return [...[...this.#counts].map(([kind, count]) => ({ kind, count })), ...this.#notes];
  }
}
