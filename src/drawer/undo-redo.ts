import { DrawerError } from '../content/index.ts';
import { type Action, type Change, type FileChange, idOf } from './change.ts';
import { changeOf, type DrawerChange } from './change-events.ts';
import { applyChanges } from './commit.ts';
import { collectMedia, hashesOf } from './erase.ts';
import { checkOwn, type FileSystem, whileClaimed } from './file-change.ts';
import { type OthersChanges, othersNote, type WritableRows } from './storage.ts';

/** Options of `undo`. */
export interface UndoOptions {
  /** Restore files only; the snippets stay unchanged. */
  readonly onlyFiles?: boolean;
  /** Receives each action that is skipped because its files have changed since; without it, such an action is an error. */
  readonly onSkipped?: (action: Action) => void;
}

/** The result of an undo or redo. */
export interface UndoResult {
  readonly change: DrawerChange;
  /**
   * Why nothing was done: a secret was erased, or none of the snippets is as the action needs it. The action is forgotten, and the
   * one before it is now the last.
   */
  readonly refused?: 'action-final' | 'action-snippets-gone';
}

type Write = <T>(work: (rows: WritableRows) => Promise<T>) => Promise<T>;

/** Runs `undoOrRedo` with the action's files claimed before the transaction begins, so that no other program changes them. */
export async function undoOrRedoClaimed(
  write: Write,
  which: 'last done' | 'first undone',
  tool: FileSystem | undefined,
  options: UndoOptions = {},
): Promise<UndoResult | undefined> {
  for (;;) {
    const paths = tool?.claim ? await write((rows) => pathsOf(rows, which, options)) : [];
    const turned = await whileClaimed(tool, paths, () =>
      write(async (rows) => {
        // Another program may have done something else meanwhile.
        const now = tool?.claim ? await pathsOf(rows, which, options) : [];
        return now.every((path) => paths.includes(path))
          ? { done: await undoOrRedo(rows, which, tool, options) }
          : undefined;
      }),
    );
    if (turned) return turned.done;
  }
}

/** The files of the actions that may be undone. */
async function pathsOf(
  rows: WritableRows,
  which: 'last done' | 'first undone',
  { onSkipped }: UndoOptions,
): Promise<readonly string[]> {
  const actions = onSkipped ? await rows.actions() : [await rows.findAction(which)];
  return actions.flatMap((action) => action?.files?.map(({ path }) => path) ?? []);
}

/**
 * Undoes the last action, or redoes the last undone one. Files come first, because erasing a secret also erases the bytes
 * they need. If a file cannot be restored, nothing is done. Snippets that others have changed, removed or put back since are left out.
 */
export async function undoOrRedo(
  rows: WritableRows,
  which: 'last done' | 'first undone',
  tool: FileSystem | undefined,
  { onlyFiles = false, onSkipped }: UndoOptions = {},
): Promise<UndoResult | undefined> {
  const action = onSkipped ? await firstTurnable(rows, tool, onSkipped) : await rows.findAction(which);
  if (!action) return undefined;
  if (action.changes.length === 0 && !action.files) {
    await rows.forgetAction(action.number);
    return { change: changeOf(action), refused: 'action-final' };
  }
  await checkFiles(action, tool);
  const { possible, gone } = onlyFiles ? { possible: [], gone: [] } : await possibleChanges(rows, action);
  if (gone.length > 0 && possible.length === 0 && !action.files) {
    await rows.forgetAction(action.number);
    await collectMedia(rows, hashesOf(action));
    return { change: changeOf({ ...action, changes: [] }), refused: 'action-snippets-gone' };
  }
  const files = action.files ? await changeFiles(rows, action.files, tool) : [];
  if (!onlyFiles) await turnElsewhere(action, tool);
  const changes = await applyChanges(rows, possible, action.reshapes);
  const { files: _, ...rest } = action;
  const state = action.state === 'done' ? 'undone' : 'done';
  // An erased snippet does not return, so it is not cut from its file again either.
  const isLost = files.length > 0 && !onlyFiles && changes.length < action.changes.length;
  if (isLost || (changes.length === 0 && files.length === 0)) {
    await rows.forgetAction(action.number);
    await collectMedia(rows, [...hashesOf(action), ...hashesOf({ changes, files })]);
  } else await rows.putAction({ ...rest, changes, state, ...(files.length > 0 && { files }) });
  // What happened just now is what those changes take back, whether it was an undo or a redo.
  const happened = changeOf({ ...action, changes, state: 'done' });
  return { change: { ...happened, action: { ...happened.action, state }, ...(gone.length > 0 && { gone }) } };
}

/** The newest action whose files are unchanged since. */
async function firstTurnable(
  rows: WritableRows,
  tool: FileSystem | undefined,
  onSkipped: (action: Action) => void,
): Promise<Action | undefined> {
  const done = (await rows.actions()).filter(({ state }) => state === 'done');
  for (const action of done.sort((one, other) => other.number - one.number)) {
    const problem = await checkFiles(action, tool).then(
      () => undefined,
      (error: unknown) => error,
    );
    if (!problem) return action;
    if (!DrawerError.is(problem) || problem.code !== 'write-failed') throw problem;
    onSkipped(action);
  }
  return undefined;
}

/**
 * The changes that can be applied, and the ids of the snippets of all others. A snippet to change may have been removed since, by
 * another device or by an action that was skipped; one to insert may be back. What another device has written since stays.
 */
async function possibleChanges(
  rows: WritableRows,
  { changes, at }: Action,
): Promise<{ readonly possible: readonly Change[]; readonly gone: readonly string[] }> {
  const isThere = new Map<string, boolean>();
  const gone = new Set<string>();
  const possible: Change[] = [];
  for (const change of changes) {
    const id = idOf(change);
    if (id !== undefined) {
      const there = isThere.get(id) ?? (await rows.findSnippet(id)) !== undefined;
      if (there === (change.type === 'insert') || (await isOverOthers(rows, change, id, at))) {
        gone.add(id);
        continue;
      }
      isThere.set(id, change.type !== 'remove');
    }
    possible.push(change);
  }
  return { possible, gone: [...gone] };
}

/** Whether a change of an action takes away what another device has changed since. @param since - ISO 8601 in UTC */
async function isOverOthers(rows: WritableRows, { type }: Change, id: string, since: string): Promise<boolean> {
  const register = type === 'update' ? 'marks' : type === 'rewrite' || type === 'remove' ? 'content' : undefined;
  const note = register && (await rows.findNote(othersNote(id)));
  if (!note) return false;
  const changed = (JSON.parse(note) as OthersChanges)[register];
  return changed !== undefined && changed >= since;
}

/** Undoes or redoes the action's part in other drawers. */
async function turnElsewhere(
  { changes, state }: Action,
  tool: FileSystem | undefined,
  onlyCheck = false,
): Promise<void> {
  for (const change of changes)
    if (change.type === 'elsewhere') {
      const turnDrawer = tool?.turnDrawer;
      if (!tool || !turnDrawer) throw notFromHere(change.drawer);
      await checkOwn(change, tool);
      await turnDrawer(change, state === 'done' ? 'undone' : 'done', onlyCheck);
    }
}

async function checkFiles(action: Action, tool: FileSystem | undefined): Promise<void> {
  const { files = [] } = action;
  await turnElsewhere(action, tool, true);
  if (files.length === 0) return;
  const { checkFileChange } = await import('./file-change.ts');
  for (const file of files) await checkFileChange(file, toolFor(file, tool));
}

/** Applies file changes and returns their inverses. The code is loaded only if there are files. */
async function changeFiles(
  rows: WritableRows,
  files: readonly FileChange[],
  tool: FileSystem | undefined,
): Promise<readonly FileChange[]> {
  const { applyFileChange } = await import('./file-change.ts');
  const back: FileChange[] = [];
  for (const file of files) {
    const { change, between } = await applyFileChange(file, toolFor(file, tool), (hash) => rows.findMedia(hash));
    await rows.putMedia(change.between, between);
    back.push(change);
  }
  return back;
}

function toolFor({ path }: FileChange, tool: FileSystem | undefined): FileSystem {
  if (tool) return tool;
  throw notFromHere(path);
}

const notFromHere = (where: string): DrawerError => new DrawerError('unsupported/undo-not-here', {}, { where });
