import { type Alignment, findLanguage } from '../../../content/index.ts';
import { automatic, type ParagraphLook, type RunLook, sharedAlignments } from '../../flow/look.ts';
import { nullPrototype } from '../../xml/element.ts';
import type { Attributes } from '../../xml/read-xml.ts';

/** The same with what counts instead in scripts that run from right to left or join their letters (17.3.2.7). */
export interface DocxRunLook extends RunLook {
  complex?: boolean;
  complexBold?: boolean;
  complexItalic?: boolean;
  complexSize?: number;
  complexFont?: string;
  themeFont?: string;
  themeColour?: ThemeColour;
}

/** A colour of the theme, lightened or darkened; the colour beside it is only what it came to when it was saved. */
export interface ThemeColour {
  readonly name: string;
  readonly tint: number;
  readonly shade: number;
}

/** ST_OnOff (22.9.2.7): present without a value is on. */
export const isOn = (value: string | undefined): boolean =>
  value === undefined || !['0', 'false', 'off'].includes(value);

const twentieths = (value: string | undefined): number => Number.parseFloat(value ?? '') / 20;

type Reader<Look> = (look: Look, attributes: Attributes) => void;

/** One reader a property element. */
export const runProperties: ReadonlyMap<string, Reader<DocxRunLook>> = new Map<string, Reader<DocxRunLook>>([
  ['w:b', (look, a) => setIf(look, 'bold', isOn(a['w:val']))],
  ['w:i', (look, a) => setIf(look, 'italic', isOn(a['w:val']))],
  ['w:strike', (look, a) => setIf(look, 'strike', isOn(a['w:val']))],
  ['w:dstrike', (look, a) => setIf(look, 'strike', isOn(a['w:val']))],
  ['w:vanish', (look, a) => setIf(look, 'hidden', isOn(a['w:val']))],
  ['w:u', (look, a) => setIf(look, 'underline', a['w:val'] !== 'none')],
  ['w:vertAlign', (look, a) => setIf(look, 'position', position(a['w:val']))],
  ['w:rtl', (look, a) => setIf(look, 'complex', isOn(a['w:val']))],
  ['w:cs', (look, a) => setIf(look, 'complex', isOn(a['w:val']))],
  ['w:bCs', (look, a) => setIf(look, 'complexBold', isOn(a['w:val']))],
  ['w:iCs', (look, a) => setIf(look, 'complexItalic', isOn(a['w:val']))],
  ['w:szCs', (look, a) => setIf(look, 'complexSize', positive(Number.parseFloat(a['w:val'] ?? '') / 2))],
  ['w:rFonts', readFonts],
  ['w:sz', (look, a) => setIf(look, 'size', positive(Number.parseFloat(a['w:val'] ?? '') / 2))],
  ['w:color', readColour],
  ['w:shd', (look, a) => setIf(look, 'background', colour(a['w:fill']))],
  ['w:highlight', (look, a) => setIf(look, 'background', highlights[a['w:val'] ?? ''] ?? automatic)],
  ['w:lang', (look, a) => setIf(look, 'language', findLanguage(a['w:val']))],
  ['w:rStyle', (look, a) => setIf(look, 'style', a['w:val'])],
]);

export const paragraphProperties: ReadonlyMap<string, Reader<ParagraphLook>> = new Map<string, Reader<ParagraphLook>>([
  ['w:jc', (look, a) => setIf(look, 'align', alignment[a['w:val'] ?? ''])],
  ['w:ind', (look, a) => setIf(look, 'indent', finite(twentieths(a['w:start'] ?? a['w:left'])))],
  ['w:bidi', (look, a) => setIf(look, 'direction', isOn(a['w:val']) ? 'rtl' : 'ltr')],
  ['w:outlineLvl', (look, a) => setIf(look, 'outlineLevel', finite(Number.parseInt(a['w:val'] ?? '', 10)))],
  ['w:numId', (look, a) => setIf(look, 'numberingId', a['w:val'])],
  ['w:ilvl', (look, a) => setIf(look, 'numberingLevel', finite(Number.parseInt(a['w:val'] ?? '', 10)))],
  ['w:bottom', (look, a) => setIf(look, 'ruled', !['none', 'nil'].includes(a['w:val'] ?? ''))],
]);

function readFonts(look: DocxRunLook, a: Attributes): void {
  setIf(look, 'complexFont', fontName(a['w:cs']));
  const theme = a['w:asciiTheme'] ?? a['w:hAnsiTheme'];
  const font = fontName(a['w:ascii'] ?? a['w:hAnsi']);
  setIf(look, 'themeFont', theme);
  setIf(look, 'font', font);
  if (theme === undefined && font !== undefined) delete look.themeFont;
}

const fontName = (name: string | undefined): string | undefined => name?.trim().slice(0, 255) || undefined;

/** The theme's colour is asked for only where none stands beside it: what stands there is what the writer saw. */
function readColour(look: DocxRunLook, a: Attributes): void {
  const name = a['w:themeColor'];
  const own = colour(a['w:val']);
  delete look.themeColour;
  setIf(look, 'colour', own);
  if (name === undefined || name === 'none' || (own !== undefined && own !== automatic)) return;
  const part = (value: string | undefined): number => (value === undefined ? 1 : Number.parseInt(value, 16) / 255);
  look.themeColour = { name, tint: part(a['w:themeTint']), shade: part(a['w:themeShade']) };
}

function setIf<Look, Key extends keyof Look>(look: Look, key: Key, value: Look[Key] | undefined): void {
  if (value !== undefined) look[key] = value;
}

const finite = (value: number): number | undefined => (Number.isFinite(value) ? value : undefined);
const positive = (value: number): number | undefined => (value >= 0.01 && value <= 1e6 ? value : undefined);

const position = (value: string | undefined) => (value === 'superscript' || value === 'subscript' ? value : 'baseline');

/** `#rrggbb`, or `auto`; other values are no colour. */
export function colour(value: string | undefined): string | undefined {
  if (value === automatic) return automatic;
  return value !== undefined && /^[0-9A-Fa-f]{6}$/.test(value) ? `#${value.toLowerCase()}` : undefined;
}

/** ST_Jc (17.18.44): left and right are start and end in what programs write. */
const alignment: Readonly<Record<string, Alignment>> = nullPrototype({
  ...sharedAlignments,
  both: 'justify',
  distribute: 'justify',
});

/** ST_HighlightColor (17.18.40). */
const highlights: Readonly<Record<string, string>> = nullPrototype({
  black: '#000000',
  blue: '#0000ff',
  cyan: '#00ffff',
  darkBlue: '#000080',
  darkCyan: '#008080',
  darkGray: '#808080',
  darkGreen: '#008000',
  darkMagenta: '#800080',
  darkRed: '#800000',
  darkYellow: '#808000',
  green: '#00ff00',
  lightGray: '#c0c0c0',
  magenta: '#ff00ff',
  red: '#ff0000',
  white: '#ffffff',
  yellow: '#ffff00',
});

/** Toggle properties (17.7.3): set in an odd number of styles, they are on. */
export const toggles = ['bold', 'italic', 'strike', 'hidden'] as const;

/** What styles come to together: the later says it, but toggles flip. */
export function layered(below: RunLook, above: RunLook): RunLook {
  const look: RunLook = { ...below, ...above };
  for (const toggle of toggles) {
    if (below[toggle] && above[toggle]) look[toggle] = false;
  }
  return look;
}
