import { DrawerError } from '../content/index.ts';
import { type Action, applyChanges, type Change } from './change.ts';
import { applyFileChange, checkFileChange, type FileChange, type FileTool } from './file-change.ts';
import type { WritableRows } from './storage.ts';

/** How many actions can be undone. */
const undoDepth = 200;

export interface Deed {
  readonly name: string;
  readonly changes: readonly Change[];
  readonly at: Date;
  /** How to take back what it does to files. */
  readonly files?: readonly FileChange[];
}

/** Applies changes as one action and remembers how to take it back; nothing to change is no action. */
export async function commit(rows: WritableRows, { name, changes, at, files = [] }: Deed): Promise<void> {
  if (changes.length === 0 && files.length === 0) return;
  const last = await rows.findAction('last done');
  await rows.trimActions(undoDepth - 1);
  await rows.putAction({
    number: (last?.number ?? 0) + 1,
    name,
    at: at.toISOString(),
    state: 'done',
    changes: await applyChanges(rows, changes),
    ...(files.length > 0 && { files }),
  });
}

export interface TurnOptions {
  /** Only files are put back; the snippets stay as they are. */
  readonly onlyFiles?: boolean;
}

/**
 * Takes the last action back, or brings the last one taken back again. Files come first: when one cannot be put back,
 * nothing is.
 */
export async function turn(
  rows: WritableRows,
  which: 'last done' | 'first undone',
  tool: FileTool | undefined,
  { onlyFiles = false }: TurnOptions = {},
): Promise<Action | undefined> {
  const action = await rows.findAction(which);
  if (!action) return undefined;
  const files: FileChange[] = [];
  for (const file of action.files ?? []) await checkFileChange(file, toolFor(file, tool));
  for (const file of action.files ?? []) {
    const { change, between } = await applyFileChange(file, toolFor(file, tool), (hash) => rows.findMedia(hash));
    await rows.putMedia(change.between, between);
    files.push(change);
  }
  const changes = onlyFiles ? [] : await applyChanges(rows, action.changes);
  const { files: _, ...rest } = action;
  const turned: Action = {
    ...rest,
    changes,
    state: action.state === 'done' ? 'undone' : 'done',
    ...(files.length > 0 && { files }),
  };
  await rows.putAction(turned);
  return action;
}

function toolFor({ path }: FileChange, tool: FileTool | undefined): FileTool {
  if (tool) return tool;
  throw new DrawerError({
    code: 'unsupported',
    what: 'Files cannot be put back from here',
    where: path,
    next: 'Undo it with the drawer command',
  });
}
