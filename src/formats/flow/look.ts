import type { Alignment, Marks } from '../../content/index.ts';

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
