import { relative } from 'node:path';
import type { Action } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';

export interface UndoOptions {
  readonly keep?: boolean;
  readonly yes?: boolean;
  readonly json?: boolean;
}

/** `drawer undo`: takes the last action back. What was cut goes back into its file; whether it stays here too is asked. */
export async function undo(options: UndoOptions, context: Context): Promise<void> {
  await withDrawer(context, async (drawer) => {
    const action = await drawer.lastAction();
    const isCut = action?.files !== undefined && action.changes.some(({ type }) => type === 'remove');
    const onlyFiles = isCut && (await staysToo(options, context));
    const name = await drawer.undo({ onlyFiles });
    if (options.json) return context.print(JSON.stringify({ undone: name ?? null, files: filesOf(action) }));
    if (name === undefined) return context.print('There is nothing to undo.');
    context.print(`Undone: ${name}.${filesInWords(action)}${onlyFiles ? ' The snippet stays in the drawer.' : ''}`);
  });
}

/** `drawer redo`: brings the last action that was undone again. */
export async function redo({ json }: UndoOptions, context: Context): Promise<void> {
  const name = await withDrawer(context, (drawer) => drawer.redo());
  if (json) return context.print(JSON.stringify({ redone: name ?? null }));
  context.print(name === undefined ? 'There is nothing to bring again.' : `Done again: ${name}.`);
}

async function staysToo({ keep, yes }: UndoOptions, { ask }: Context): Promise<boolean> {
  if (keep !== undefined) return keep;
  return yes || !ask ? false : ask('It goes back into its file. Keep it in the drawer too?');
}

const filesOf = (action: Action | undefined): string[] => (action?.files ?? []).map(({ path }) => nearby(path));

/** As somebody in this folder would name the file. */
function nearby(path: string): string {
  const here = relative(process.cwd(), path);
  return here.startsWith('..') ? path : here;
}

/** A file that the action made is gone again. */
function filesInWords(action: Action | undefined): string {
  const changes = action?.files ?? [];
  const made = changes.filter(({ to }) => to === '').map(({ path }) => nearby(path));
  const changed = changes.filter(({ to }) => to !== '').map(({ path }) => nearby(path));
  const said = (files: readonly string[], words: string): string =>
    files.length === 0 ? '' : ` ${files.join(', ')} ${files.length === 1 ? 'is' : 'are'} ${words}.`;
  return said(changed, 'as before') + said(made, 'gone again');
}
