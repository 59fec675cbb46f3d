import type { Content, Media, Note, Picture } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';

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

/** What a platform does faster than JavaScript. Every one has a portable stand-in. */
export interface ReadTools {
  readonly inflate?: Inflate;
}

/** What was taken from a place. */
export interface Taken {
  readonly content: Content;
  /** Bytes of the pictures in `content`. */
  readonly media: Media;
  /** What was brought down to a simpler form. */
  readonly notes: readonly Note[];
  /** The place in people's words: `Hull condition`, `Timber!B2:D5`; `undefined` for a whole file. */
  readonly place?: string;
  /** The page's own title and address, where it has them. */
  readonly title?: string;
  readonly url?: string;
  /** The main language, where the file says so. */
  readonly language?: string;
}

/** A place that a file offers. */
export interface OutlineEntry {
  /** What stands behind the `#`. */
  readonly place: string;
  readonly kind: 'section' | 'table' | 'list' | 'picture' | 'sheet';
  /** How deep it lies: sections by heading level, and what is in them one deeper; from 0. */
  readonly depth: number;
  /** Its heading, name, or first words. */
  readonly label: string;
  /** How large, in words: `212 words`, `4 × 3`. */
  readonly size: string;
}

export interface Outline {
  readonly entries: readonly OutlineEntry[];
  readonly notes: readonly Note[];
}

export interface WriteOptions {
  readonly media: Media;
  /** Main language of the new file, a BCP 47 tag; `en-GB` when not given. */
  readonly language?: string;
  readonly title?: string;
  /** Where a format that holds no pictures itself should point to; a `data:` URI when not given. */
  readonly pictureAddress?: (picture: Picture) => string;
}

export const formatNames = ['docx', 'xlsx', 'html', 'markdown', 'text'] as const;
export type FormatName = (typeof formatNames)[number];

/** A file format: what it is called, and what can be done with it; an absent method is something it cannot do. */
export interface Format {
  readonly name: FormatName;
  outline?(source: Source, tools?: ReadTools): Promise<Outline>;
  take?(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken>;
  /** The bytes of a new file. */
  write?(content: Content, options: WriteOptions): Promise<Uint8Array>;
}

/** Bytes in memory as a source. */
export const sourceOf = (bytes: Uint8Array, name: string): Source => ({
  name,
  size: bytes.length,
  read: async (start, end) => bytes.subarray(start, end),
});

/** The whole source as bytes. */
export const readAll = (source: Source): Promise<Uint8Array> => source.read(0, source.size);
