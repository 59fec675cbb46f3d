import colorString from 'color-string';
import parseDeclarations from 'inline-style-parser';
import type { Alignment, Marks, ParagraphProperties } from '../../content/index.ts';
import { sharedAlignments } from '../flow/look.ts';
import { pointsPerPixel } from '../pictures.ts';
import { nullPrototype } from '../xml/element.ts';

/** The declarations of a `style` attribute, names in lower case; broken ones are passed over as a browser does. */
export function declarations(style: string | undefined): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  if (style === undefined) return found;
  try {
    for (const each of parseDeclarations(style, { silent: true })) {
      if (each.type === 'declaration') found.set(each.property.toLowerCase(), each.value.trim());
    }
  } catch {
    // not CSS: says nothing about the look
  }
  return found;
}

export const isHidden = (css: ReadonlyMap<string, string>): boolean =>
  css.get('display') === 'none' || css.get('visibility') === 'hidden';

/** Whether spaces and line ends count (CSS Text, section 3). */
export const keepsSpaces = (css: ReadonlyMap<string, string>): boolean | undefined => {
  const value = css.get('white-space');
  return value === undefined ? undefined : /^(pre|pre-wrap|break-spaces)$/.test(value);
};

/** The marks that declarations set or take away; `undefined` takes one away. */
export type MarkChanges = { readonly [K in keyof Marks]?: Marks[K] | undefined };

export function markChanges(css: ReadonlyMap<string, string>): MarkChanges {
  const changes: { -readonly [K in keyof Marks]?: Marks[K] | undefined } = {};
  const weight = css.get('font-weight');
  if (weight !== undefined) changes.bold = isBold(weight) || undefined;
  const slant = css.get('font-style');
  if (slant !== undefined) changes.italic = /italic|oblique/.test(slant) || undefined;
  const decoration = css.get('text-decoration-line') ?? css.get('text-decoration');
  if (decoration?.includes('underline')) changes.underline = true;
  if (decoration?.includes('line-through')) changes.strike = true;
  const raised = css.get('vertical-align');
  if (raised === 'super') changes.position = 'superscript';
  if (raised === 'sub') changes.position = 'subscript';
  const font = css
    .get('font-family')
    ?.split(',')[0]
    ?.trim()
    .replace(/^(["'])(.*)\1$/, '$2');
  if (font && !genericFonts.has(font.toLowerCase())) changes.font = font.slice(0, 255);
  const size = points(css.get('font-size'));
  if (size !== undefined && size >= 0.01) changes.size = size;
  const text = colour(css.get('color'));
  if (text !== undefined) changes.colour = text;
  const ground = colour(css.get('background-color') ?? css.get('background'));
  if (ground !== undefined) changes.background = ground;
  return changes;
}

const genericFonts = new Set([
  'inherit',
  'initial',
  'unset',
  'serif',
  'sans-serif',
  'monospace',
  'cursive',
  'fantasy',
  'system-ui',
]);

const isBold = (weight: string): boolean => /^bold/.test(weight) || Number.parseInt(weight, 10) >= 600;

/** A length in points; relative ones say nothing by themselves. */
export function points(length: string | undefined): number | undefined {
  const [, number = '', unit = ''] = /^(-?\d*\.?\d+)\s*(pt|px|in|cm|mm|pc)$/i.exec(length ?? '') ?? [];
  const factor = pointsPer[unit.toLowerCase()];
  return factor === undefined ? undefined : Math.round(Number(number) * factor * 100) / 100;
}

const pointsPer: Readonly<Record<string, number>> = nullPrototype({
  pt: 1,
  px: pointsPerPixel,
  in: 72,
  cm: 72 / 2.54,
  mm: 7.2 / 2.54,
  pc: 12,
});

/** `#rrggbb`; see-through colours and those that depend on the page are none. */
export function colour(value: string | undefined): string | undefined {
  const rgb = value === undefined ? null : colorString.get.rgb(value.toLowerCase());
  if (!rgb || rgb[3] === 0) return undefined;
  return `#${rgb
    .slice(0, 3)
    .map((part) => Math.round(part).toString(16).padStart(2, '0'))
    .join('')}`;
}

export const alignmentOf = (value: string | undefined): Alignment | undefined =>
  sharedAlignments[value?.toLowerCase() ?? ''];

export function paragraphProperties(css: ReadonlyMap<string, string>): ParagraphProperties {
  const align = alignmentOf(css.get('text-align'));
  const indent = points(css.get('margin-inline-start') ?? css.get('margin-left'));
  const direction = css.get('direction');
  return {
    ...(align && { align }),
    ...(indent !== undefined && indent > 0 && { indent }),
    ...((direction === 'rtl' || direction === 'ltr') && { direction }),
  };
}

/** An attribute's length in CSS pixels, as points. */
export const pixels = (value: string | undefined): number | undefined => {
  const number = Number.parseFloat(value ?? '');
  return number > 0 && number < 1e6 && !value?.includes('%') ? number * pointsPerPixel : undefined;
};
