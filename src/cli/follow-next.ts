import { DrawerError } from '../content/index.ts';
import type { DesktopClipboard, Offering } from '../desktop/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { withClipboard } from './clipboard-place.ts';
import { moveOn, type NextOptions, offeredOf } from './commands/next.ts';
import { spendSecrets } from './commands/paste.ts';
import type { Context } from './context.ts';
import { clipboardPlace } from './gather.ts';
import { offeringFor, reportOnClipboard } from './put-on-clipboard.ts';
import { untilStopped } from './until-stopped.ts';

/** Puts one snippet after another on the clipboard: the next when the last was pasted; until all were, another program copies, or it is stopped. */
export const followNext = (drawer: Drawer, options: NextOptions, context: Context): Promise<void> =>
  withClipboard(context, async (clipboard) => {
    const { remark, words } = context;
    if (!clipboard.hearsPastes) throw new DrawerError('unsupported/clipboard-pastes', { system: clipboard.system });
    const stopped = Promise.race([untilStopped(), clipboard.ended]).then(() => 'stopped' as const);
    for (let isFirst = true; ; isFirst = false) {
      const { next: summary, position, count } = await drawer.sequence();
      if (!summary && isFirst)
        throw new DrawerError(count === 0 ? 'not-found/drawer-empty' : 'not-found/sequence-done', { count });
      if (!summary) return options.quiet ? undefined : remark(words.tell('nextNoneLeft'));
      const snippet = await drawer.get(summary.id);
      const offered = await offeredOf(drawer, snippet);
      const ended = await put(clipboard, await offeringFor(offered, options));
      await reportOnClipboard(`${position}`, offered, options, context);
      const end = await Promise.race([ended(), stopped]);
      if (end === 'gone') return remark(words.tell('nextInterrupted', { position }));
      if (end === 'stopped') return;
      await moveOn(drawer, [snippet], { position, into: clipboardPlace }, options, context);
      await spendSecrets(drawer, [snippet], context);
    }
  });

/** Puts content on the clipboard. The result waits until it is pasted, or until something else replaces it. */
async function put(clipboard: DesktopClipboard, offering: Offering): Promise<() => Promise<'pasted' | 'gone'>> {
  let hear: () => void = () => {};
  const pasted = new Promise<'pasted'>((heard) => {
    hear = () => heard('pasted');
  });
  const offer = await clipboard.offer(offering, hear);
  return () => Promise.race([pasted, offer.gone.then(() => 'gone' as const)]);
}
