/** A whole number with its thousands parted: `100,000`. */
export const grouped = (count: number): string => String(count).replace(/\B(?=(\d{3})+$)/g, ',');

/** `3 paragraphs`, `1 row`: English forms; other languages come with the panel's catalogue. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${grouped(count)} ${count === 1 ? one : many}`;
