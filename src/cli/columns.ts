import truncatedWidth from 'fast-string-truncated-width';
import { visible } from './context.ts';

/** Latin letters, digits and the usual signs, one column each: most text, which need not be looked at closely. */
const narrow = /^[ -~\u00a1-\u00ac\u00ae-\u02ff\u2010-\u2027\u2030-\u205e]*$/;

/** How many columns of a terminal a text takes. */
export const columnsOf = (text: string): number => (narrow.test(text) ? text.length : truncatedWidth(text).width);

/** Text cut or filled to exactly `width` columns of a terminal; a cut shows as `…`. */
export function fit(text: string, width: number): string {
  if (narrow.test(text)) return text.length <= width ? text.padEnd(width) : `${text.slice(0, width - 1)}…`;
  const plain = visible(text, true);
  const { index, truncated } = truncatedWidth(plain, { limit: width, ellipsis: '…', ellipsisWidth: 1 });
  const shown = truncated ? `${plain.slice(0, index)}…` : plain;
  return shown + ' '.repeat(Math.max(0, width - columnsOf(shown)));
}

/** As `fit`, but filled at the start: for numbers. */
export const fitEnd = (text: string, width: number): string =>
  ' '.repeat(Math.max(0, width - columnsOf(text))) + fit(text, Math.min(width, columnsOf(text)));

/** The widest of the texts, within bounds. */
export const widest = (texts: readonly string[], least: number, most: number): number =>
  Math.min(
    most,
    texts.reduce((width, text) => Math.max(width, columnsOf(text)), least),
  );
