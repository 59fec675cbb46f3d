/** Widths that fit the page: the source's own, made smaller together when they are too wide, or equal ones. */
export function fitWidths(own: readonly number[] | undefined, columns: number, available: number): number[] {
  if (own?.length !== columns) return Array.from({ length: columns }, () => available / columns);
  const whole = own.reduce((sum, width) => sum + width, 0);
  return own.map((width) => (whole > available ? (width * available) / whole : width));
}
