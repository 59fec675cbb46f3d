import { ordered } from '../../compose/index.ts';
import { DrawerError, parseEnum } from '../../content/index.ts';
import { type Drawer, type Listed, loadDateFinder, type MovePlace } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen, chosenOne, idsOf } from './chosen.ts';

export interface MoveOptions {
  readonly before?: string;
  readonly after?: string;
  readonly top?: boolean;
  readonly end?: boolean;
  readonly by?: string;
  readonly quiet?: boolean;
}

/** What snippets can be sorted by, and the orders of composing that do it. */
const sorts = { origin: 'origin', label: 'label', date: 'date', amount: 'amount' } as const;

/** `drawer move REF…`: to another place, or sorted among themselves. */
export const move = (references: readonly string[], options: MoveOptions, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const { before, after, top, end, by, quiet } = options;
    if ([before, after, top, end, by].filter((each) => each !== undefined).length !== 1)
      throw new DrawerError('usage/command-option-missing', {
        options: ['--before REF', '--after REF', '--top', '--end', '--by origin, label, date or amount'],
      });
    const listed = await chosen(drawer, references);
    const ids = idsOf(listed);
    if (by !== undefined) {
      const moved = await drawer.arrange(await sorted(drawer, listed, by));
      const said =
        moved === 0 ? context.words.tell('sortedAlready') : context.words.tell('sortedBy', { count: ids.length, by });
      if (!quiet) context.print(said);
      return;
    }
    await drawer.move(ids, await placeFor(drawer, options));
    if (quiet) return;
    const from = await drawer.positionOf(ids[0] as string);
    const numbers = ids.length === 1 ? `${from}` : `${from}-${from + ids.length - 1}`;
    context.print(context.words.tell('movedTo', { count: ids.length, numbers }));
  });

async function placeFor(drawer: Drawer, { before, after, top }: MoveOptions): Promise<MovePlace> {
  if (before !== undefined) return { before: (await chosenOne(drawer, before)).summary.id };
  if (after !== undefined) return { after: (await chosenOne(drawer, after)).summary.id };
  return top ? 1 : Number.MAX_SAFE_INTEGER;
}

async function sorted(drawer: Drawer, listed: readonly Listed[], by: string): Promise<readonly string[]> {
  const order = sorts[parseEnum('sort', by, Object.keys(sorts) as (keyof typeof sorts)[])];
  const findDate = await loadDateFinder();
  const snippets = await drawer.getMany(idsOf(listed));
  return ordered(snippets, { order, findDate }).map(({ id }) => id);
}
