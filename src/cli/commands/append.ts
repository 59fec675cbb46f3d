import { DrawerError, type Join, parseEnum } from '../../content/index.ts';
import type { Context } from '../context.ts';
import { type GatherOptions, gather, report } from '../gather.ts';
import { making, withDrawer } from '../with-drawer.ts';

export interface AppendOptions extends GatherOptions {
  readonly onto?: string;
  readonly join?: string;
}

/** `drawer append PLACE…`: the newest snippet, or another, grows. */
export async function append(words: readonly string[], options: AppendOptions, context: Context): Promise<void> {
  const { gathered, taken } = await gather(words, options, context);
  const results = await withDrawer(
    context,
    async (drawer) => {
      const targets = options.onto === undefined ? [] : await drawer.select([options.onto]);
      if (targets.length > 1)
        throw new DrawerError('usage/reference-fits-several', { reference: options.onto ?? '', count: targets.length });
      return drawer.append(gathered, { onto: targets[0]?.summary.id, join: joinOf(options.join) });
    },
    making,
  );
  await report(
    results,
    taken.flatMap(({ notes }) => notes),
    options,
    context,
  );
}

/** A join by its name; anything else is the words to put between. */
function joinOf(words: string | undefined): Join | undefined {
  switch (words) {
    case undefined:
    case 'nothing':
    case 'space':
    case 'line':
    case 'paragraph':
      return words;
    default:
      // A name is a join; signs, and words with a space, are what is put between.
      if (/^\p{L}[\p{L}-]+$/u.test(words))
        return parseEnum('join', words, ['nothing', 'space', 'line', 'paragraph'] as const);
      return { text: words.replaceAll('\\n', '\n').replaceAll('\\t', '\t') };
  }
}
