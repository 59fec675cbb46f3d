import { DrawerError } from '../content/index.ts';
import type { Settings } from './settings.ts';
import type { Snippet, SnippetSummary } from './snippet.ts';
import { deviceNote, type StoredRows, type WritableRows } from './storage.ts';

/** The free share of a drawer from which on the remaining room is reported. */
const fewShare = 0.05;

/** The snippets to remove so that new ones fit. @throws DrawerError `full` */
export async function makeRoom(
  rows: WritableRows,
  added: readonly Snippet[],
  moved: ReadonlySet<string>,
  { capacity, size, full }: Settings,
): Promise<{ readonly letGo: readonly SnippetSummary[]; readonly count: number }> {
  const count = await rows.count();
  const bytes = added.reduce((sum, { facts }) => sum + facts.bytes, added.length > 0 ? await rows.bytes() : 0);
  const [tooMany, tooLarge] = [count + added.length - capacity, bytes - size];
  if (added.length === 0 || (tooMany <= 0 && tooLarge <= 0)) return { letGo: [], count };
  const letGo = (await letsGo(rows, full)) ? await oldestUnheld(rows, tooMany, tooLarge, moved) : undefined;
  if (letGo) return { letGo, count };
  throw new DrawerError(
    tooMany <= 0 ? 'full/drawer-bytes-full' : tooMany >= added.length ? 'full/drawer-full' : 'full/drawer-nearly-full',
    { room: capacity - count, count: added.length },
  );
}

/** Whether the oldest may be removed for new ones. In a drawer that several devices share, it would go from all of them. */
const letsGo = async (rows: StoredRows, full: Settings['full']): Promise<boolean> =>
  full === 'let-go' && (await rows.findNote(deviceNote)) === undefined;

/** The snippets to remove; `undefined` if removing all that are not held would not be enough. */
export async function oldestUnheld(
  rows: StoredRows,
  tooMany: number,
  tooLarge: number,
  spared: ReadonlySet<string> = new Set(),
): Promise<readonly SnippetSummary[] | undefined> {
  const found: SnippetSummary[] = [];
  let bytes = 0;
  const step = 200;
  for (let from = 0; found.length < tooMany || bytes < tooLarge; from += step) {
    const summaries = await rows.summaries(from, step);
    if (summaries.length === 0) return undefined;
    for (const summary of summaries) {
      if (summary.held || spared.has(summary.id) || (found.length >= tooMany && bytes >= tooLarge)) continue;
      found.push(summary);
      bytes += summary.facts.bytes;
    }
  }
  return found;
}

/** The remaining room, once it is little, and the snippet that would be removed next. */
export async function roomLeft(
  rows: StoredRows,
  { capacity, full }: Settings,
  changed: boolean,
): Promise<{ readonly room?: number; readonly nextToGo?: SnippetSummary }> {
  const room = capacity - (await rows.count());
  if (!changed || room > capacity * fewShare) return {};
  const [nextToGo] = room <= 0 && (await letsGo(rows, full)) ? ((await oldestUnheld(rows, 1, 0)) ?? []) : [];
  return { room, ...(nextToGo && { nextToGo }) };
}
