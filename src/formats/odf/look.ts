import { findLanguage } from '../../content/index.ts';
import { automatic, type ParagraphLook, type RunLook, sharedAlignments } from '../flow/look.ts';
import { byName } from '../xml/element.ts';
import type { Attributes } from '../xml/read-xml.ts';

/** Font families by the names that styles call them (ISO/IEC 26300-1, section 16.23). */
export type FontNames = ReadonlyMap<string, string>;

/** What a `style:text-properties` element says (section 16.27.28). */
export function runLook(a: Attributes, fonts: FontNames): RunLook {
  const look: RunLook = {};
  const weight = a['fo:font-weight'];
  if (weight !== undefined) look.bold = weight === 'bold' || Number(weight) >= 600;
  const slant = a['fo:font-style'];
  if (slant !== undefined) look.italic = slant !== 'normal';
  const underline = a['style:text-underline-style'] ?? a['style:text-underline-type'];
  if (underline !== undefined) look.underline = underline !== 'none';
  const strike = a['style:text-line-through-style'] ?? a['style:text-line-through-type'];
  if (strike !== undefined) look.strike = strike !== 'none';
  const [raised] = (a['style:text-position'] ?? '').split(' ');
  if (raised) look.position = positionOf(raised);
  const font = familyOf(a, fonts);
  if (font) look.font = font.slice(0, 255);
  const size = points(a['fo:font-size']);
  if (size !== undefined && size > 0) look.size = size;
  const text = a['style:use-window-font-color'] === 'true' ? automatic : colour(a['fo:color']);
  if (text !== undefined) look.colour = text;
  const ground = a['fo:background-color'] === 'transparent' ? automatic : colour(a['fo:background-color']);
  if (ground !== undefined) look.background = ground;
  if (a['text:display'] !== undefined) look.hidden = a['text:display'] === 'none';
  const language = findLanguage(languageTag(a['fo:language'], a['fo:country']));
  if (language !== undefined) look.language = language;
  return look;
}

function positionOf(raised: string): NonNullable<RunLook['position']> {
  if (raised === 'super' || Number.parseFloat(raised) > 0) return 'superscript';
  return raised === 'sub' || Number.parseFloat(raised) < 0 ? 'subscript' : 'baseline';
}

function familyOf(a: Attributes, fonts: FontNames): string | undefined {
  const named = fonts.get(a['style:font-name'] ?? '') ?? a['fo:font-family'];
  return named
    ?.split(',')[0]
    ?.trim()
    .replace(/^(["'])(.*)\1$/, '$2');
}

const languageTag = (language: string | undefined, country: string | undefined): string | undefined =>
  language === undefined || language === 'none' || language === 'zxx'
    ? undefined
    : country && country !== 'none'
      ? `${language}-${country}`
      : language;

/** What a `style:paragraph-properties` element says (section 16.27.2). */
export function paragraphLook(a: Attributes): ParagraphLook {
  const look: ParagraphLook = {};
  const align = sharedAlignments[a['fo:text-align'] ?? ''];
  if (align) look.align = align;
  const indent = points(a['fo:margin-left'] ?? a['loext:margin-left']);
  if (indent !== undefined) look.indent = indent;
  const mode = a['style:writing-mode'];
  if (mode === 'rl-tb' || mode === 'rl') look.direction = 'rtl';
  if (mode === 'lr-tb' || mode === 'lr') look.direction = 'ltr';
  const border = a['fo:border-bottom'] ?? a['fo:border'];
  if (border !== undefined) look.ruled = border !== 'none';
  return look;
}

export const colour = (value: string | undefined): string | undefined =>
  value !== undefined && /^#[0-9A-Fa-f]{6}$/.test(value) ? value.toLowerCase() : undefined;

/** Points in the units of ISO/IEC 26300-1, section 18.3.18. */
const pointsPer: Readonly<Record<string, number>> = byName({
  pt: 1,
  in: 72,
  inch: 72,
  cm: 72 / 2.54,
  mm: 7.2 / 2.54,
  pc: 12,
  px: 0.75,
});

/** A length in points; relative ones (`%`) say nothing by themselves. */
export function points(length: string | undefined): number | undefined {
  const [, number = '', unit = ''] = /^(-?\d*\.?\d+)\s*([a-z]+)$/.exec(length?.trim() ?? '') ?? [];
  const factor = pointsPer[unit];
  return factor === undefined ? undefined : Math.round(Number(number) * factor * 100) / 100;
}

/** The same, for what has to be of some size. */
export function size(length: string | undefined): number | undefined {
  const value = points(length);
  return value !== undefined && value >= 0.01 && value <= 1e6 ? value : undefined;
}
