import type { Removed } from '../../drawer/index.ts';
import { withConsent } from '../consent.ts';
import type { Context } from '../context.ts';
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
      { yes: options.yes, question: context.words.tell('askDelete') },
      context,
    )) ?? {
      removed: 0,
      held: 0,
      erased: 0,
    };
    if (options.json) return context.print(JSON.stringify(removed));
    if (!options.quiet) context.print(inWords(removed, context.words));
    if (removed.erased > 0) await remarkCopies(context);
  });

function inWords({ removed, held, erased }: Removed, words: Context['words']): string {
  const others = erased > 0 ? 'deletedBackRest' : removed === 1 ? 'deletedBackIt' : 'deletedBackThem';
  return [
    removed === 0 ? words.tell('deletedNothing') : words.tell('deletedSome', { count: removed }),
    ...(erased > 0 ? [words.tell('deletedSecret', { count: erased })] : []),
    ...(held > 0 ? [words.tell('heldStay', { count: held })] : []),
    ...(removed > erased ? [words.tell(others)] : []),
  ].join(' ');
}
