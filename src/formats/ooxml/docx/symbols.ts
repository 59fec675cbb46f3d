import { codePoint } from 'dingbat-to-unicode';

/** Fonts whose characters are pictures at the places of letters, or in the private use area from U+F000 on. */
const symbolFonts = new Set(['Symbol', 'Webdings', 'Wingdings', 'Wingdings 2', 'Wingdings 3']);

export const isSymbolFont = (font: string | undefined): boolean => font !== undefined && symbolFonts.has(font);

/** A character's code as hexadecimal; `undefined` when it is none, or one that is not shown. */
export function codeOf(hex: string | undefined): number | undefined {
  const code = Number.parseInt(hex ?? '', 16);
  return code > 0x1f && code <= 0x10ffff ? code : undefined;
}

/** A symbol (ISO/IEC 29500-1, 17.3.3.30) in Unicode: its font's sign where that is known, else the character itself. */
export function symbolText(font: string | undefined, hex: string | undefined): string {
  const code = codeOf(hex);
  if (code === undefined) return '';
  return signOf(font ?? '', code) ?? String.fromCodePoint(code >= 0xf020 && code <= 0xf0ff ? code - 0xf000 : code);
}

/** Words set in a symbol font, in Unicode. */
export const symbolWords = (font: string, words: string): string =>
  [...words].map((sign) => signOf(font, sign.codePointAt(0) ?? 0) ?? sign).join('');

const signOf = (font: string, code: number): string | undefined =>
  codePoint(font, code >= 0xf000 && code <= 0xf0ff ? code - 0xf000 : code)?.string;
