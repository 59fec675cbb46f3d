import { DrawerError } from '../../content/index.ts';
import type { Drawer, Listed } from '../../drawer/index.ts';
import { gatherersOf, savedSince } from '../../node/index.ts';
import type { Context } from '../context.ts';
import { listing, longListing } from '../listing.ts';
import { untilStopped } from '../until-stopped.ts';
import { withDrawer } from '../with-drawer.ts';
import { eachOnce } from './chosen.ts';

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

/** `drawer list [REF…]`: the newest page, or the snippets named; in JSON all of them. */
export async function list(references: readonly string[], options: ListOptions, context: Context): Promise<void> {
  if (options.drawers) return listDrawers(options, context);
  if (options.long) await context.words.load();
  let told = await withDrawer(context, async (drawer) => {
    const count = await drawer.count();
    const isPage = references.length === 0;
    const length = options.json ? Math.max(1, count) : pageLength;
    const listed = isPage
      ? await drawer.list(Math.max(1, count - length + 1), length)
      : await named(drawer, references);
    const changed = await savedSince(listed);
    const gatherers = await gatherersOf(
      drawer,
      listed.map(({ summary }) => summary.id),
    );
    const facts = { count, isPage, changed, gatherers };
    print(options.newest ? listed.toReversed() : listed, facts, options, context);
    return options.follow ? follow(drawer, await everything(drawer), options, context) : undefined;
  });
  // Another program locked it, or took the lock off: it is opened anew, with its passphrase where it needs one.
  while (told) {
    const known = told;
    told = await withDrawer(context, (drawer) => follow(drawer, known, options, context));
  }
}

/** Snippets by references, each once; filters alone narrow one another, as they do for `drawer find`. */
async function named(drawer: Drawer, references: readonly string[]): Promise<readonly Listed[]> {
  const isFilters = references.length > 1 && references.every((each) => /^(?:from|label|is):./.test(each));
  const found = isFilters ? await drawer.find(references) : await drawer.select(references);
  if (found.length === 0) throw new DrawerError('not-found/reference-fits-none', { reference: references.join(' ') });
  const listed = eachOnce(found);
  return isFilters ? listed.sort((one, other) => one.position - other.position) : listed;
}

/** What a list tells besides its snippets. */
interface ListFacts {
  readonly count: number;
  readonly isPage: boolean;
  /** Ids of those whose file was saved since. */
  readonly changed: ReadonlySet<string>;
  /** The devices of others that some were gathered on, by id. */
  readonly gatherers: ReadonlyMap<string, string>;
}

function print(
  listed: readonly Listed[],
  { count, isPage, changed, gatherers }: ListFacts,
  { json, long }: ListOptions,
  { print: say, width, now, words }: Context,
): void {
  if (json)
    return say(
      JSON.stringify(
        {
          count,
          snippets: listed.map(({ position, summary }) => ({
            position,
            ...summary,
            ...(changed.has(summary.id) && { fileChanged: true }),
            ...(gatherers.has(summary.id) && { gatheredBy: gatherers.get(summary.id) }),
          })),
        },
        null,
        2,
      ),
    );
  if (listed.length === 0) return say(words.tell('drawerEmpty'));
  say((long ? longListing : listing)(listed, { width, now, words, changed, gatherers }));
  if (!isPage || count <= listed.length) return;
  const before = count - listed.length;
  say(
    `\n${words.tell('listNewest', {
      shown: listed.length,
      count,
      range: `${Math.max(1, before - pageLength + 1)}-${before}`,
    })}`,
  );
}

type Told = ReadonlyMap<string, Listed>;

/**
 * Prints added, changed and removed snippets until it is stopped.
 * @param before - what has been told already
 * @returns what had been told when another program locked the drawer or took its lock off; `undefined` when it was stopped
 */
async function follow(
  drawer: Drawer,
  before: Told,
  { json }: ListOptions,
  { print: say, width, words }: Context,
): Promise<Told | undefined> {
  let known = before;
  const tell = async (): Promise<void> => {
    const now = await everything(drawer);
    const changed = [...now.values()].filter(
      ({ summary }) => summaryOf(known.get(summary.id)) !== JSON.stringify(summary),
    );
    const gone = [...known.values()].filter(({ summary }) => !now.has(summary.id));
    known = now;
    if (json) {
      if (changed.length + gone.length > 0)
        say(
          JSON.stringify({
            changed: changed.map(({ position, summary }) => ({ position, ...summary })),
            gone: gone.map(({ summary }) => summary.id),
          }),
        );
      return;
    }
    const lines = changed.length > 0 ? listing(changed, { width, now: new Date(), words }).split('\n').slice(1) : [];
    for (const line of lines) say(line);
    for (const { position } of gone) say(words.tell('isGone', { position }));
  };
  const stopping = new AbortController();
  let last = Promise.resolve();
  const failed = new Promise<never>((_, fail) => {
    const next = (): void => {
      last = last.then(tell);
      last.catch(fail);
    };
    stopping.signal.addEventListener('abort', drawer.watch(next));
    next();
  });
  let isStopped = false;
  const stopped = untilStopped().then(() => {
    isStopped = true;
  });
  try {
    await Promise.race([failed, stopped]);
    await last;
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'locked') throw error;
  } finally {
    stopping.abort();
  }
  return isStopped ? undefined : known;
}

const summaryOf = (listed: Listed | undefined): string | undefined => listed && JSON.stringify(listed.summary);

async function everything(drawer: Drawer): Promise<Told> {
  const listed = await drawer.list(1, Number.MAX_SAFE_INTEGER);
  return new Map(listed.map((each) => [each.summary.id, each]));
}

async function listDrawers({ json }: ListOptions, { print: say, words }: Context): Promise<void> {
  const { drawers } = await import('../../node/index.ts');
  const found = await drawers();
  if (json) return say(JSON.stringify({ drawers: found }, null, 2));
  say(found.length === 0 ? words.tell('drawersNone') : found.join('\n'));
}
