import type { Message } from '../content/index.ts';
import { applyChange, type Change } from './change.ts';
import type { ChangedFile } from './file-change.ts';
import { releaseForgotten } from './release.ts';
import { erase } from './secret.ts';
import { readSettings } from './settings.ts';
import type { WritableRows } from './storage.ts';

export interface Deed {
  readonly name: Message;
  readonly changes: readonly Change[];
  readonly at: Date;
  /** How to take back what it does to files. */
  readonly files?: readonly ChangedFile[];
  /** What goes stays in another form, so that it can be brought back even when it is secret. */
  readonly reshapes?: boolean;
}

/**
 * Applies changes as one action and remembers how to take it back; nothing to change is no action. One that cannot be taken
 * back is remembered by its name alone, so that undo says so rather than take back the one before it.
 */
export async function commit(
  rows: WritableRows,
  { name, changes, at, files = [], reshapes = false }: Deed,
): Promise<void> {
  if (changes.length === 0 && files.length === 0) return;
  for (const { change, between } of files) await rows.putMedia(change.between, between);
  const { undoDepth } = await readSettings(rows);
  const { last, forgotten } = await rows.trimActions(undoDepth - 1);
  const inverses = await applyChanges(rows, changes, reshapes);
  await rows.putAction({
    number: last + 1,
    name,
    at: at.toISOString(),
    state: 'done',
    changes: inverses,
    ...(files.length > 0 && { files: files.map(({ change }) => change) }),
    ...(reshapes && { reshapes }),
  });
  await releaseForgotten(rows, forgotten);
}

/**
 * Applies changes in turn and gives those that take them back, last first. What was secret goes for good, unless it is still
 * there in another form.
 */
export async function applyChanges(
  rows: WritableRows,
  changes: readonly Change[],
  reshapes = false,
): Promise<Change[]> {
  const inverses: Change[] = [];
  for (const change of changes)
    if (reshapes || !(await eraseWith(rows, change))) inverses.push(await applyChange(rows, change));
  return inverses.reverse();
}

/** Erases what is secret and goes by this change, or gives way to what is not; `false` when nothing does. */
async function eraseWith(rows: WritableRows, change: Change): Promise<boolean> {
  if (change.type !== 'remove' && change.type !== 'rewrite') return false;
  const next = change.type === 'rewrite' ? change.snippet : undefined;
  const snippet = await rows.get(change.type === 'remove' ? change.id : change.snippet.id);
  if (!snippet.secret || next?.secret) return false;
  await erase(rows, snippet, next);
  return true;
}
