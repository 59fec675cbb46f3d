import { plural } from '../../content/index.ts';
import type { Removed } from '../../drawer/index.ts';
import { withConsent } from '../consent.ts';
import type { Context } from '../context.ts';
import { heldInWords } from '../removal-summary.ts';
import { remarkCopies, withDrawer } from '../with-drawer.ts';
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
    const removed = (await withConsent(
      (builtUp) => drawer.remove(idsOf(listed), { builtUp }),
      asking(options),
      context,
    )) ?? {
      removed: 0,
      held: 0,
      erased: 0,
    };
    if (options.json) return context.print(JSON.stringify(removed));
    if (!options.quiet) context.print(inWords(removed));
    if (removed.erased > 0) await remarkCopies(context);
  });

const asking = ({ yes }: DeleteOptions) => ({
  yes,
  question: 'Delete it all the same?',
});

function inWords({ removed, held, erased }: Removed): string {
  const others = erased > 0 ? 'the rest' : removed === 1 ? 'it' : 'them';
  return [
    removed === 0 ? 'Nothing was deleted.' : `Deleted ${plural(removed, 'snippet')}.`,
    ...(erased > 0 ? [`${erased} secret, gone for good.`] : []),
    ...(held > 0 ? [heldInWords(held)] : []),
    ...(removed > erased ? [`drawer undo brings ${others} back.`] : []),
  ].join(' ');
}
