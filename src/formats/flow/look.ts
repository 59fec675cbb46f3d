import type { Alignment, HeadingLevel, Marks } from '../../content/index.ts';
import { nullPrototype } from '../xml/element.ts';

/** Run properties as set at one level; absent means the level says nothing. */
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

/** Paragraph properties as set at one level. */
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

/** Alignments by the names that formats share; left and right are the start and end that programs write them for. */
export const sharedAlignments: Readonly<Record<string, Alignment>> = nullPrototype({
  left: 'start',
  start: 'start',
  center: 'center',
  right: 'end',
  end: 'end',
  justify: 'justify',
});

/** Widths that fit the page: the source's own, made smaller together when they are too wide, or equal ones. */
export function fitWidths(own: readonly number[] | undefined, columns: number, available: number): number[] {
  if (own?.length !== columns) return Array.from({ length: columns }, () => available / columns);
  const whole = own.reduce((sum, width) => sum + width, 0);
  return own.map((width) => (whole > available ? (width * available) / whole : width));
}

/** What a paragraph is, by the name of its style: names that the standard lists (17.7.4.9) or that many programs share. */
export type ParagraphMeaning =
  | { readonly kind: 'heading'; readonly level: HeadingLevel; readonly style?: string }
  | { readonly kind: 'quote' | 'code' | 'continuation' | 'plain' }
  | { readonly kind: 'named'; readonly style: string };

const quotes = new Set(['quote', 'intense quote', 'quotations', 'block text', 'block quote']);
const codes = new Set(['html preformatted', 'preformatted text', 'source code', 'code', 'plain text']);
const inlineCodes = new Set(['html code', 'source text', 'verbatim char', 'code', 'inline code']);
const links = new Set(['hyperlink', 'followedhyperlink', 'internet link', 'visited internet link']);
const plainNames = new Set([
  '',
  'normal',
  'standard',
  'body text',
  'text body',
  'list',
  'list paragraph',
  'table contents',
  'table heading',
  'footnote text',
  'footnote',
  'no spacing',
]);

export function meaningOf(styleName: string, outlineLevel: number | undefined): ParagraphMeaning {
  const name = styleName.toLowerCase();
  const numbered = /^heading ([1-9])$/.exec(name)?.[1];
  if (numbered !== undefined) return { kind: 'heading', level: headingLevel(Number(numbered)) };
  if (outlineLevel !== undefined && outlineLevel >= 0 && outlineLevel < 9) {
    return {
      kind: 'heading',
      level: headingLevel(outlineLevel + 1),
      ...(!plainNames.has(name) && { style: styleName }),
    };
  }
  if (name === 'title') return { kind: 'heading', level: 1, style: styleName };
  if (quotes.has(name)) return { kind: 'quote' };
  if (codes.has(name)) return { kind: 'code' };
  if (/^list continue( \d)?$/.test(name)) return { kind: 'continuation' };
  if (plainNames.has(name) || /^list (bullet|number)( \d)?$/.test(name)) return { kind: 'plain' };
  return { kind: 'named', style: styleName };
}

export const isInlineCode = (styleName: string): boolean => inlineCodes.has(styleName.toLowerCase());
export const isLinkStyle = (styleName: string): boolean => links.has(styleName.toLowerCase());

const headingLevel = (level: number): HeadingLevel => Math.min(Math.max(level, 1), 6) as HeadingLevel;
