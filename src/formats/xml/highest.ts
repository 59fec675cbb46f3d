/** The highest number that a pattern's first group finds in a source; 0 where it finds none. The pattern is global. */
export const highest = (source: string, pattern: RegExp): number =>
  [...source.matchAll(pattern)].reduce((most, [, number]) => Math.max(most, Number(number)), 0);
