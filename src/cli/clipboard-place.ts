import { DrawerError } from '../content/index.ts';
import {
  type Copied,
  type CopiedExcerpt,
  type DesktopClipboard,
  followCopies,
  openClipboard,
  readCopied,
} from '../desktop/index.ts';
import { gatheredFrom, nodeTools, type ReadOptions } from '../node/index.ts';
import { fit, widest } from './columns.ts';
import type { Context } from './context.ts';
import { type GatherOptions, report } from './gather.ts';
import { untilStopped } from './until-stopped.ts';
import { making, withDrawer } from './with-drawer.ts';

/** What was copied in some program. @throws DrawerError `not-found` where nothing was */
export const readFromClipboard = (options: ReadOptions, context: Context): Promise<CopiedExcerpt> =>
  withClipboard(context, async (clipboard) => readCopied(await copiedOn(clipboard), { ...options, ...nodeTools }));

/** Opens the clipboard of this session, works on it, and closes it whatever happens. */
export async function withClipboard<T>(
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

/** Prints the forms in which something was copied, the sizes of those that are read to keep it, and where it was copied. */
export const outlineClipboard = (json: boolean, context: Context): Promise<void> =>
  withClipboard(context, async (clipboard) => {
    const { print, words, width } = context;
    const copied = await copiedOn(clipboard);
    const sizes = new Map<string, number>();
    const read = async (form: string): Promise<Uint8Array | undefined> => {
      const bytes = await copied.read(form);
      if (bytes) sizes.set(form, bytes.length);
      return bytes;
    };
    const taken = await readCopied({ ...copied, read }, nodeTools);
    const { system } = clipboard;
    const from = { file: taken.file, place: taken.place, title: taken.title, url: taken.url, program: taken.program };
    if (json) {
      const forms = copied.forms.map((name) => ({ name, bytes: sizes.get(name) }));
      return print(JSON.stringify({ system, forms, from }, null, 2));
    }
    const lines = copied.forms.map((form) => ({
      form,
      size: sizes.has(form) ? words.bytes(sizes.get(form) ?? 0) : '',
    }));
    const rows = [{ form: `${words.tell('column.form')} (${system})`, size: words.tell('column.size') }, ...lines];
    const most = Math.max(20, width - 14);
    const across = widest(
      rows.map(({ form }) => form),
      20,
      most,
    );
    print(rows.map(({ form, size }) => `${fit(form, across)}  ${size}`.trimEnd()).join('\n'));
    const { origin = {} } = gatheredFrom(taken.file ?? '', taken)[0] ?? {};
    const whence = words.origin({ origin });
    print(
      `\n${whence === '' ? '' : `${words.tell('outlineCopied', { from: whence })}\n`}${words.tell('outlineTakeCopied')}`,
    );
  });

/** Keeps whatever is copied in any program, in order, until it is stopped. */
export const followClipboard = (options: GatherOptions, context: Context): Promise<void> =>
  withClipboard(context, async (clipboard) => {
    const { remark, words } = context;
    const phrases = await words.load();
    const followed = await followCopies(
      clipboard,
      {
        keep: async (taken) => {
          const gathered = gatheredFrom(taken.file ?? '', taken);
          const results = await withDrawer(context, (drawer) => drawer.keep(gathered), making);
          await report(results, taken.notes, options, context);
        },
        passedOver: (problem) => remark(phrases.error(problem)),
      },
      nodeTools,
    );
    if (!options.quiet) remark(words.tell('followingCopies'));
    await Promise.race([untilStopped(), clipboard.ended, followed.failed]);
    await followed.stop();
  });
