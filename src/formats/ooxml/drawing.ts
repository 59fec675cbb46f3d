import type { Element } from 'xast';
import type { InlinePicture, PictureType } from '../../content/index.ts';
import { pictureTypes } from '../pictures.ts';
import { x } from '../xml/element.ts';
import type { Attributes } from '../xml/read-xml.ts';
import type { Relationships } from './opc.ts';
import type { OpcEdit } from './package-edit.ts';

const emuPerPoint = 12_700;

/** One drawing as it is heard: DrawingML (ISO/IEC 29500-1, 20.4) or the older VML (ISO/IEC 29500-4, 19). */
export class DrawingReader {
  readonly #relationships: Relationships;
  #part: string | undefined;
  #linked = false;
  #size: { width?: number; height?: number } = {};
  #alt: string | undefined;

  constructor(relationships: Relationships) {
    this.#relationships = relationships;
  }

  setExtent({ cx, cy }: Attributes): void {
    if (Number(cx) > 0 && Number(cy) > 0)
      this.#size = { width: Number(cx) / emuPerPoint, height: Number(cy) / emuPerPoint };
  }

  setDescription({ descr, title }: Attributes): void {
    const alt = descr || title;
    if (alt) this.#alt ??= alt;
  }

  /** The SVG beside a picture's bitmap, where there is one, is not needed: the bitmap shows the same. */
  setSource(attributes: Attributes): void {
    const relationship = this.#relationships.get(attributes['r:embed'] ?? attributes['r:id'] ?? '');
    if (relationship && !relationship.external) this.#part ??= relationship.target;
    else this.#linked ||= attributes['r:link'] !== undefined || relationship?.external === true;
  }

  /** A VML shape's size stands in its style, as CSS has it. */
  setShape({ style = '', alt }: Attributes): void {
    const width = cssPoints(style, 'width');
    const height = cssPoints(style, 'height');
    if (width && height && this.#size.width === undefined) this.#size = { width, height };
    if (alt) this.#alt ??= alt;
  }

  /** Whether its picture lies outside the file, where it is not fetched. */
  get isLinked(): boolean {
    return this.#linked && this.#part === undefined;
  }

  /** The picture, named by its part; `undefined` when the drawing holds none. */
  finish(): InlinePicture | undefined {
    if (this.#part === undefined) return undefined;
    const alt = this.#alt === undefined ? {} : { alt: this.#alt };
    return { type: 'picture', media: this.#part, mediaType: 'image/png', ...this.#size, ...alt };
  }
}

function cssPoints(style: string, property: string): number | undefined {
  const [, number, unit = ''] =
    new RegExp(`(?:^|;)\\s*${property}:\\s*(\\d{1,6}(?:\\.\\d{1,6})?)(pt|in|px|cm|mm)?`).exec(style) ?? [];
  const factor = { pt: 1, in: 72, px: 0.75, cm: 72 / 2.54, mm: 7.2 / 2.54, '': 0.75 }[unit];
  const points = factor === undefined ? 0 : Number(number) * factor;
  return points >= 0.01 ? points : undefined;
}

/** A size in English Metric Units. */
export interface EmuSize {
  readonly cx: string;
  readonly cy: string;
}

/** English Metric Units: 12,700 to the point. */
const emu = (points: number): string => String(Math.max(1, Math.round(points * 12_700)));

/** A size in points. */
export const emuSize = (width: number, height: number): EmuSize => ({ cx: emu(width), cy: emu(height) });

/**
 * What a picture shows and its outline (ISO/IEC 29500-1, 20.1.8.14 and 20.1.2.2.35), inside `pic:pic` or `xdr:pic`; `id` is
 * the relationship with its bytes.
 */
export function pictureBody(prefix: 'pic' | 'xdr', id: string, mediaType: PictureType, size: EmuSize): Element[] {
  const vector =
    mediaType === 'image/svg+xml'
      ? x(
          'a:extLst',
          {},
          x(
            'a:ext',
            { uri: '{96DAC541-7B7A-43D3-8B79-37D633B846F1}' },
            x('asvg:svgBlip', {
              'xmlns:asvg': 'http://schemas.microsoft.com/office/drawing/2016/SVG/main',
              'r:embed': id,
            }),
          ),
        )
      : undefined;
  return [
    x(`${prefix}:blipFill`, {}, [x('a:blip', { 'r:embed': id }, vector), x('a:stretch', {}, x('a:fillRect'))]),
    x(`${prefix}:spPr`, {}, [
      x('a:xfrm', {}, [x('a:off', { x: '0', y: '0' }), x('a:ext', { ...size })]),
      x('a:prstGeom', { prst: 'rect' }, x('a:avLst')),
    ]),
  ];
}

/** Puts a picture's bytes into a package, and says what they are. */
export function addPicturePart(edit: OpcEdit, part: string, bytes: Uint8Array): void {
  if (edit.has(part)) return;
  edit.setBytes(part, bytes);
  const extension = part.slice(part.lastIndexOf('.') + 1);
  edit.addDefaultType(extension, pictureTypes[extension] ?? 'application/octet-stream');
}

/** A part's name in the folder of another. */
export const beside = (part: string, target: string): string => part.slice(0, part.lastIndexOf('/') + 1) + target;
