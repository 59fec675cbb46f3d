import { grouped } from '../../content/index.ts';
import type { Drawer, Listed } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { listing, longListing } from '../listing.ts';
import { withDrawer } from '../with-drawer.ts';

export interface ListOptions {
  readonly json?: boolean;
  /** Newest first. */
  readonly newest?: boolean;
  readonly long?: boolean;
  /** Goes on telling what changes. */
  readonly follow?: boolean;
  /** The drawers there are, instead of what one holds. */
  readonly drawers?: boolean;
}

const pageLength = 50;

/** `drawer list [REF…]`: the first page, or the snippets named. */
export async function list(references: readonly string[], options: ListOptions, context: Context): Promise<void> {
  if (options.drawers) return listDrawers(options, context);
  await withDrawer(context, async (drawer) => {
    const count = await drawer.count();
    const from = options.newest ? Math.max(1, count - pageLength + 1) : 1;
    const listed = references.length > 0 ? await drawer.select(references) : await drawer.list(from, pageLength);
    print(options.newest ? listed.toReversed() : listed, { count, isPage: references.length === 0 }, options, context);
    if (options.follow) await follow(drawer, options, context);
  });
}

function print(
  listed: readonly Listed[],
  { count, isPage }: { readonly count: number; readonly isPage: boolean },
  { json, long, newest }: ListOptions,
  context: Context,
): void {
  if (json)
    return context.print(
      JSON.stringify({ count, snippets: listed.map(({ position, head }) => ({ position, ...head })) }, null, 2),
    );
  if (listed.length === 0) return context.print('The drawer is empty. Gather something with: drawer copy FILE');
  context.print((long ? longListing : listing)(listed, context));
  if (!isPage || count <= listed.length) return;
  const shown = listed.length;
  const [first, next] = newest
    ? [`The newest ${shown}`, `${count - shown}-${Math.max(1, count - 2 * shown + 1)}`]
    : [`1 to ${shown}`, `${shown + 1}-${Math.min(count, 2 * shown)}`];
  context.print(`\n${first} of ${grouped(count)}; the next are: drawer list ${next}`);
}

/** Tells what comes, changes and goes, until it is stopped. */
async function follow(drawer: Drawer, { json }: ListOptions, { print: say, width }: Context): Promise<void> {
  let before = await everything(drawer);
  const tell = async (): Promise<void> => {
    const now = await everything(drawer);
    const changed = [...now.values()].filter(({ head }) => told(before.get(head.id)) !== JSON.stringify(head));
    const gone = [...before.values()].filter(({ head }) => !now.has(head.id));
    before = now;
    if (json) {
      if (changed.length + gone.length > 0)
        say(
          JSON.stringify({
            changed: changed.map(({ position, head }) => ({ position, ...head })),
            gone: gone.map(({ head }) => head.id),
          }),
        );
      return;
    }
    const lines = changed.length > 0 ? listing(changed, { width, now: new Date() }).split('\n').slice(1) : [];
    for (const line of lines) say(line);
    for (const { position } of gone) say(`${position} is gone`);
  };
  let last = Promise.resolve();
  const stop = drawer.watch(() => {
    last = last.then(tell);
  });
  await new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, resolve);
  });
  stop();
  await last;
}

const told = (listed: Listed | undefined): string | undefined => listed && JSON.stringify(listed.head);

async function everything(drawer: Drawer): Promise<ReadonlyMap<string, Listed>> {
  const listed = await drawer.list(1, Number.MAX_SAFE_INTEGER);
  return new Map(listed.map((each) => [each.head.id, each]));
}

async function listDrawers({ json }: ListOptions, { print: say }: Context): Promise<void> {
  const { drawers } = await import('../../node/index.ts');
  const found = await drawers();
  if (json) return say(JSON.stringify({ drawers: found }, null, 2));
  say(found.length === 0 ? 'There is no drawer yet. Gather something with: drawer copy FILE' : found.join('\n'));
}
