import type { Content } from './model.ts';
import { plainText } from './plain-text.ts';

/** Lines shown of each side of a change, at most. */
const mostLines = 6;

/** The lines of text that only one of two contents has: old ones with `−` first, then new ones with `+`. */
export function changedLines(was: Content, content: Content): string[] {
  const linesOf = (of: Content): string[] =>
    plainText(of)
      .replaceAll('\t', ' · ')
      .split('\n')
      .filter((line) => line !== '');
  const [before, now] = [linesOf(was), linesOf(content)];
  const only = (sign: string, lines: readonly string[], others: readonly string[]): string[] => {
    const own = lines.filter((line) => !others.includes(line));
    return [
      ...own.slice(0, mostLines).map((line) => `${sign} ${line}`),
      ...(own.length > mostLines ? [`${sign} …`] : []),
    ];
  };
  return [...only('−', before, now), ...only('+', now, before)];
}
