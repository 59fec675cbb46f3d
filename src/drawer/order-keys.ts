import { sha256 } from '@noble/hashes/sha2.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';
import { generateKeyBetween } from 'fractional-indexing';
import type { SortKey } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** The digits of an order key, ascending. */
const digits = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';

/** Four letters made from an id; behind an order key, they make another. They never end with `0`, which no order key may. */
export function lettersOf(id: string): string {
  const [first = 0, second = 0, third = 0, last = 0] = sha256(utf8ToBytes(id));
  return `${[first, second, third].map((byte) => digits[byte % 62]).join('')}${digits[1 + (last % 61)]}`;
}

/**
 * A new order key for a snippet, between two others; `null` is the start or the end of the drawer. It ends with four letters
 * made from the snippet's id, so that two devices that put different snippets into one gap do not make the same key.
 * @param left - lower than `right`
 */
export function keyBetween(left: string | null, right: string | null, id: string): string {
  let key = generateKeyBetween(left, right);
  // Letters behind a beginning of `right` could lead past it.
  while (right?.startsWith(key)) key = generateKeyBetween(left, key);
  return key + lettersOf(id);
}

/** New order keys for several snippets, ascending, as short as they can be. */
export function keysBetween(left: string | null, right: string | null, ids: readonly string[]): readonly string[] {
  if (right === null) {
    let last = left;
    return ids.map((id) => {
      last = keyBetween(last, null, id);
      return last;
    });
  }
  const half = ids.length >> 1;
  const middle = ids[half];
  if (middle === undefined) return [];
  const key = keyBetween(left, right, middle);
  return [...keysBetween(left, key, ids.slice(0, half)), key, ...keysBetween(key, right, ids.slice(half + 1))];
}

/** The next higher order key in a drawer; `null` behind the last. */
export async function nextKey(rows: StoredRows, { order }: Pick<SortKey, 'order'>): Promise<string | null> {
  for (let at = await rows.countBefore({ order, id: '' }); ; at++) {
    const [summary] = await rows.summaries(at, 1);
    if (summary?.order !== order) return summary?.order ?? null;
  }
}
