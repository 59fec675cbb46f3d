import type { Content, Media, Message, Note, NoteKind, Param, PasteStyle, Picture } from '../content/index.ts';
import type { Fragment, Span } from '../places/index.ts';
import { checkBound } from './bounds.ts';

/** Bytes that can be read in any order, so that a part of a large file costs no more than the part. */
export interface Source {
  /** What to call it in messages. */
  readonly name: string;
  /** In bytes. */
  readonly size: number;
  /** The bytes from `start` up to, not including, `end`; both lie within the source. */
  read(start: number, end: number): Promise<Uint8Array>;
}

/**
 * Turns raw DEFLATE data (RFC 1951) back into what was packed, a chunk at a time; stops when its reader does. `sizes` are
 * what the container says, in bytes: a hint, not to be trusted.
 */
export type Inflate = (
  packed: AsyncIterable<Uint8Array>,
  sizes: { readonly packed: number; readonly unpacked: number },
) => AsyncIterable<Uint8Array>;

/** Packs bytes as raw DEFLATE data (RFC 1951). */
export type Deflate = (bytes: Uint8Array) => Promise<Uint8Array>;

/** Packed bytes, and of what was packed its size in bytes and its CRC-32 (APPNOTE 4.4.7). */
export interface Packed {
  readonly bytes: Uint8Array;
  readonly size: number;
  readonly checksum: number;
}

/** CRC-32 (APPNOTE 4.4.7); `before` is that of the preceding bytes. */
export type Checksum = (bytes: Uint8Array, before: number) => number;

/** Packs as `Deflate` does, a chunk at a time, so that what is packed is never in memory as a whole. */
export type Pack = (chunks: AsyncIterable<Uint8Array>) => Promise<Packed>;

/** What a platform does faster than JavaScript (every one has a portable stand-in), and how to read where there is a choice. */
export interface ReadTools {
  readonly inflate?: Inflate;
  readonly deflate?: Deflate;
  readonly pack?: Pack;
  readonly checksum?: Checksum;
  /** Take hidden rows, columns and sheets too. */
  readonly hidden?: boolean;
  /** For a first look at a document: reading may stop once so many of its blocks have been read. */
  readonly enough?: number;
  /** How a file of separated values is written, where looking at it does not tell. */
  readonly csv?: CsvDialect;
  /** The bytes of a file that a page or text names as lying beside it; `undefined` when there is none. */
  readonly relativeFile?: (path: string) => Promise<Uint8Array | undefined>;
  /** Where a page came from: relative links and pictures start there. */
  readonly address?: string;
  /** Whether an outline has every paragraph too, and the columns of each table, among what it has anyway. */
  readonly paragraphs?: boolean;
  readonly columns?: boolean;
  /** How the words of values for a form write numbers and dates, a BCP 47 tag. */
  readonly language?: string;
}

export interface CsvDialect {
  /** What parts fields: `,`, `;`, a tab, `|` or any other character. */
  readonly separator?: string;
  readonly quote?: string;
  /** What lines that are no data begin with; the empty string when there are none. */
  readonly comment?: string;
}

/**
 * The rows and columns of a sheet that taken cells are from, by their numbers from 1, in the content's order: hidden ones and
 * long blank stretches are not among them.
 */
export interface SheetLines {
  readonly rows: readonly number[];
  readonly columns: readonly number[];
  /** The columns that were left out because they are hidden, here or elsewhere in the sheet. */
  readonly hiddenColumns: readonly Span[];
}

/** What was taken from a place. */
export interface Taken {
  readonly content: Content;
  /** Bytes of the pictures in `content`. */
  readonly media: Media;
  /** What was brought down to a simpler form. */
  readonly notes: readonly Note[];
  /** The place as `#` takes it, with the document's own names: `section=Hull condition`; `undefined` for a whole file. */
  readonly place?: string;
  /** Of cells of a workbook: where in their sheet they are. */
  readonly lines?: SheetLines;
  /** The page's own title and address, where it has them. */
  readonly title?: string;
  readonly url?: string;
  /** The main language, where the file says so. */
  readonly language?: string;
  /** The source says that it is to be kept as a secret. */
  readonly secret?: true;
  /** What a snippet of another drawer brings along, unchecked: its origin, time, label and marks. */
  readonly brings?: Readonly<Record<string, unknown>>;
  /** Several things that stay apart, such as snippets; `content` is then all of them one after another. */
  readonly separate?: readonly Taken[];
}

/** A file without what was cut from it. */
export interface Removed {
  readonly bytes: Uint8Array;
  /** What had to stay, or now points at nothing. */
  readonly notes: readonly Note[];
}

/** On which side of its place content lands; `start` and `end` lie inside it. */
export const sides = ['before', 'after', 'replace', 'start', 'end'] as const;
export type Side = (typeof sides)[number];

/** How content goes into a sheet: a piece a cell, its parts along a row, all in one cell, or a range as it was. */
export const spreads = ['down', 'across', 'rows', 'cell', 'range'] as const;
export type Spread = (typeof spreads)[number];

/** Something to land in a file. */
export interface Insertion {
  readonly content: Content;
  /** Bytes of the pictures in the content. */
  readonly media: Media;
  readonly style: PasteStyle;
  /** Without one, behind the place; at the end of a whole file. Sheets have no sides. */
  readonly side?: Side | undefined;
  /** The pieces, for what goes into cells one by one; without them the content is the one piece. */
  readonly pieces?: readonly Content[];
  /** In which language numbers and dates are written in the pieces, a BCP 47 tag each; only for sheets. */
  readonly languages?: readonly (string | undefined)[];
  /** Whether words land as words, also where they write a number, a date or a truth value; only for sheets. */
  readonly asWords?: boolean | undefined;
  /** Only for sheets; without one, as the content’s shape suggests. */
  readonly spread?: Spread | undefined;
  /** Whether cells that hold something may give way. */
  readonly over?: boolean | undefined;
  /** Puts the content in as a change for somebody to accept, under this name; only in documents. */
  readonly author?: string | undefined;
  /** When that was, ISO 8601. */
  readonly date?: string | undefined;
  /** Where a format that holds no pictures itself should point to. */
  readonly pictureAddress?: ((picture: Picture) => string | undefined) | undefined;
}

/** How large a picture is shown, where that is known: for an outline. */
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

/** A file with what was put into it. */
export interface Inserted {
  readonly bytes: Uint8Array;
  /** What was brought down, or stands otherwise than asked for. */
  readonly notes: readonly Note[];
  /** Where it landed: `landed.after` and a place, `landed.cells` and the like. */
  readonly where: Message;
  /** What gave way to it, in its own words; absent when nothing did. */
  readonly replaced?: Param | undefined;
  /** The place that the next piece of a sequence follows: cells only. */
  readonly cells?: string;
}

/** What a place of a form asks for. */
export const slotKinds = ['text', 'date', 'number', 'email', 'url', 'phone', 'check', 'choice'] as const;
export type SlotKind = (typeof slotKinds)[number];

/** A place of a form to be filled. */
export interface Slot {
  /** Names it in this file and no other slot. */
  readonly key: string;
  /** What people call it: its title, its label, its name; the first is shown. */
  readonly names: readonly string[];
  readonly kind: SlotKind;
  /** Of a choice. */
  readonly choices?: readonly string[];
  /** Only filled when it is named: a label with room beside it may be no place of a form at all. */
  readonly isGuess?: true;
}

/** What goes into a slot: words, a day as ISO 8601, a number, one of the choices, or whether a box is ticked. */
export type SlotValue = string | number | boolean;

/** A form as it is filled. */
export interface Filled {
  readonly bytes: Uint8Array;
  readonly notes: readonly Note[];
}

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

/** A place that a file offers. */
export interface OutlineEntry {
  /** What stands behind the `#`. */
  readonly place: string;
  readonly kind: OutlineKind;
  /** How deep it lies: sections by heading level, and what is in them one deeper; from 0. */
  readonly depth: number;
  /** Its heading, name, or first words. */
  readonly label: string;
  /** How large, in words: `212 words`, `4 × 3`. */
  readonly size?: Message;
  /** A sheet that its program does not show. */
  readonly isHidden?: true;
  /** It is there because paragraphs or columns were asked for, and has no number among the others. */
  readonly isExtra?: true;
}

export interface Outline {
  readonly entries: readonly OutlineEntry[];
  readonly notes: readonly Note[];
}

export interface WriteOptions {
  /** Bytes of the pictures in the content; none when not given. */
  readonly media?: Media;
  /** Main language of the new file, a BCP 47 tag; `en-GB` when not given. */
  readonly language?: string;
  readonly title?: string;
  /** The name of the sheet, in a workbook; `Sheet1` when not given. */
  readonly sheet?: string;
  /** Where a format that holds no pictures itself should point to; a `data:` URI when not given. */
  readonly pictureAddress?: (picture: Picture) => string | undefined;
}

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
export type FormatName = (typeof formatNames)[number];

/** A file format: what it is called, and what can be done with it; an absent method is something it cannot do. */
export interface Format {
  readonly name: FormatName;
  outline?(source: Source, tools?: ReadTools): Promise<Outline>;
  take?(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken>;
  /** The bytes of the file without what places hold, all of them places of the file as it is; all else in it as it was. */
  remove?(source: Source, fragments: readonly Fragment[], tools?: ReadTools): Promise<Removed>;
  /** The file with content at a place, all else in it as it was. */
  insert?(source: Source, fragment: Fragment, insertion: Insertion, tools?: ReadTools): Promise<Inserted>;
  /** The same for a new file in which places may be named before they are there: sheets. */
  create?(fragment: Fragment, insertion: Insertion): Promise<Inserted>;
  /** The places of a form. */
  slots?(source: Source, tools?: ReadTools): Promise<readonly Slot[]>;
  /** The form with values in its places, by their keys; all else in it as it was. */
  fill?(source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled>;
  /** The bytes of a new file. */
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

/** All bytes of a file that is read as a whole. @throws DrawerError `too-large` */
export async function readWhole(source: Source, bound: 'text' | 'values'): Promise<Uint8Array> {
  checkBound(bound, source.size);
  return readAll(source);
}

/** Counts what was brought down, by what it was. */
export class NoteCounter {
  readonly #notes: Note[] = [];
  readonly #counts = new Map<NoteKind, number>();

  add(kind: NoteKind, count = 1): void {
    this.#counts.set(kind, (this.#counts.get(kind) ?? 0) + count);
  }

  /** Notes that say more than their kind. */
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
