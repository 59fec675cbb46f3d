import type { InlinePicture } from '../../content/index.ts';
import type { Attributes } from '../xml/read-xml.ts';
import type { Relationships } from './opc.ts';

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
