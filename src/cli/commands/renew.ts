import { changedLines, DrawerError } from '../../content/index.ts';
import type { Drawer } from '../../drawer/index.ts';
import { findRenewals, type Renewal } from '../../node/index.ts';
import { fit } from '../columns.ts';
import { withConsent } from '../consent.ts';
import type { Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { remarkNotes } from '../notes.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen, eachOnce } from './chosen.ts';

export interface RenewOptions {
  readonly folder?: string;
  readonly yes?: boolean;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** `drawer renew REF…`: shows what has changed in the files, and takes it once that is wanted. */
export const renew = (references: readonly string[], options: RenewOptions, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const { print, words } = context;
    const listed = eachOnce(await chosen(drawer, references));
    const renewals = await withProgress(words.tell('readingFiles'), context, (onRead) =>
      findRenewals(drawer, listed, { folder: options.folder, onRead: (_, end, size) => onRead(end, size) }),
    );
    const changed = renewals.filter((each) => each.kind === 'changed');
    if (!options.json && !options.quiet) await show(renewals, context);
    await remarkNotes(
      changed.flatMap(({ notes }) => notes),
      'simplified',
      context,
    );
    const wanted = changed.length > 0 && (options.yes === true || !options.json);
    const isRenewed = wanted && (await take(drawer, changed, options.yes, context));
    if (options.json) return print(JSON.stringify(inJson(renewals, isRenewed)));
    if (!options.quiet)
      print(isRenewed ? words.tell('renewedSome', { count: changed.length }) : words.tell('renewedNothing'));
  });

/** Renews what has changed, once that is allowed; `false` if it is not. */
async function take(
  drawer: Drawer,
  changed: readonly (Renewal & { readonly kind: 'changed' })[],
  yes: boolean | undefined,
  context: Context,
): Promise<boolean> {
  const work = async (given: boolean): Promise<true> => {
    if (!given) throw new DrawerError('consent/renewal-changes', { count: changed.length });
    await drawer.renew(changed.map(({ summary: { id }, content, media, was }) => ({ id, content, media, was })));
    return true;
  };
  return (await withConsent(work, { yes, question: context.words.tell('askRenew') }, context)) ?? false;
}

async function show(renewals: readonly Renewal[], { print, width, words }: Context): Promise<void> {
  const phrases = await words.load();
  for (const { position, summary, ...found } of renewals) {
    if (found.kind === 'same') print(words.tell('renewalSame', { position }));
    else if (found.kind === 'unknown')
      print(words.tell('renewalNot', { position, problem: phrases.error(found.problem) }));
    else {
      print(words.tell('renewalChanged', { position, what: `${words.size(summary.facts)}, ${words.origin(summary)}` }));
      for (const line of changedLines(found.was, found.content))
        print(`   ${fit(line, Math.max(20, width - 4)).trimEnd()}`);
    }
  }
}

const inJson = (renewals: readonly Renewal[], isRenewed: boolean) => ({
  renewed: isRenewed,
  snippets: renewals.map(({ position, summary, ...found }) => ({
    position,
    id: summary.id,
    kind: found.kind,
    ...(found.kind === 'unknown' && { reason: found.problem.reason }),
  })),
});
