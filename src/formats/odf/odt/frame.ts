import type { InlinePicture } from '../../../content/index.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { partName } from '../package.ts';
import { size } from '../styles.ts';

/** Pictures of the kinds we keep come before those a program adds for others, such as metafiles. */
const keptKinds = /\.(png|jpe?g|gif|webp|svg)$/i;

/** One frame as it is heard (ISO/IEC 26300-1, section 10.4.2): its picture, shown size and description. */
export class FrameReader {
  readonly #size: { width?: number; height?: number };
  readonly #images: string[] = [];
  #alt = '';
  #caption: string | undefined;

  constructor(a: Attributes) {
    const width = size(a['svg:width']);
    const height = size(a['svg:height']);
    this.#size = { ...(width !== undefined && { width }), ...(height !== undefined && { height }) };
  }

  addImage(a: Attributes): void {
    const address = a['xlink:href'];
    if (address) this.#images.push(partName(address));
  }

  openCaption(): void {
    this.#caption = '';
  }

  /** Whether the words are the title or description. */
  hears(words: string): boolean {
    if (this.#caption === undefined) return false;
    this.#caption += words;
    return true;
  }

  /** The description, which stands behind the title, says more. */
  closeCaption(): void {
    this.#alt = this.#caption?.replace(/\s+/g, ' ').trim() || this.#alt;
    this.#caption = undefined;
  }

  /** The picture, named by its part; `undefined` when the frame holds none. */
  finish(): InlinePicture | undefined {
    const part = this.#images.find((image) => keptKinds.test(image)) ?? this.#images[0];
    if (part === undefined) return undefined;
    return {
      type: 'picture',
      media: part,
      mediaType: 'image/png',
      ...this.#size,
      ...(this.#alt && { alt: this.#alt }),
    };
  }
}
