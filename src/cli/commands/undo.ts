import { homedir } from 'node:os';
import { sep } from 'node:path';
import type { Action } from '../../drawer/index.ts';
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
    const name = await drawer.undo({
      onlyFiles,
      ...(options.skip && { onSkipped: (passed: Action) => skipped.push(passed) }),
    });
    for (const passed of skipped)
      context.remark(
        `Skipped: ${context.words.action(passed.name)} (${filesOf(passed).join(', ')} changed since). It can still be undone later.`,
      );
    if (options.json)
      return context.print(
        JSON.stringify({ undone: name ? context.words.action(name) : null, files: filesOf(action) }),
      );
    if (name === undefined) return context.print('There is nothing to undo.');
    context.print(
      `Undone: ${context.words.action(name)}.${onlyFiles ? ' The snippet stays in the drawer.' : ''}${filesInWords(action)}`,
    );
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
  if (actions.length === 0) return print('There is nothing to undo.');
  const inWords = ({ name, at, changes, files = [] }: Action): string => {
    const isFinal = changes.length === 0 && files.length === 0;
    const told = files.length > 0 ? ` (${files.map(({ path }) => named(path)).join(', ')})` : '';
    return `  ${words.action(name)}, ${words.age(at, now)}${told}${isFinal ? ' (cannot be undone)' : ''}`;
  };
  const [done, undone] = [
    actions.filter(({ state }) => state === 'done'),
    actions.filter(({ state }) => state === 'undone'),
  ];
  if (done.length > 0) print(['drawer undo takes back, the first one first:', ...done.map(inWords)].join('\n'));
  if (undone.length > 0) print(['drawer redo brings again:', ...undone.map(inWords)].join('\n'));
}

/** `drawer redo`: brings the last action that was undone again. */
export async function redo({ json }: UndoOptions, context: Context): Promise<void> {
  const name = await withDrawer(context, (drawer) => drawer.redo());
  if (json) return context.print(JSON.stringify({ redone: name ? context.words.action(name) : null }));
  context.print(name === undefined ? 'There is nothing to bring again.' : `Done again: ${context.words.action(name)}.`);
}

async function staysToo({ keep, yes }: UndoOptions, { ask }: Context): Promise<boolean> {
  if (keep !== undefined) return keep;
  return yes || !ask ? false : ask('It goes back into its file. Keep it in the drawer too?');
}

const filesOf = (action: Action | undefined): string[] => (action?.files ?? []).map(({ path }) => path);

/** A file's whole name; the person's own folder is `~` in it. */
function named(path: string): string {
  const home = homedir() + sep;
  return sep === '/' && path.startsWith(home) ? `~/${path.slice(home.length)}` : path;
}

/** The state of each file after undo, by its whole name, since a stranger's drawer may name any file. */
const filesInWords = (action: Action | undefined): string =>
  (action?.files ?? [])
    .map(({ path, to }) => `\n  ${named(path)} is ${to === '' ? 'gone again' : 'as before'}.`)
    .join('');
