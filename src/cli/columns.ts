import stringWidth from 'string-width';

/** Text cut or filled to exactly `width` columns of a terminal; a cut shows as `…`. */
export function fit(text: string, width: number): string {
  const whole = stringWidth(text);
  if (whole <= width) return text + ' '.repeat(width - whole);
  let cut = '';
  let used = 0;
  for (const { segment } of new Intl.Segmenter().segment(text)) {
    const next = stringWidth(segment);
    if (used + next > width - 1) break;
    cut += segment;
    used += next;
  }
  return `${cut}…${' '.repeat(Math.max(0, width - used - 1))}`;
}

/** As `fit`, but filled at the start: for numbers. */
export const fitEnd = (text: string, width: number): string =>
  ' '.repeat(Math.max(0, width - stringWidth(text))) + text;

/** The widest of the texts, within bounds. */
export const widest = (texts: readonly string[], least: number, most: number): number =>
  Math.min(
    most,
    texts.reduce((width, text) => Math.max(width, stringWidth(text)), least),
  );
