import { stat } from 'node:fs/promises';
import { DrawerError } from '../content/index.ts';
import type { Elsewhere } from '../drawer/index.ts';
import { type OtherDrawerOptions, withOtherDrawer } from './read-drawer.ts';

/**
 * Takes actions of another drawer back, the last of them first, or brings them again, unless that is so already; with `onlyCheck`
 * only looks whether it could.
 * @throws DrawerError `write-failed` where the drawer is gone, or something else was done there since
 */
export async function turnDrawer(
  { passphraseOf }: OtherDrawerOptions,
  { drawer: path, from, to }: Elsewhere,
  wanted: 'done' | 'undone',
  onlyCheck = false,
): Promise<void> {
  const isThere = await stat(path).then(
    (found) => found.isFile(),
    () => false,
  );
  if (!isThere) throw new DrawerError('write-failed/undo-drawer-gone', {}, { where: path });
  await withOtherDrawer(path, { passphraseOf }, async (drawer) => {
    const actions = await drawer.history();
    const theirs = actions.filter(({ number }) => number >= from && number <= to);
    const left = theirs.filter(({ state }) => state !== wanted);
    // What can be undone comes newest first, and what can be done again in its turn: ours have to stand in front.
    const next = actions.filter(({ state }) => state !== wanted).slice(0, left.length);
    if (theirs.length < to - from + 1 || next.some((action) => !left.includes(action)))
      throw new DrawerError('write-failed/undo-drawer-changed', {}, { where: path });
    if (onlyCheck) return;
    for (const _ of left) await (wanted === 'undone' ? drawer.undo() : drawer.redo());
  });
}
