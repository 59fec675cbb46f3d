import { fromBase64, toBase64 } from '@exodus/bytes/base64.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { imageSize } from 'image-size';
import {
  type Content,
  type Media,
  mapPictures,
  type Picture,
  type PictureReplacement,
  type PictureType,
  picturesIn,
} from '../content/index.ts';
import { bounds } from './bounds.ts';
import type { NoteCounter, ReadTools } from './format.ts';
import { nullPrototype } from './xml/element.ts';

/** Points in a CSS pixel (CSS Values and Units, section 6.2). */
export const pointsPerPixel = 0.75;

/** Lower-case hexadecimal SHA-256 of the bytes: what a picture's `media` names it by. */
export const mediaHash = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** By the usual extension, which is what signatures are called too. */
export const pictureTypes: Readonly<Record<string, PictureType>> = nullPrototype({
  png: 'image/png',
  jpg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  svg: 'image/svg+xml',
});

interface PictureFacts {
  readonly mediaType: PictureType;
  /** In points, taking a pixel as 1/96 inch. */
  readonly width: number;
  readonly height: number;
}

/** What the bytes themselves say; `undefined` when they are no picture of a kind we keep. */
export function findPictureFacts(bytes: Uint8Array): PictureFacts | undefined {
  try {
    const { type = '', width, height } = imageSize(bytes);
    const mediaType = pictureTypes[type];
    return mediaType && width > 0 && height > 0 && Math.max(width, height) <= bounds.side.most
      ? { mediaType, width: width * pointsPerPixel, height: height * pointsPerPixel }
      : undefined;
  } catch {
    return undefined; // not a picture, or a damaged one
  }
}

/**
 * Readers name a picture by where its file keeps it. This fetches the bytes of those that were taken, names them by their
 * hash, and puts the alternative text where the bytes are missing or no picture we keep.
 */
export async function resolvePictures(
  content: Content,
  fetch: (reference: string) => Promise<Uint8Array | undefined>,
  notes: NoteCounter,
): Promise<{ content: Content; media: Media }> {
  const media = new Map<string, Uint8Array>();
  const found = new Map<string, Pick<Picture, 'media'> & PictureFacts>();
  const pictures = [...picturesIn(content)];
  if (pictures.length === 0) return { content, media };
  for (const { media: reference } of pictures) {
    if (found.has(reference)) continue;
    const bytes = await fetch(reference);
    const facts = bytes && findPictureFacts(bytes);
    if (!facts) continue;
    const hash = mediaHash(bytes);
    media.set(hash, bytes);
    found.set(reference, { media: hash, ...facts });
  }
  const replace = (picture: Picture): PictureReplacement => {
    const facts = found.get(picture.media);
    if (!facts) {
      notes.add('picture-as-description');
      return picture.alt ?? '';
    }
    return { ...picture, ...shownSize(picture, facts), media: facts.media, mediaType: facts.mediaType };
  };
  return { content: mapPictures(content, replace), media };
}

/** The size the file gives, the missing side in proportion; else the picture's own. */
function shownSize({ width, height }: Picture, own: PictureFacts): { width: number; height: number } {
  if (width && height) return { width, height };
  if (width) return { width, height: round((width * own.height) / own.width) };
  if (height) return { width: round((height * own.width) / own.height), height };
  return { width: own.width, height: own.height };
}

const round = (points: number): number => Math.max(0.01, Math.round(points * 100) / 100);

/** The usual extension of a picture's file, without the dot. */
export const extensionOf = (mediaType: PictureType): string =>
  ({ 'image/png': 'png', 'image/jpeg': 'jpg', 'image/gif': 'gif', 'image/webp': 'webp', 'image/svg+xml': 'svg' })[
    mediaType
  ];

/** The bytes of a `data:` URI (RFC 2397); `undefined` for any other address, which is never fetched. */
export function decodeDataUri(address: string): Uint8Array | undefined {
  const [, parameters = '', data = ''] = /^data:([^,]*),(.*)$/is.exec(address.trim()) ?? [];
  if (data === '') return undefined;
  try {
    const plain = decodeURIComponent(data);
    const isBase64 = /;\s*base64\s*$/i.test(parameters);
    return isBase64 ? fromBase64(plain.replace(/\s/g, ''), { padding: 'both' }) : new TextEncoder().encode(plain);
  } catch {
    return undefined; // damaged
  }
}

export const encodeDataUri = (bytes: Uint8Array, mediaType: string): string =>
  `data:${mediaType};base64,${toBase64(bytes)}`;

/**
 * The bytes of a picture that a page or text points to: in a `data:` URI, or in a file beside it where the caller reads
 * those. Nothing is fetched from anywhere else.
 */
export async function fetchPicture(address: string, tools: ReadTools = {}): Promise<Uint8Array | undefined> {
  const inside = decodeDataUri(address);
  if (inside || !tools.relativeFile || /^[a-z][a-z0-9+.-]*:|^\/|^\\|^#/i.test(address)) return inside;
  const [path = ''] = address.split(/[?#]/);
  const name = decoded(path);
  return name === '' || name.split(/[\\/]/).includes('..') ? undefined : tools.relativeFile(name);
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

/** What may run, load or lead on when an SVG is opened by itself, in words that a script cannot do without (SVG 2, section 2). */
const acting =
  /[<:]script|\son\w+\s*=|foreignobject|javascript|xml-stylesheet|<!(?:entity|attlist|doctype[^>]*\[)|w3\.org\/1999\/xhtml|attributename\s*=\s*["'][^"']*href|=\s*(?:"[^"]*&#|'[^']*&#)/i;

/** Where a still picture may point: within itself, to a page, or to pixels that it holds. */
const stillAddress = /^(?:#|https?:\/\/|data:image\/(?:png|jpe?g|gif|webp)[;,])/i;

/**
 * Whether an SVG is nothing but a picture, even when it is opened by itself. As the picture of a page none ever runs a
 * script (SVG 2, section 2.2.6). When in doubt it is not.
 */
export function isStill(svg: Uint8Array): boolean {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(svg);
  } catch {
    return false;
  }
  const [, encoding = 'utf-8'] = /^\s*<\?xml[^>]*encoding\s*=\s*["']([^"']*)/.exec(text) ?? [];
  if (!/^(?:utf-8|us-ascii)$/i.test(encoding) || acting.test(text)) return false;
  return [...text.matchAll(/\bhref\s*=\s*["']\s*([^"']*)/gi)].every(([, address = '']) => stillAddress.test(address));
}
