import { DrawerError } from '../../content/index.ts';
import type { Context } from '../context.ts';
import { clipboardPlace, type GatherOptions, gather, report } from '../gather.ts';
import { making, withDrawer } from '../with-drawer.ts';

export interface CopyOptions extends GatherOptions {
  readonly follow?: boolean;
}

/** `drawer copy PLACE…`: all of the places are kept, in one transaction, or none. */
export async function copy(words: readonly string[], options: CopyOptions, context: Context): Promise<void> {
  if (options.follow) {
    if (words.length !== 1 || words[0] !== clipboardPlace) throw new DrawerError('usage/command-follow-elsewhere');
    return (await import('../clipboard-place.ts')).followClipboard(options, context);
  }
  const { gathered, taken } = await gather(words, options, context);
  const results = await withDrawer(context, (drawer) => drawer.keep(gathered), making);
  await report(
    results,
    taken.flatMap(({ notes }) => notes),
    options,
    context,
  );
}
