import { DrawerError } from '../../content/index.ts';
import { type Mark, markName, parseDuration } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen, idsOf } from './chosen.ts';

export interface MarkOptions {
  readonly label?: string;
  readonly hold?: boolean;
  readonly release?: boolean;
  readonly secret?: boolean;
  readonly once?: boolean;
  readonly open?: boolean;
  /** How long it stays, such as `10m`; `ever` for good. */
  readonly for?: string;
  readonly quiet?: boolean;
}

/** `drawer mark REF…`: a label, a hold, a secret, a time. */
export const mark = (references: readonly string[], options: MarkOptions, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const asked = markOf(options);
    const ids = idsOf(await chosen(drawer, references));
    await drawer.mark(ids, asked);
    if (options.quiet) return;
    context.print(`${context.words.action(markName(asked, ids.length))}.`);
    if (asked.secret) context.print(context.words.tell('markedSecret'));
  });

function markOf({ label, hold, release, secret, once, open, for: time }: MarkOptions): Mark {
  if ((hold && release) || ((secret || once) && open))
    throw new DrawerError('usage/command-options-clash', {
      options: hold && release ? ['--hold', '--release'] : ['--secret', '--open'],
    });
  const asked: Mark = {
    ...(label !== undefined && { label }),
    ...((hold || release) && { held: hold === true }),
    ...((secret || once || open) && { secret: once ? 'once' : secret === true }),
    ...(time !== undefined && { lasts: time === 'ever' ? null : parseDuration(time) }),
  };
  if (Object.keys(asked).length > 0) return asked;
  throw new DrawerError('usage/command-option-missing', {
    options: ['--label TEXT', '--hold', '--release', '--secret', '--once', '--open', '--for 10m'],
  });
}
