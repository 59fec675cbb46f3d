import type { Picture } from '../../../content/index.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits } from '../../text-edits.ts';
import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { DrawingReader } from '../drawing.ts';
import { namespaces, type Relationships, readPart, readRelationships, relatedPart } from '../opc.ts';
import type { Sheet } from './workbook.ts';

/** A picture that lies over the cells of a sheet. */
export interface SheetPicture {
  readonly sheet: Sheet;
  readonly name: string;
  /** Named by its part. */
  readonly picture: Picture;
  /** The drawing that it is laid in, and which of its pictures it is, from 0. */
  readonly drawing: string;
  readonly index: number;
}

/** The pictures of a sheet's drawing (ISO/IEC 29500-1, 20.5), in the order they were laid. */
export async function readSheetPictures(zip: Zip, sheet: Sheet): Promise<SheetPicture[]> {
  const drawing = relatedPart(zip, await readRelationships(zip, sheet.part), 'drawing');
  if (drawing === undefined) return [];
  const reader = new SheetDrawingReader(await readRelationships(zip, drawing));
  await readPart(zip, drawing, namespaces, reader);
  return reader.pictures.map(({ name, picture }, index) => ({ sheet, name, picture, drawing, index }));
}

/** The bytes of a drawing without some of its pictures: with the place over the cells that only they had, if so. */
export async function withoutPictures(zip: Zip, drawing: string, indexes: readonly number[]): Promise<Uint8Array> {
  const decoded = decodeExactly((await partBytes(zip, drawing)) ?? new Uint8Array());
  const reader = new SheetDrawingReader(await readRelationships(zip, drawing));
  scanXmlText(decoded.text, drawing, namespaces, reader);
  const edits = [...new Set(indexes)].map((index) => ({
    ...(reader.pictures[index]?.extent ?? { start: 0, end: 0 }),
    replacement: '',
  }));
  return encodeText(applyEdits(decoded.text, edits), decoded);
}

interface DrawnPicture {
  readonly name: string;
  readonly picture: Picture;
  readonly extent: Extent;
}

class SheetDrawingReader implements XmlHandler {
  readonly #found: { readonly name: string; readonly picture: Picture; extent: Extent }[] = [];
  readonly #relationships: Relationships;
  #drawing: DrawingReader | undefined;
  #name = '';
  #groups = 0;
  /** Whether the last picture is in no group. */
  #isAlone = false;
  /** Where what is being heard stands, and the starts of the elements around it. */
  #extent: Extent = { start: 0, end: 0 };
  readonly #starts: number[] = [];

  constructor(relationships: Relationships) {
    this.#relationships = relationships;
  }

  get pictures(): readonly DrawnPicture[] {
    return this.#found;
  }

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, attributes: Attributes): void {
    this.#starts.push(this.#extent.start);
    if (name === 'xdr:grpSp') this.#groups++;
    if (name === 'xdr:pic') this.#drawing = new DrawingReader(this.#relationships);
    if (name === 'xdr:cNvPr') {
      this.#name = attributes.name ?? '';
      this.#drawing?.setDescription(attributes);
    }
    if (name === 'a:blip') this.#drawing?.setSource(attributes);
    if (name === 'a:ext' && attributes.cx !== undefined) this.#drawing?.setExtent(attributes);
  }

  close(name: string): void {
    const extent = { start: this.#starts.pop() ?? 0, end: this.#extent.end };
    const last = this.#found.at(-1);
    if (name === 'xdr:grpSp') this.#groups--;
    // An anchor holds one object (20.5.2.33), and goes with it; a group in it may hold others.
    if (name.endsWith('Anchor') && last && last.extent.start > extent.start && this.#isAlone) last.extent = extent;
    if (name !== 'xdr:pic') return;
    this.#isAlone = this.#groups === 0;
    const inline = this.#drawing?.finish();
    this.#drawing = undefined;
    if (!inline) return;
    const { type: _, ...picture } = inline;
    this.#found.push({ name: this.#name, picture, extent });
  }
}
