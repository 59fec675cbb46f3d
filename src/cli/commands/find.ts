import { DrawerError } from '../../content/index.ts';
import type { Context } from '../context.ts';
import { listing } from '../listing.ts';
import { withDrawer } from '../with-drawer.ts';

const most = 50;

/** `drawer find WORDS…`: the snippets in which all of the words are found, the best first. */
export const find = (words: readonly string[], { json }: { json?: boolean }, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const found = await drawer.find(words, { limit: most + 1 });
    const listed = found.slice(0, most);
    if (json)
      return context.print(
        JSON.stringify({ found: listed.map(({ position, summary }) => ({ position, ...summary })) }, null, 2),
      );
    if (listed.length === 0) throw new DrawerError('not-found/nothing-found', { count: await drawer.count() });
    context.print(listing(listed, context));
    if (found.length > most) context.remark(context.words.tell('findMore', { count: most }));
  });
