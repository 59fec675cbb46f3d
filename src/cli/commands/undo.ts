import { homedir } from 'node:os';
import { sep } from 'node:path';
import type { Action, DrawerChange } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';

export interface UndoOptions {
  readonly keep?: boolean;
  readonly yes?: boolean;
  readonly json?: boolean;
  /** What could be undone and done again, instead of doing it. */
  readonly list?: boolean;
  /** Passes over what cannot be taken back since its files have changed. */
  readonly skip?: boolean;
}

/** `drawer undo`: takes the last action back. What was cut goes back into its file; whether it stays here too is asked. */
export async function undo(options: UndoOptions, context: Context): Promise<void> {
  await withDrawer(context, async (drawer) => {
    if (options.list) return listActions(await drawer.history(), options, context);
    const action = options.skip ? undefined : await drawer.lastAction();
    const isCut = action?.files !== undefined && action.changes.some(({ type }) => type === 'remove');
    const onlyFiles = isCut && (await staysToo(options, context));
    const skipped: Action[] = [];
    const change = await drawer.undo({
      onlyFiles,
      ...(options.skip && { onSkipped: (passed: Action) => skipped.push(passed) }),
    });
    const name = change?.action.name;
    for (const passed of skipped)
      context.remark(
        context.words.tell('undoSkipped', {
          action: context.words.action(passed.name),
          files: filesOf(passed).join(', '),
        }),
      );
    if (options.json)
      return context.print(
        JSON.stringify({ undone: name ? context.words.action(name) : null, files: filesOf(action) }),
      );
    if (change === undefined || name === undefined) return context.print(context.words.tell('undoNothing'));
    context.print(
      context.words.tell('undoDone', { action: context.words.action(name) }) +
        (onlyFiles ? context.words.tell('undoStays') : '') +
        filesInWords(action, context.words),
    );
    remarkGone(change, context);
  });
}

function listActions(actions: readonly Action[], { json }: UndoOptions, { print, now, words }: Context): void {
  if (json)
    return print(
      JSON.stringify(
        actions.map(({ changes: _, files, name, ...action }) => ({
          ...action,
          name: words.action(name),
          files: files?.map(({ path }) => path) ?? [],
        })),
        null,
        2,
      ),
    );
  if (actions.length === 0) return print(words.tell('undoNothing'));
  const inWords = ({ name, at, changes, files = [] }: Action): string => {
    const isFinal = changes.length === 0 && files.length === 0;
    const told = files.length > 0 ? ` (${files.map(({ path }) => named(path)).join(', ')})` : '';
    return `  ${words.action(name)}, ${words.age(at, now)}${told}${isFinal ? words.tell('undoFinal') : ''}`;
  };
  const [done, undone] = [
    actions.filter(({ state }) => state === 'done'),
    actions.filter(({ state }) => state === 'undone'),
  ];
  if (done.length > 0) print([words.tell('undoList'), ...done.map(inWords)].join('\n'));
  if (undone.length > 0) print([words.tell('redoList'), ...undone.map(inWords)].join('\n'));
}

/** `drawer redo`: brings the last action that was undone again. */
export async function redo({ json }: UndoOptions, context: Context): Promise<void> {
  const change = await withDrawer(context, (drawer) => drawer.redo());
  const name = change?.action.name;
  if (json) return context.print(JSON.stringify({ redone: name ? context.words.action(name) : null }));
  context.print(
    name === undefined
      ? context.words.tell('redoNothing')
      : context.words.tell('redoDone', { action: context.words.action(name) }),
  );
  if (change) remarkGone(change, context);
}

function remarkGone({ gone = [] }: DrawerChange, { remark, words }: Context): void {
  if (gone.length > 0) remark(words.say('undoGone', { count: gone.length }));
}

async function staysToo({ keep, yes }: UndoOptions, { ask, words }: Context): Promise<boolean> {
  if (keep !== undefined) return keep;
  return yes || !ask ? false : ask(words.tell('askCut'));
}

const filesOf = (action: Action | undefined): string[] => (action?.files ?? []).map(({ path }) => path);

/** A file's whole name; the person's own folder is `~` in it. */
function named(path: string): string {
  const home = homedir() + sep;
  return sep === '/' && path.startsWith(home) ? `~/${path.slice(home.length)}` : path;
}

/** The state of each file after undo, by its whole name, since a stranger's drawer may name any file. */
const filesInWords = (action: Action | undefined, words: Context['words']): string =>
  (action?.files ?? [])
    .map(({ path, to }) => `\n  ${words.tell(to === '' ? 'undoFileGone' : 'undoFileBack', { file: named(path) })}`)
    .join('');
