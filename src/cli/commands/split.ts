import { type Content, DrawerError, splitContent } from '../../content/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosenOne } from './chosen.ts';

export interface SplitOptions {
  /** `paragraph`, `item`, `row`, `cell`, or any text that stands between the parts. */
  readonly by?: string;
  readonly quiet?: boolean;
}

/** `drawer split REF`: several snippets in the place of one. */
export const split = (reference: string, { by, quiet }: SplitOptions, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const { summary, position } = await chosenOne(drawer, reference);
    const { content } = await drawer.get(summary.id);
    const parts: readonly Content[] = splitContent(content, by);
    if (parts.length < 2) throw new DrawerError('not-found/nothing-to-split', { position: String(position) });
    const { from, to } = await drawer.split(summary.id, parts, { was: content });
    if (!quiet)
      context.print(context.words.tell('splitTo', { position, count: parts.length, numbers: `${from}-${to}` }));
  });
