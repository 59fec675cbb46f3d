import { DrawerError } from '../content/index.ts';
import { type Action, applyChange, type Change } from './change.ts';
import type { FileChange, FileTool } from './file-change.ts';
import { erase } from './secret.ts';
import { readSettings } from './settings.ts';
import type { WritableRows } from './storage.ts';

export interface Deed {
  readonly name: string;
  readonly changes: readonly Change[];
  readonly at: Date;
  /** How to take back what it does to files. */
  readonly files?: readonly FileChange[];
}

/**
 * Applies changes as one action and remembers how to take it back; nothing to change, or nothing that could be taken back,
 * is no action.
 */
export async function commit(rows: WritableRows, { name, changes, at, files = [] }: Deed): Promise<void> {
  if (changes.length === 0 && files.length === 0) return;
  const { undoDepth } = await readSettings(rows);
  const last = await rows.trimActions(undoDepth - 1);
  const inverses = await applyChanges(rows, changes);
  if (inverses.length === 0 && files.length === 0) return;
  await rows.putAction({
    number: last + 1,
    name,
    at: at.toISOString(),
    state: 'done',
    changes: inverses,
    ...(files.length > 0 && { files }),
  });
}

/** Applies changes in turn and gives those that take them back, last first. What was secret goes for good. */
async function applyChanges(rows: WritableRows, changes: readonly Change[]): Promise<Change[]> {
  const inverses: Change[] = [];
  for (const change of changes) {
    const snippet = change.type === 'remove' ? await rows.get(change.id) : undefined;
    if (snippet?.secret) await erase(rows, snippet);
    else inverses.push(await applyChange(rows, change));
  }
  return inverses.reverse();
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
  if (action.files) files.push(...(await changeFiles(rows, action.files, tool)));
  const changes = onlyFiles ? [] : await applyChanges(rows, action.changes);
  const { files: _, ...rest } = action;
  if (changes.length === 0 && files.length === 0) await rows.forgetAction(action.number);
  else
    await rows.putAction({
      ...rest,
      changes,
      state: action.state === 'done' ? 'undone' : 'done',
      ...(files.length > 0 && { files }),
    });
  return action;
}

/** Changes files, and gives the way back. What does that is loaded only where there are files. */
async function changeFiles(
  rows: WritableRows,
  files: readonly FileChange[],
  tool: FileTool | undefined,
): Promise<readonly FileChange[]> {
  const { applyFileChange, checkFileChange } = await import('./file-change.ts');
  const back: FileChange[] = [];
  for (const file of files) await checkFileChange(file, toolFor(file, tool));
  for (const file of files) {
    const { change, between } = await applyFileChange(file, toolFor(file, tool), (hash) => rows.findMedia(hash));
    await rows.putMedia(change.between, between);
    back.push(change);
  }
  return back;
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
