import type { Element } from 'xast';
import type { Media, Picture } from '../../../content/index.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import { extensionOf } from '../../pictures.ts';
import { type LaidPicture, laidSize, pictureMargin } from '../../sheets/content.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Extent } from '../../trace.ts';
import { Declarations, rootTag, x } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { SourceTree } from '../../xml/source-tree.ts';
import { xmlSource, xmlText } from '../../xml/write-xml.ts';
import { addPicturePart, DrawingReader, emuSize, pictureBody } from '../drawing.ts';
import {
  contentTypes,
  namespaces,
  type Relationships,
  readPart,
  readRelationships,
  relatedPart,
  relationshipsOf,
} from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import type { SheetFrame } from './sheet-frame.ts';
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

/** A sheet's part, and what stands around its rows. */
interface PictureSheet {
  readonly part: string;
  readonly frame: SheetFrame;
}

/**
 * Lays pictures over cells: each an anchor of its own in the sheet's drawing (ISO/IEC 29500-1, 20.5.2.24), that moves with its
 * cell and keeps its size. Gives what changes in the sheet, which is nothing where it has a drawing.
 */
export async function layPictures(
  edit: OpcEdit,
  zip: Zip,
  { part, frame }: PictureSheet,
  pictures: readonly LaidPicture[],
  media: Media,
): Promise<TextEdit[]> {
  const known = relatedPart(zip, await readRelationships(zip, part), 'drawing');
  const drawing = known ?? freeName(edit, (number) => `xl/drawings/drawing${number}.xml`);
  await edit.load(contentTypes, relationshipsOf(part), drawing, relationshipsOf(drawing));
  const spaces = namespacesFor(frame.tree.text);
  const addPicture = ({ picture }: LaidPicture): string => {
    const name = `${picture.media.slice(0, 16)}.${extensionOf(picture.mediaType)}`;
    addPicturePart(edit, `xl/media/${name}`, media.get(picture.media) ?? new Uint8Array());
    return edit.addRelationship(drawing, `${spaces['xmlns:r']}/image`, `/xl/media/${name}`);
  };
  const source = edit.findText(drawing) ?? emptyDrawing(spaces);
  const declarations = new Declarations(source, spaces);
  const tree = new SourceTree(source, drawing, namespaces);
  const last = tree.all('xdr:cNvPr').reduce((most, { attributes }) => Math.max(most, Number(attributes.id) || 0), 0);
  const anchors = pictures.map((each, index) =>
    declarations.on(xmlSource([anchor(each, addPicture(each), last + index + 1)])),
  );
  edit.setText(drawing, tree.edited(tree.append(tree.root, anchors.join(''))));
  if (known !== undefined) return [];
  edit.addType(drawing, 'application/vnd.openxmlformats-officedocument.drawing+xml');
  const id = edit.addRelationship(part, `${spaces['xmlns:r']}/drawing`, `/${drawing}`);
  return frame.withDrawing(spaces['xmlns:r'], id);
}

/** One picture at the corner of its cell (20.5.2.24); rows and columns count from 0 there. */
function anchor({ picture, row, column }: LaidPicture, id: string, number: number): Element {
  const { width, height } = laidSize(picture);
  const size = emuSize(width, height);
  const gap = emuSize(pictureMargin, pictureMargin);
  const place = (name: string, value: string): Element => x(`xdr:${name}`, {}, value);
  const description = picture.alt === undefined ? undefined : xmlText(picture.alt);
  return x('xdr:oneCellAnchor', {}, [
    x('xdr:from', {}, [
      place('col', String(column - 1)),
      place('colOff', gap.cx),
      place('row', String(row - 1)),
      place('rowOff', gap.cy),
    ]),
    x('xdr:ext', { ...size }),
    x('xdr:pic', {}, [
      x('xdr:nvPicPr', {}, [
        x('xdr:cNvPr', { id: String(number), name: `Picture ${number}`, descr: description }),
        x('xdr:cNvPicPr', {}, x('a:picLocks', { noChangeAspect: '1' })),
      ]),
      ...pictureBody('xdr', id, picture.mediaType, size),
    ]),
    x('xdr:clientData'),
  ]);
}

type Spaces = Readonly<Record<'xmlns:xdr' | 'xmlns:a' | 'xmlns:r', string>>;

/** Strict workbooks have namespaces of their own (annex A). */
function namespacesFor(sheet: string): Spaces {
  const isStrict = rootTag(sheet).includes('"http://purl.oclc.org/ooxml/spreadsheetml/main"');
  const drawings = isStrict
    ? 'http://purl.oclc.org/ooxml/drawingml'
    : 'http://schemas.openxmlformats.org/drawingml/2006';
  return {
    'xmlns:xdr': `${drawings}/spreadsheetDrawing`,
    'xmlns:a': `${drawings}/main`,
    'xmlns:r': isStrict
      ? 'http://purl.oclc.org/ooxml/officeDocument/relationships'
      : 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  };
}

const emptyDrawing = (spaces: Spaces): string =>
  `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n${xmlSource([x('xdr:wsDr', { ...spaces })])}`;

function freeName(edit: OpcEdit, name: (number: number) => string): string {
  let number = 1;
  while (edit.has(name(number))) number++;
  return name(number);
}
