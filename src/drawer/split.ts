import { generateNKeysBetween } from 'fractional-indexing';
import type { Content } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { type AsRead, checkAsRead, withContent } from './edit.ts';
import type { KeepOptions } from './keep.ts';
import type { Snippet } from './snippet.ts';
import type { WritableRows } from './storage.ts';

/** Puts several snippets in the place of one, each with its origin, time and marks; gives the numbers of the first and last. */
export async function splitIn(
  rows: WritableRows,
  id: string,
  contents: readonly Content[],
  { newId, now, factsOf, was }: KeepOptions & AsRead,
): Promise<{ readonly from: number; readonly to: number }> {
  const whole = await rows.get(id);
  checkAsRead(whole, was);
  const { label: _, parts, ...snippet } = whole;
  const before = await rows.countBefore(snippet.order);
  const [next] = await rows.heads(before + 1, 1);
  const keys = generateNKeysBetween(snippet.order, next?.order ?? null, contents.length);
  // What falls apart into as many as it was built up of is taken for these.
  const from = (index: number): Partial<Snippet> => {
    const part = parts?.length === contents.length ? parts[index] : undefined;
    return part ? { origin: part.origin, takenAt: part.takenAt } : { ...(parts && { parts }) };
  };
  const pieces = contents.map((content, index) =>
    withContent({ ...snippet, ...from(index), id: newId(), order: keys[index] as string }, content, factsOf),
  );
  await commit(rows, {
    name: { kind: 'split', params: { count: contents.length } },
    changes: [...pieces.map((piece): Change => ({ type: 'insert', snippet: piece })), { type: 'remove', id }],
    at: now,
    reshapes: true,
  });
  return { from: before + 1, to: before + contents.length };
}
