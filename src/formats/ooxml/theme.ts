import type { Zip } from '../package/zip.ts';
import { nullPrototype } from '../xml/element.ts';
import type { Attributes } from '../xml/read-xml.ts';
import { namespaces, readPart } from './opc.ts';

/** Fonts and colours that a document or workbook calls by what they are for (ISO/IEC 29500-1, 20.1.6). */
export interface Theme {
  /** By `majorAscii`, `minorHAnsi`, `minorBidi` and so on. */
  findFont(name: string | undefined): string | undefined;
  /** `#rrggbb` by `accent1`, `dark1`, `text2` and so on, lightened or darkened by fractions from 0 to 1. */
  findColour(name: string | undefined, tint?: number, shade?: number): string | undefined;
  /** The twelve colours in the order workbooks count them (18.8.3): light 1, dark 1, light 2, dark 2, accents, links. */
  readonly colours: readonly (string | undefined)[];
}

export async function readTheme(zip: Zip, part: string | undefined): Promise<Theme> {
  const fonts = new Map<string, string>();
  const colours = new Map<string, string>();
  let scheme = '';
  let slot = '';
  await readPart(zip, part, namespaces, {
    open(name, a) {
      if (name === 'a:majorFont' || name === 'a:minorFont') scheme = name.slice(2, 7);
      const kind = kinds[name];
      if (scheme !== '' && kind !== undefined && a.typeface) fonts.set(`${scheme}${kind}`, a.typeface);
      if (slots.has(name)) slot = name.slice(2);
      const value = colourOf(name, a);
      if (slot !== '' && value && !colours.has(slot)) colours.set(slot, value);
    },
    close(name) {
      if (name === 'a:majorFont' || name === 'a:minorFont') scheme = '';
      if (slots.has(name)) slot = '';
    },
  });
  return {
    findFont: (name) =>
      fonts.get(
        (name ?? '')
          .replace(/(?:Ascii|HAnsi)$/, 'Latin')
          .replace(/EastAsia$/, 'Ea')
          .replace(/Bidi$/, 'Cs'),
      ),
    findColour(name, tint, shade) {
      const colour = colours.get(slotNames[name ?? ''] ?? name ?? '');
      return colour === undefined ? undefined : shaded(colour, tint, shade);
    },
    colours: workbookOrder.map((name) => colours.get(name)),
  };
}

const kinds: Readonly<Record<string, string>> = nullPrototype({ 'a:latin': 'Latin', 'a:ea': 'Ea', 'a:cs': 'Cs' });
const workbookOrder = [
  'lt1',
  'dk1',
  'lt2',
  'dk2',
  'accent1',
  'accent2',
  'accent3',
  'accent4',
  'accent5',
  'accent6',
  'hlink',
  'folHlink',
];
const slots = new Set(workbookOrder.map((name) => `a:${name}`));

/** ST_ThemeColor (17.18.97) by the slots of the theme. */
const slotNames: Readonly<Record<string, string>> = nullPrototype({
  dark1: 'dk1',
  text1: 'dk1',
  light1: 'lt1',
  background1: 'lt1',
  dark2: 'dk2',
  text2: 'dk2',
  light2: 'lt2',
  background2: 'lt2',
  hyperlink: 'hlink',
  followedHyperlink: 'folHlink',
});

function colourOf(name: string, { val, lastClr }: Attributes): string | undefined {
  const hex = name === 'a:srgbClr' ? val : name === 'a:sysClr' ? lastClr : undefined;
  return hex !== undefined && /^[0-9A-Fa-f]{6}$/.test(hex) ? `#${hex.toLowerCase()}` : undefined;
}

/** Each part of the colour moved towards white by the tint, towards black by the shade. */
function shaded(colour: string, tint = 1, shade = 1): string {
  const parts = [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16));
  const moved = parts.map((part) => Math.round((255 - (255 - part) * tint) * shade));
  return `#${moved.map((part) => Math.min(255, Math.max(0, part)).toString(16).padStart(2, '0')).join('')}`;
}
