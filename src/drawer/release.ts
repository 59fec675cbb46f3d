import { type Action, picturesOf } from './change.ts';
import type { StoredRows, WritableRows } from './storage.ts';

/** In a larger drawer, looking through everything for pictures takes longer than their bytes are worth. */
const mostLookedThrough = 20_000;

/** Lets bytes go that only actions needed which are forgotten: of files that undo puts back, and of pictures. */
export async function releaseForgotten(rows: WritableRows, forgotten: readonly Action[]): Promise<void> {
  if (forgotten.length === 0) return;
  const looksForAll = (await rows.count()) <= mostLookedThrough;
  await release(rows, forgotten.flatMap(looksForAll ? hashesOf : betweenOf));
}

/** Lets those of the bytes go that no snippet shows, and no action needs. */
export async function release(rows: WritableRows, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return;
  const needed = await neededBytes(rows);
  for (const hash of new Set(hashes))
    if (!needed.has(hash) && !(await rows.showsMedia(hash))) await rows.removeMedia(hash);
}

const neededBytes = async (rows: StoredRows): Promise<ReadonlySet<string>> =>
  new Set((await rows.actions()).flatMap(hashesOf));

const betweenOf = ({ files = [] }: Pick<Action, 'files'>): readonly string[] => files.map(({ between }) => between);

/** What an action needs: bytes between what stays of files, and pictures of what it brings. */
export const hashesOf = (action: Pick<Action, 'changes' | 'files'>): readonly string[] => [
  ...betweenOf(action),
  ...action.changes.flatMap((change) => ('snippet' in change ? [...picturesOf(change.snippet.content)] : [])),
];
