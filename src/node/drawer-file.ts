import { asBlocks, clipped, DrawerError, whatOf } from '../content/index.ts';
import type { Drawer, Elsewhere, Listed, Removed } from '../drawer/index.ts';
import type { Excerpt, Outline, Source } from '../formats/index.ts';
import { type Fragment, printFragment } from '../places/index.ts';
import { openFile } from './files.ts';
import { doneSince, type OtherDrawerOptions, readingOtherDrawer, withOtherDrawer } from './read-drawer.ts';

/** Whether a file is a SQLite database, like a drawer. */
export async function isDrawerFile(source: Source): Promise<boolean> {
  if (source.size < 100) return false;
  return new TextDecoder().decode(await source.read(0, 15)) === 'SQLite format 3';
}

/** Like `isDrawerFile`, by path. */
export async function isDrawerAt(path: string): Promise<boolean> {
  const source = await openFile(path);
  try {
    return await isDrawerFile(source);
  } finally {
    await source.close();
  }
}

/** Reads snippets of another drawer, each separately and with its origin. */
export const readFromDrawerFile = (
  file: string,
  fragment: Fragment,
  options: OtherDrawerOptions = {},
): Promise<Excerpt> =>
  readingOtherDrawer(file, options, async (drawer) => {
    const separate: Excerpt[] = [];
    let secrets = 0;
    for (const { summary, position } of await select(drawer, fragment)) {
      // Secrets are included only if they are named.
      if (summary.secret && fragment.kind === 'whole') {
        secrets++;
        continue;
      }
      const { content, ...brings } = await drawer.get(summary.id);
      separate.push({
        content,
        media: await drawer.mediaOf(content),
        notes: [],
        place: `snippet ${position}`,
        brings: { ...brings },
      });
    }
    return {
      content: { shape: 'blocks', blocks: separate.flatMap(({ content }) => asBlocks(content)) },
      media: new Map(separate.flatMap(({ media }) => [...media])),
      notes: secrets > 0 ? [{ kind: 'secret-left', count: secrets }] : [],
      separate,
    };
  });

/**
 * Removes from another drawer the snippets that were read from it, after they are safe elsewhere. Its undo restores them, except
 * secrets; held ones stay.
 */
export const removeFromDrawerFile = (
  file: string,
  taken: readonly Excerpt[],
  options: OtherDrawerOptions = {},
): Promise<Removed & { readonly done?: Elsewhere }> =>
  withOtherDrawer(file, options, async (drawer) => {
    const ids: string[] = [];
    for (const { brings } of taken.flatMap(({ separate = [] }) => separate))
      if (typeof brings?.id === 'string' && (await holds(drawer, brings.id))) ids.push(brings.id);
    const before = await drawer.lastAction();
    const removed = await drawer.remove(ids, { builtUp: true });
    // Removing secrets alone cannot be undone.
    const done = removed.removed > removed.erased ? await doneSince(before, drawer, file) : undefined;
    return { ...removed, ...(done && { done }) };
  });

async function holds(drawer: Drawer, id: string): Promise<boolean> {
  try {
    await drawer.positionOf(id);
    return true;
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'not-found') return false;
    throw error;
  }
}

/** Outlines another drawer. @throws DrawerError like `openDrawer` */
export const outlineDrawerFile = (file: string, options: OtherDrawerOptions = {}): Promise<Outline> =>
  readingOtherDrawer(file, options, async (drawer) => ({
    entries: (await drawer.list(1, 1000)).map(({ position, summary }) => ({
      place: String(position),
      kind: 'snippet',
      depth: 0,
      label: clipped(summary.label ?? summary.facts.preview, 60),
      size: whatOf(summary.facts.what),
    })),
    notes: [],
  }));

function select(drawer: Drawer, fragment: Fragment): Promise<readonly Listed[]> {
  if (fragment.kind === 'whole') return drawer.select(['all']);
  if (fragment.kind === 'snippets') return drawer.select(fragment.ranges.map(({ from, to }) => `${from}-${to}`));
  throw new DrawerError('unsupported/place-kind-not-here', { place: printFragment(fragment), example: '3-5' });
}
