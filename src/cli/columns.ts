import truncatedWidth from 'fast-string-truncated-width';

/** How many columns of a terminal a text takes. */
export const columnsOf = (text: string): number => truncatedWidth(text).width;

/** Text cut or filled to exactly `width` columns of a terminal; a cut shows as `…`. */
export function fit(text: string, width: number): string {
  const { index, truncated } = truncatedWidth(text, { limit: width, ellipsis: '…', ellipsisWidth: 1 });
  const shown = truncated ? `${text.slice(0, index)}…` : text;
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
