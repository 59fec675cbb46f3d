import { type Change, type Drawer, type Removed, removalChanges, type Snippet } from '../drawer/index.ts';
import type { Context } from './context.ts';

/** What of some snippets leaves the drawer with `--take-out`, and how that is said once it has. */
interface RemovalSummary {
  readonly changes: readonly Change[];
  say(context: Context): void;
}

export function removalSummary(snippets: readonly Snippet[]): RemovalSummary {
  const unique = [...new Map(snippets.map((each) => [each.id, each])).values()];
  const held = unique.filter((each) => each.held).length;
  const erased = unique.filter((each) => each.secret && !each.held).length;
  return { changes: removalChanges(unique), say: (context) => say({ held, erased }, context) };
}

/** Takes out what was pasted, as an action of its own. */
export async function takeOut(drawer: Drawer, snippets: readonly Snippet[], context: Context): Promise<void> {
  const ids = snippets.map(({ id }) => id);
  say(await drawer.remove(ids, { builtUp: true }), context);
}

/** What is held stays; a secret cannot be brought back. */
function say({ held, erased }: Pick<Removed, 'held' | 'erased'>, { remark, words }: Context): void {
  if (held > 0) remark(words.tell('heldStay', { count: held }));
  if (erased > 0) remark(words.tell('goneForGood', { count: erased }));
}
