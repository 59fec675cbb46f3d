import type { Picture } from '../../../content/index.ts';
import type { Zip } from '../../package/zip.ts';
import { DrawingReader } from '../drawing.ts';
import { namespaces } from '../namespaces.ts';
import { readPart, readRelationships, relatedPart } from '../opc.ts';
import type { Sheet } from './workbook.ts';

/** A picture that lies over the cells of a sheet. */
export interface SheetPicture {
  readonly sheet: Sheet;
  readonly name: string;
  /** Named by its part. */
  readonly picture: Picture;
}

/** The pictures of a sheet's drawing (ISO/IEC 29500-1, 20.5), in the order they were laid. */
export async function readSheetPictures(zip: Zip, sheet: Sheet): Promise<SheetPicture[]> {
  const part = relatedPart(zip, await readRelationships(zip, sheet.part), 'drawing');
  if (part === undefined) return [];
  const relationships = await readRelationships(zip, part);
  const found: SheetPicture[] = [];
  let drawing: DrawingReader | undefined;
  let label = '';
  await readPart(zip, part, namespaces, {
    open(name, attributes) {
      if (name === 'xdr:pic') drawing = new DrawingReader(relationships);
      if (name === 'xdr:cNvPr') {
        label = attributes.name ?? '';
        drawing?.setDescription(attributes);
      }
      if (name === 'a:blip') drawing?.setSource(attributes);
      if (name === 'a:ext' && attributes.cx !== undefined) drawing?.setExtent(attributes);
    },
    close(name) {
      if (name !== 'xdr:pic') return;
      const inline = drawing?.finish();
      drawing = undefined;
      if (!inline) return;
      const { type: _, ...picture } = inline;
      found.push({ sheet, name: label, picture });
    },
  });
  return found;
}
