import { byName } from '../by-name.ts';

/** Points in the units of ISO/IEC 26300-1, section 18.3.18. */
const pointsPer: Readonly<Record<string, number>> = byName({
  pt: 1,
  in: 72,
  inch: 72,
  cm: 72 / 2.54,
  mm: 7.2 / 2.54,
  pc: 12,
  px: 0.75,
});

/** A length in points; relative ones (`%`) say nothing by themselves. */
export function points(length: string | undefined): number | undefined {
  const [, number = '', unit = ''] = /^(-?\d*\.?\d+)\s*([a-z]+)$/.exec(length?.trim() ?? '') ?? [];
  const factor = pointsPer[unit];
  return factor === undefined ? undefined : Math.round(Number(number) * factor * 100) / 100;
}

/** The same, for what has to be of some size. */
export function size(length: string | undefined): number | undefined {
  const value = points(length);
  return value !== undefined && value >= 0.01 && value <= 1e6 ? value : undefined;
}
