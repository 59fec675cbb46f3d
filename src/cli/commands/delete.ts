import { DrawerError, plural } from '../../content/index.ts';
import type { Drawer, Listed, Removed } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen, idsOf } from './chosen.ts';

export interface DeleteOptions {
  readonly yes?: boolean;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** `drawer delete REF…`: held snippets stay; what was built up goes only when that is said for certain. */
export const deleteSnippets = (
  references: readonly string[],
  options: DeleteOptions,
  context: Context,
): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const listed = await chosen(drawer, references);
    const removed = await remove(drawer, listed, options, context);
    if (options.json) return context.print(JSON.stringify(removed));
    if (!options.quiet) context.print(inWords(removed));
  });

async function remove(drawer: Drawer, listed: readonly Listed[], { yes }: DeleteOptions, { ask }: Context) {
  const ids = idsOf(listed);
  try {
    return await drawer.remove(ids, { builtUp: yes === true });
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'consent') throw error;
    if (!ask)
      throw new DrawerError({ ...error.details, next: 'Say --yes to delete it all the same; nothing was deleted' });
    if (!(await ask(`${error.details.what}. Delete it all the same?`))) return { removed: 0, held: 0, erased: 0 };
    return drawer.remove(ids, { builtUp: true });
  }
}

function inWords({ removed, held, erased }: Removed): string {
  const others = erased > 0 ? 'the rest' : removed === 1 ? 'it' : 'them';
  return [
    removed === 0 ? 'Nothing was deleted.' : `Deleted ${plural(removed, 'snippet')}.`,
    ...(erased > 0 ? [`${erased} secret, gone for good.`] : []),
    ...(held > 0 ? [`${plural(held, 'held one')} ${held === 1 ? 'stays' : 'stay'} (drawer mark held --release).`] : []),
    ...(removed > erased ? [`drawer undo brings ${others} back.`] : []),
  ].join(' ');
}
