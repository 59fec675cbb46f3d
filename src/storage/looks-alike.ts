import type { Facts } from '../drawer/index.ts';

/** Whether two look the same in a list. */
export const looksAlike = (one: Facts, other: Facts): boolean =>
  one.preview === other.preview &&
  one.shape === other.shape &&
  one.characters === other.characters &&
  one.bytes === other.bytes;
