import type { Change } from './change.ts';
import { commit } from './commit.ts';
import type { SnippetSummary } from './snippet.ts';
import type { StoredRows, WritableRows } from './storage.ts';

/** Whether it goes when its time is up: what is held stays all the same, unless it is secret. */
export const expires = ({ held, secret }: SnippetSummary): boolean => !held || secret !== undefined;

/** Those whose time is up; what is held stays all the same, unless it is secret. */
export const expiredIn = async (rows: StoredRows, now: Date): Promise<readonly SnippetSummary[]> =>
  (await rows.expired(now.toISOString())).filter(expires);

/** Lets them go, secret ones without a trace. What undo brings back stays then. */
export async function removeExpired(rows: WritableRows, now: Date): Promise<void> {
  const going = await expiredIn(rows, now);
  if (going.length === 0) return;
  for (const { expiresAt: _, ...summary } of going) await rows.setSummary(summary);
  const open = going.filter(({ secret }) => !secret).length;
  await commit(rows, {
    name: { kind: 'expired', params: { count: open } },
    changes: going.map(({ id }): Change => ({ type: 'remove', id })),
    at: now,
  });
}
