import type { InlinePicture } from '../../../content/index.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { Relationships } from '../opc.ts';

const emuPerPoint = 12_700;

/** One drawing as it is heard (ISO/IEC 29500-1, 20.4): its picture, shown size and description. */
export class DrawingReader {
  readonly #relationships: Relationships;
  #part: string | undefined;
  #size: { width?: number; height?: number } = {};
  #alt: string | undefined;

  constructor(relationships: Relationships) {
    this.#relationships = relationships;
  }

  setExtent({ cx, cy }: Attributes): void {
    if (Number(cx) > 0 && Number(cy) > 0)
      this.#size = { width: Number(cx) / emuPerPoint, height: Number(cy) / emuPerPoint };
  }

  setDescription({ descr }: Attributes): void {
    if (descr) this.#alt = descr;
  }

  setSource(attributes: Attributes): void {
    const relationship = this.#relationships.get(attributes['r:embed'] ?? '');
    if (relationship && !relationship.external) this.#part = relationship.target;
  }

  /** The picture, named by its part; `undefined` when the drawing holds none. */
  finish(): InlinePicture | undefined {
    if (this.#part === undefined) return undefined;
    const alt = this.#alt === undefined ? {} : { alt: this.#alt };
    return { type: 'picture', media: this.#part, mediaType: 'image/png', ...this.#size, ...alt };
  }
}
