/**
 * What a spreadsheet takes for a formula when it opens separated values: words that begin with one of these signs, in ASCII or
 * in full width, or with white space that some programs drop in front of them (OWASP, CSV Injection).
 */
const formulaSigns = ['=', '+', '-', '@', '\t', '\r', '\n', '＝', '＋', '－', '＠'] as const;

/** What separates values in one program or another, whatever does in this file. */
const separators = [',', ';', '\t', '|'] as const;

const oneOf = (signs: readonly string[]): string =>
  `[${signs.map((sign) => `\\u{${sign.codePointAt(0)?.toString(16)}}`).join('')}]`;
const begins = new RegExp(`^\\s*${oneOf(formulaSigns)}`, 'u');
const beginsBehindSeparator = new RegExp(`${oneOf(separators)}\\s*["']?${oneOf(formulaSigns)}`, 'u');

/** Whether a spreadsheet would take words for a formula; a number with its sign is none. */
export const looksLikeFormula = (words: string): boolean =>
  begins.test(words) && !/^\s*[+-]?[\d.,\s]*\d(?:[eE][+-]?\d+)?\s*%?$/.test(words);

/** Whether a program that separates values by another sign would find a formula in the middle of words that have no quotes. */
export const hidesFormula = (words: string): boolean => beginsBehindSeparator.test(words);

/** The values that stand for an error in a cell (ISO/IEC 29500-1, 18.17.3). */
const errorValues: readonly string[] = [
  '#DIV/0!',
  '#GETTING_DATA',
  '#N/A',
  '#NAME?',
  '#NULL!',
  '#NUM!',
  '#REF!',
  '#VALUE!',
];

/** Whether words are the name of an error, and not something else that a file passes off as one. */
export const isErrorValue = (words: string): boolean => errorValues.includes(words);
