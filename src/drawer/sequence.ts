import type { SnippetHead } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** Where the sequence stands: what comes next, if anything does, and how many that are with it. */
export interface SequencePoint {
  /** The number of the next snippet, from 1; one more than there are at the end. */
  readonly position: number;
  readonly next?: SnippetHead;
  readonly left: number;
  readonly count: number;
}

/** The first snippet behind an order key; found by halving, since snippets are in order. */
export async function pointAfter(rows: StoredRows, after: string): Promise<SequencePoint> {
  const count = await rows.count();
  let [low, high] = [0, count];
  while (low < high) {
    const middle = (low + high) >> 1;
    const [head] = await rows.heads(middle, 1);
    if (head && head.order <= after) low = middle + 1;
    else high = middle;
  }
  const [next] = await rows.heads(low, 1);
  return { position: low + 1, left: count - low, count, ...(next && { next }) };
}
