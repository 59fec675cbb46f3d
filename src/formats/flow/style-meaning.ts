import type { HeadingLevel } from '../../content/index.ts';

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
