import { generateNKeysBetween } from 'fractional-indexing';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { checkText, checkWhole } from './schema.ts';
import { readSettings } from './settings.ts';
import type { SnippetSummary } from './snippet.ts';
import type { StoredRows, WritableRows } from './storage.ts';

/** Longer order keys are made short again, with those of their neighbours, in UTF-16 units. */
const longestKey = 48;

/** Where snippets are moved: in front of the one at a number (from 1, as numbers are before the move), or beside the one of an id. */
export type MovePlace = number | { readonly before: string } | { readonly after: string };

/**
 * Puts snippets, in the order given, at a place. Only they are written anew, but for once in some hundred moves into one gap:
 * then its neighbours get shorter keys too.
 */
export async function moveChanges(
  rows: StoredRows,
  ids: readonly string[],
  place: MovePlace,
): Promise<readonly Change[]> {
  const moved = new Set(ids);
  const gap = await gapAt(rows, place);
  const left = await nearest(rows, moved, gap - 1, -1);
  const right = await nearest(rows, moved, gap, 1);
  const summaries: SnippetSummary[] = [];
  for (const id of moved) summaries.push(await rows.get(id));
  if (areThere(summaries, left, right)) return [];
  const keys = generateNKeysBetween(left?.order ?? null, right?.order ?? null, summaries.length);
  if (keys.some((key) => key.length > longestKey)) return shortened(rows, summaries, gap);
  return reorders(summaries, keys);
}

/** How many snippets stand in front of a place. @throws DrawerError `not-found` */
async function gapAt(rows: StoredRows, place: MovePlace): Promise<number> {
  if (typeof place !== 'object' || place === null) {
    checkWhole(place, 'position', 1);
    return Math.max(0, Math.min(place - 1, await rows.count()));
  }
  const beside = 'before' in place ? place.before : place.after;
  checkText(beside, 'before' in place ? 'before' : 'after');
  const { order } = await rows.get(beside);
  return (await rows.countBefore(order)) + ('before' in place ? 0 : 1);
}

/** The first snippet that does not move itself, from `start` (from 0) on in one direction. */
async function nearest(
  rows: StoredRows,
  moved: ReadonlySet<string>,
  start: number,
  step: 1 | -1,
): Promise<SnippetSummary | undefined> {
  for (let at = start; at >= 0; at += step) {
    const [summary] = await rows.summaries(at, 1);
    if (!summary || !moved.has(summary.id)) return summary;
  }
  return undefined;
}

/** Whether they stand between these two already, one after another. */
const areThere = (
  summaries: readonly SnippetSummary[],
  left: SnippetSummary | undefined,
  right: SnippetSummary | undefined,
): boolean => {
  const orders = [...(left ? [left] : []), ...summaries, ...(right ? [right] : [])].map(({ order }) => order);
  return orders.every((order, index) => index === 0 || (orders[index - 1] as string) < order);
};

const reorders = (summaries: readonly SnippetSummary[], keys: readonly string[]): Change[] =>
  summaries.flatMap(({ id, order }, index): Change[] =>
    order === keys[index] ? [] : [{ type: 'reorder', id, order: keys[index] as string }],
  );

/** New keys for so many neighbours of the gap that theirs are short again. */
async function shortened(rows: StoredRows, moved: readonly SnippetSummary[], gap: number): Promise<Change[]> {
  const count = await rows.count();
  for (let reach = 50; ; reach *= 4) {
    const [from, to] = [Math.max(0, gap - reach), Math.min(count, gap + reach)];
    const [before] = from > 0 ? await rows.summaries(from - 1, 1) : [];
    const [after] = to < count ? await rows.summaries(to, 1) : [];
    const isWhole = from === 0 && to === count;
    if (!isWhole && Math.max(before?.order.length ?? 0, after?.order.length ?? 0) > longestKey / 2) continue;
    const ids = new Set(moved.map(({ id }) => id));
    if (!isWhole && [before, after].some((summary) => summary && ids.has(summary.id))) continue;
    const around = await rows.summaries(from, to - from);
    const stays = ({ id }: SnippetSummary): boolean => !ids.has(id);
    const inOrder = [...around.slice(0, gap - from).filter(stays), ...moved, ...around.slice(gap - from).filter(stays)];
    const keys = generateNKeysBetween(before?.order ?? null, after?.order ?? null, inOrder.length);
    return [...(await sequenceAlong(rows, inOrder, keys)), ...reorders(inOrder, keys)];
  }
}

/** The sequence remembers a key: where that changes, so does the sequence. */
async function sequenceAlong(
  rows: StoredRows,
  summaries: readonly SnippetSummary[],
  keys: readonly string[],
): Promise<Change[]> {
  const { sequence } = await readSettings(rows);
  const at = summaries.findIndex(({ order }) => order === sequence?.after);
  return sequence && at >= 0 ? [{ type: 'sequence', sequence: { ...sequence, after: keys[at] as string } }] : [];
}

/** Lets snippets change places among themselves, so that they stand in the order given; gives how many moved. */
export async function arrangeIn(rows: WritableRows, ids: readonly string[], at: Date): Promise<number> {
  const summaries: SnippetSummary[] = [];
  for (const id of new Set(ids)) summaries.push(await rows.get(id));
  const changes = reorders(summaries, summaries.map(({ order }) => order).sort());
  await commit(rows, { name: { kind: 'sorted', params: { count: summaries.length } }, changes, at });
  return changes.length;
}
