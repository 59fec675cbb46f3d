import { type Alignment, findLanguage, type Marks } from '../../../content/index.ts';
import { sharedAlignments } from '../../alignment.ts';
import type { Attributes } from '../../xml/read-xml.ts';

/** Run properties as set at one level (ISO/IEC 29500-1, 17.3.2); absent means the level says nothing. */
export interface RunLook {
  bold?: boolean;
  italic?: boolean;
  strike?: boolean;
  hidden?: boolean;
  underline?: boolean;
  position?: 'superscript' | 'subscript' | 'baseline';
  font?: string;
  /** In points. */
  size?: number;
  colour?: string;
  background?: string;
  language?: string;
  /** The id of a character style. */
  style?: string;
}

/** Paragraph properties as set at one level (17.3.1). */
export interface ParagraphLook {
  align?: Alignment;
  /** In points. */
  indent?: number;
  direction?: 'ltr' | 'rtl';
  /** 0 to 8 for headings, 9 for body text. */
  outlineLevel?: number;
  numberingId?: string;
  numberingLevel?: number;
  ruled?: boolean;
}

/** The automatic colour: what its surroundings make it. */
export const automatic = 'auto';

/** ST_OnOff (22.9.2.7): present without a value is on. */
export const isOn = (value: string | undefined): boolean =>
  value === undefined || !['0', 'false', 'off'].includes(value);

const twentieths = (value: string | undefined): number => Number.parseFloat(value ?? '') / 20;

type Reader<Look> = (look: Look, attributes: Attributes) => void;

/** One reader a property element. */
export const runProperties: ReadonlyMap<string, Reader<RunLook>> = new Map<string, Reader<RunLook>>([
  ['w:b', (look, a) => setIf(look, 'bold', isOn(a['w:val']))],
  ['w:i', (look, a) => setIf(look, 'italic', isOn(a['w:val']))],
  ['w:strike', (look, a) => setIf(look, 'strike', isOn(a['w:val']))],
  ['w:dstrike', (look, a) => setIf(look, 'strike', isOn(a['w:val']))],
  ['w:vanish', (look, a) => setIf(look, 'hidden', isOn(a['w:val']))],
  ['w:u', (look, a) => setIf(look, 'underline', a['w:val'] !== 'none')],
  ['w:vertAlign', (look, a) => setIf(look, 'position', position(a['w:val']))],
  ['w:rFonts', (look, a) => setIf(look, 'font', a['w:ascii'] ?? a['w:hAnsi'])],
  ['w:sz', (look, a) => setIf(look, 'size', positive(Number.parseFloat(a['w:val'] ?? '') / 2))],
  ['w:color', (look, a) => setIf(look, 'colour', colour(a['w:val']))],
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
const alignment: Readonly<Record<string, Alignment>> = { ...sharedAlignments, both: 'justify', distribute: 'justify' };

/** ST_HighlightColor (17.18.40). */
const highlights: Readonly<Record<string, string>> = {
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
};

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

/** A look as marks: what differs from `base`, the look of plain text in its document. */
export function marksOf(look: RunLook, base: RunLook): Marks {
  const differs = <Key extends keyof RunLook>(key: Key): RunLook[Key] | undefined =>
    look[key] === base[key] || look[key] === automatic ? undefined : look[key];
  const font = differs('font');
  const size = differs('size');
  const textColour = differs('colour');
  const background = differs('background');
  const marked = differs('language');
  return {
    ...(look.bold && { bold: true }),
    ...(look.italic && { italic: true }),
    ...(look.underline && { underline: true }),
    ...(look.strike && { strike: true }),
    ...(look.position && look.position !== 'baseline' && { position: look.position }),
    ...(font !== undefined && { font }),
    ...(size !== undefined && { size }),
    ...(textColour !== undefined && { colour: textColour }),
    ...(background !== undefined && { background }),
    ...(marked !== undefined && { language: marked }),
  };
}
