import type { Drawer, Snippet } from 'drawer';

/** What somebody does to a drawer: at a share of it, with words of its own. */
export interface Act {
  readonly what: (typeof acts)[number];
  /** From 0 to less than 1. */
  readonly at: number;
  readonly words: string;
}
export const acts = ['keep', 'append', 'edit', 'label', 'remove', 'move', 'undo', 'redo'] as const;

/** Does it, in a program or in a page. What there is nothing to do it to is left. */
export async function act(drawer: Drawer, { what, at, words }: Act): Promise<void> {
  const content = { shape: 'run', inlines: [{ type: 'text', text: words }] } as const;
  if (what === 'keep') return void (await drawer.keep({ content, origin: {} }));
  if (what === 'undo' || what === 'redo') return void (await drawer[what]().catch(() => undefined)); // it may be refused
  const all = await snippetsOf(drawer);
  const id = all[Math.floor(at * all.length)]?.id;
  if (id === undefined) return;
  if (what === 'append') await drawer.append({ content, origin: {} }, { onto: id });
  else if (what === 'edit') await drawer.edit(id, content);
  else if (what === 'label') await drawer.mark(id, { label: words });
  else if (what === 'remove') await drawer.remove(id, { builtUp: true });
  else await drawer.move(id, 1);
}

/** All of a drawer, in its order. */
export const snippetsOf = async (drawer: Drawer): Promise<readonly Snippet[]> =>
  drawer.getMany((await drawer.list(1, 10_000)).map(({ summary }) => summary.id));
