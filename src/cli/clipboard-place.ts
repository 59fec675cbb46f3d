import { DrawerError } from '../content/index.ts';
import {
  type Copied,
  checkCopied,
  type DesktopClipboard,
  openClipboard,
  sourceOfCopy,
  type TakenCopy,
  takeCopied,
} from '../desktop/index.ts';
import { gatheredFrom, nodeTools, type TakeOptions } from '../node/index.ts';
import { fit } from './columns.ts';
import type { Context } from './context.ts';
import { type GatherOptions, report } from './gather.ts';
import { untilStopped } from './until-stopped.ts';
import { making, withDrawer } from './with-drawer.ts';

/** What was copied in some program. @throws DrawerError `not-found` where nothing was */
export const takeFromClipboard = (options: TakeOptions, context: Context): Promise<TakenCopy> =>
  withClipboard(context, async (clipboard) => takeCopied(await copiedOn(clipboard), { ...options, ...nodeTools }));

async function withClipboard<T>(
  { environment }: Context,
  work: (clipboard: DesktopClipboard) => Promise<T>,
): Promise<T> {
  const clipboard = await openClipboard(environment);
  try {
    return await work(clipboard);
  } finally {
    await clipboard.close();
  }
}

async function copiedOn(clipboard: DesktopClipboard): Promise<Copied> {
  const copied = await clipboard.copied();
  if (copied) return copied;
  throw new DrawerError('not-found/clipboard-empty');
}

/** Prints the forms in which something was copied; what it is is not read for that. */
export const outlineClipboard = (json: boolean, context: Context): Promise<void> =>
  withClipboard(context, async (clipboard) => {
    const { print, words, width } = context;
    const copied = await copiedOn(clipboard);
    await checkCopied(copied);
    const { system } = clipboard;
    if (json) {
      const { file, url } = await sourceOfCopy(copied);
      return print(JSON.stringify({ system, forms: copied.forms, from: file ?? url ?? '' }, null, 2));
    }
    const most = Math.max(20, width - 2);
    print(
      [`${words.tell('column.form')} (${system})`, ...copied.forms].map((line) => fit(line, most).trimEnd()).join('\n'),
    );
    print(`\n${words.tell('outlineTakeCopied')}`);
  });

/** Keeps whatever is copied in any program, in order, until it is stopped. */
export const followClipboard = (options: GatherOptions, context: Context): Promise<void> =>
  withClipboard(context, async (clipboard) => {
    const { remark, words } = context;
    let waiting = 0;
    let working = Promise.resolve();
    const keepNext = async (): Promise<void> => {
      const count = waiting;
      waiting = 0;
      if (count === 0) return;
      if (count > 1) remark(words.tell('copiesOvertaken', { count: count - 1 }));
      try {
        const taken = await takeCopied(await copiedOn(clipboard), nodeTools);
        const gathered = gatheredFrom(taken.file ?? '', taken);
        const results = await withDrawer(context, (drawer) => drawer.keep(gathered), making);
        await report(results, taken.notes, options, context);
      } catch (error) {
        if (!DrawerError.is(error)) throw error;
        remark((await words.load()).error(error));
      }
    };
    const failed = new Promise<never>((_, fail) => {
      void clipboard
        .watch(() => {
          waiting++;
          working = working.then(keepNext);
          working.catch(fail);
        })
        .then(() => options.quiet || remark(words.tell('followingCopies')), fail);
    });
    await Promise.race([untilStopped(), failed]);
    await working;
  });
