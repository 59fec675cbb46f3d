import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { keysBetween } from './order-keys.ts';
import { checkText, checkWhole } from './schema.ts';
import { readSettings } from './settings.ts';
import { compareOrder, type SnippetSummary } from './snippet.ts';
import { getSnippet, type StoredRows, type WritableRows } from './storage.ts';

/** The maximum length of order keys in UTF-16 units; longer ones are shortened together with their neighbours'. */
const longestKey = 48;

/** The target of a move: in front of a position (counted from 1, before the move), or next to the snippet with an id. */
export type MovePlace = number | { readonly before: string } | { readonly after: string };

/**
 * The changes that move snippets, in the order given. Only these are rewritten; but after some hundred moves into one gap, their
 * neighbours get shorter keys, too.
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
  for (const id of moved) summaries.push(await getSnippet(rows, id));
  if (areThere(summaries, left, right)) return [];
  if (left && left.order === right?.order) return shortened(rows, summaries, gap);
  const keys = keysBetween(left?.order ?? null, right?.order ?? null, idsOf(summaries));
  if (keys.some((key) => key.length > longestKey)) return shortened(rows, summaries, gap);
  return reorders(summaries, keys);
}

/** The number of snippets before a target. @throws DrawerError `not-found` */
async function gapAt(rows: StoredRows, place: MovePlace): Promise<number> {
  if (typeof place !== 'object' || place === null) {
    checkWhole(place, 'position', 1);
    return Math.max(0, Math.min(place - 1, await rows.count()));
  }
  const beside = 'before' in place ? place.before : place.after;
  checkText(beside, 'before' in place ? 'before' : 'after');
  return (await rows.countBefore(await getSnippet(rows, beside))) + ('before' in place ? 0 : 1);
}

/** The first snippet that is not moved, starting at `start` (from 0) in one direction. */
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

/** Whether the snippets already stand between these two, in this order. */
const areThere = (
  summaries: readonly SnippetSummary[],
  left: SnippetSummary | undefined,
  right: SnippetSummary | undefined,
): boolean => {
  const all = [...(left ? [left] : []), ...summaries, ...(right ? [right] : [])];
  return all.every((each, index) => index === 0 || compareOrder(all[index - 1] as SnippetSummary, each) < 0);
};

const reorders = (summaries: readonly SnippetSummary[], keys: readonly string[]): Change[] =>
  summaries.flatMap(({ id, order }, index): Change[] =>
    order === keys[index] ? [] : [{ type: 'reorder', id, order: keys[index] as string }],
  );

/** Changes that give the neighbours of a gap short keys. */
async function shortened(rows: StoredRows, moved: readonly SnippetSummary[], gap: number): Promise<Change[]> {
  const count = await rows.count();
  for (let reach = 50; ; reach *= 4) {
    const [from, to] = [Math.max(0, gap - reach), Math.min(count, gap + reach)];
    const [before] = from > 0 ? await rows.summaries(from - 1, 1) : [];
    const [after] = to < count ? await rows.summaries(to, 1) : [];
    const isWhole = from === 0 && to === count;
    if (!isWhole && Math.max(before?.order.length ?? 0, after?.order.length ?? 0) > longestKey / 2) continue;
    if (before && before.order === after?.order) continue;
    const ids = new Set(moved.map(({ id }) => id));
    if (!isWhole && [before, after].some((summary) => summary && ids.has(summary.id))) continue;
    const around = await rows.summaries(from, to - from);
    const stays = ({ id }: SnippetSummary): boolean => !ids.has(id);
    const inOrder = [...around.slice(0, gap - from).filter(stays), ...moved, ...around.slice(gap - from).filter(stays)];
    const keys = keysBetween(before?.order ?? null, after?.order ?? null, idsOf(inOrder));
    return [...(await sequenceAlong(rows, inOrder, keys)), ...reorders(inOrder, keys)];
  }
}

const idsOf = (summaries: readonly SnippetSummary[]): readonly string[] => summaries.map(({ id }) => id);

/** The sequence refers to a key, so it changes together with that key. */
async function sequenceAlong(
  rows: StoredRows,
  summaries: readonly SnippetSummary[],
  keys: readonly string[],
): Promise<Change[]> {
  const { sequence } = await readSettings(rows);
  const at = summaries.findIndex(({ order, id }) => order === sequence?.after && id === (sequence.id ?? id));
  return sequence && at >= 0 ? [{ type: 'sequence', sequence: { ...sequence, after: keys[at] as string } }] : [];
}

/** Rearranges snippets among their own positions into the order given; returns how many moved. */
export async function arrangeIn(rows: WritableRows, ids: readonly string[], at: Date): Promise<number> {
  const summaries: SnippetSummary[] = [];
  for (const id of new Set(ids)) summaries.push(await getSnippet(rows, id));
  const changes = reorders(summaries, summaries.map(({ order }) => order).sort());
  await commit(rows, { name: { kind: 'sorted', params: { count: summaries.length } }, changes, at });
  return changes.length;
}
