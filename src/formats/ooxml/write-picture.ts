import type { Element } from 'xast';
import type { PictureType } from '../../content/index.ts';
import { pictureTypes } from '../pictures.ts';
import { x } from '../xml/element.ts';
import type { OpcEdit } from './package-edit.ts';

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
