import { generateKeyBetween } from 'fractional-indexing';
import { DrawerError } from '../content/index.ts';
import { type Action, type Change, type FileChange, idOf } from './change.ts';
import { applyChanges } from './commit.ts';
import { collectMedia, hashesOf } from './erase.ts';
import { checkOwn, type FileSystem, whileClaimed } from './file-change.ts';
import type { WritableRows } from './storage.ts';

export interface UndoOptions {
  /** Only files are put back; the snippets stay as they are. */
  readonly onlyFiles?: boolean;
  /** With it, an action whose files have changed since is told and passed over, and the one before it is taken back. */
  readonly onSkipped?: (action: Action) => void;
}

/** How the last action ended. */
export interface UndoResult {
  readonly action: Action;
  /** It cannot be taken back, and is forgotten, so that the one before it is the last now. */
  readonly isFinal: boolean;
}

type Write = <T>(work: (rows: WritableRows) => Promise<T>) => Promise<T>;

/** As `undoOrRedo`, while nothing else changes the files of the action: they are claimed before the drawer is written to. */
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

/** The files of the actions that may be taken back. */
async function pathsOf(
  rows: WritableRows,
  which: 'last done' | 'first undone',
  { onSkipped }: UndoOptions,
): Promise<readonly string[]> {
  const actions = onSkipped ? await rows.actions() : [await rows.findAction(which)];
  return actions.flatMap((action) => action?.files?.map(({ path }) => path) ?? []);
}

/**
 * Takes the last action back, or brings the last one taken back again. Files come first, since erasing a secret takes away what
 * they need too: when one cannot be put back, or what is to change is not there, nothing is done.
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
    return { action, isFinal: true };
  }
  await checkFiles(action, tool);
  if (!onlyFiles) await checkThere(rows, action);
  const files = action.files ? await changeFiles(rows, action.files, tool) : [];
  if (!onlyFiles) await turnElsewhere(action, tool);
  const changes = onlyFiles ? [] : await applyTurned(rows, action);
  const { files: _, ...rest } = action;
  // What was erased does not come again, so nothing of it is cut from a file again either.
  const isLost = files.length > 0 && !onlyFiles && changes.length < action.changes.length;
  if (isLost || (changes.length === 0 && files.length === 0)) {
    await rows.forgetAction(action.number);
    await collectMedia(rows, [...hashesOf(action), ...hashesOf({ changes, files })]);
  } else
    await rows.putAction({
      ...rest,
      changes,
      state: action.state === 'done' ? 'undone' : 'done',
      ...(files.length > 0 && { files }),
    });
  return { action, isFinal: false };
}

/** The newest action whose files are as it left them. */
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

/** Whether what changes is there: where an action was passed over, it may not be. @throws DrawerError `not-found` */
async function checkThere(rows: WritableRows, { changes }: Action): Promise<void> {
  const coming = new Set(changes.flatMap((change) => (change.type === 'insert' ? [change.snippet.id] : [])));
  for (const change of changes) {
    const id = change.type === 'insert' ? undefined : idOf(change);
    if (id !== undefined && !coming.has(id)) await rows.get(id);
  }
}

/** Does in other drawers what is done here. */
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

/** Applies an action's changes; gives those that take them back, last first. */
async function applyTurned(rows: WritableRows, { changes, reshapes }: Action): Promise<Change[]> {
  const leaving = new Set(changes.filter(({ type }) => type === 'remove' || type === 'reorder').map(idOf));
  const inverses: Change[] = [];
  for (const change of changes)
    inverses.push(...(await applyChanges(rows, [await onFreeKey(rows, change, leaving)], reshapes)));
  return inverses.reverse();
}

/**
 * The change with another order key where one that does not leave has taken its own: what is left of a forgotten secret may
 * stand where something comes back to.
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

/** Changes files, and gives the way back. What does that is loaded only where there are files. */
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
