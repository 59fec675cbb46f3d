import { generateKeyBetween } from 'fractional-indexing';
import { DrawerError } from '../content/index.ts';
import { type Action, type Change, type FileChange, idOf } from './change.ts';
import { changeOf, type DrawerChange } from './change-events.ts';
import { applyChanges } from './commit.ts';
import { collectMedia, hashesOf } from './erase.ts';
import { checkOwn, type FileSystem, whileClaimed } from './file-change.ts';
import type { WritableRows } from './storage.ts';

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
  /** The action cannot be undone; it is forgotten, and the one before it is now the last. */
  readonly isFinal: boolean;
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
 * they need. If a file cannot be restored, or a snippet is missing, nothing is done.
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
    return { change: changeOf(action), isFinal: true };
  }
  await checkFiles(action, tool);
  if (!onlyFiles) await checkThere(rows, action);
  const files = action.files ? await changeFiles(rows, action.files, tool) : [];
  if (!onlyFiles) await turnElsewhere(action, tool);
  const changes = onlyFiles ? [] : await applyTurned(rows, action);
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
  return { change: { ...happened, action: { ...happened.action, state } }, isFinal: false };
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

/** Checks that the snippets to change exist: after a skipped action they may not. @throws DrawerError `not-found` */
async function checkThere(rows: WritableRows, { changes }: Action): Promise<void> {
  const coming = new Set(changes.flatMap((change) => (change.type === 'insert' ? [change.snippet.id] : [])));
  for (const change of changes) {
    const id = change.type === 'insert' ? undefined : idOf(change);
    if (id !== undefined && !coming.has(id)) await rows.get(id);
  }
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

/** Applies an action's changes; returns their inverses, last first. */
async function applyTurned(rows: WritableRows, { changes, reshapes }: Action): Promise<Change[]> {
  const leaving = new Set(changes.filter(({ type }) => type === 'remove' || type === 'reorder').map(idOf));
  const inverses: Change[] = [];
  for (const change of changes)
    inverses.push(...(await applyChanges(rows, [await onFreeKey(rows, change, leaving)], reshapes)));
  return inverses.reverse();
}

/**
 * The change, with a new order key if a remaining snippet has taken its own: a remnant of a forgotten secret may occupy the
 * place of a returning snippet.
 */
async function onFreeKey(
  rows: WritableRows,
  change: Change,
  leaving: ReadonlySet<string | undefined>,
): Promise<Change> {
  const wanted = change.type === 'reorder' ? change.order : 'snippet' in change ? change.snippet.order : undefined;
  if (wanted === undefined) return change;
  const [there, next] = await rows.summaries(await rows.countBefore(wanted), 2);
  if (there?.order !== wanted || there.id === idOf(change) || leaving.has(there.id)) return change;
  const order = generateKeyBetween(wanted, next?.order ?? null);
  if ('snippet' in change) return { ...change, snippet: { ...change.snippet, order } };
  return change.type === 'reorder' ? { ...change, order } : change;
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
