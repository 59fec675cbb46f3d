import { DrawerError } from '../content/index.ts';
import {
  erase,
  eraseFromHistory,
  type FactsOf,
  lettersOf,
  type OthersChanges,
  othersNote,
  type Snippet,
  type StoredRows,
  type WritableRows,
} from '../drawer/index.ts';
import { deviceOf, mostAhead, timeOf } from './clock.ts';
import { besideIdOf, findHere, isSame, marksOf, names, nextStamp, putKnown, putTold } from './notes.ts';
import { join, type State, type SyncRecord, shown, shownVersions, type Version } from './record.ts';

/** What a record of another device did to the drawer. */
export interface Merge {
  readonly id: string;
  readonly kind: 'added' | 'changed' | 'removed' | 'none';
  /** Ids of new snippets for versions that were edited on two devices at once, each beside the one that is shown. */
  readonly beside: readonly string[];
}

/** How merging is told of the device and its time. */
export interface MergeOptions {
  /** Milliseconds since 1970. */
  readonly now: number;
  /** The label of a version that stays beside the one that is shown. */
  labelBeside(preview: string): string;
  /** Facts of contents in a language. Their code is loaded before: meanwhile a transaction of a page would end. */
  factsOf(language: string | undefined): FactsOf;
}

/**
 * Puts what another device knows of some snippets together with what this one knows. Pictures in them have to be there already.
 * @param records - checked by `parseRecord`
 * @throws DrawerError `sync-clock-ahead`
 */
export async function mergeRecords(
  rows: WritableRows,
  records: readonly SyncRecord[],
  options: MergeOptions,
): Promise<readonly Merge[]> {
  await hear(rows, highestStamp(records, options.now));
  const merges: Merge[] = [];
  for (const record of records) merges.push(await mergeRecord(rows, record, options));
  return merges;
}

async function mergeRecord(rows: WritableRows, { id, state: told }: SyncRecord, options: MergeOptions): Promise<Merge> {
  const { snippet: before, known, state: here } = await findHere(rows, id);
  const state = here ? join(here, told) : told;
  // A secret of this device stays as it is.
  const snippet = before?.secret ? before : shownWithFacts(id, state, options);
  const isSecretNow = JSON.stringify(state.gone?.secretSince) !== JSON.stringify(here?.gone?.secretSince);
  if (!before?.secret) {
    if (isSecretNow) await (before ? erase(rows, before) : eraseFromHistory(rows, id));
    await put(rows, isSecretNow ? undefined : before, snippet);
    // Of one that was never here there is nothing to undo.
    if (snippet && (before || known)) await putOthers(rows, before, snippet, options.now);
  }
  await putKnown(rows, id, state, { snippet, before: known });
  if (isSecretNow && known?.changed !== undefined) await putTold(rows, id);
  const beside = snippet && !snippet.secret ? await putBeside(rows, snippet, state.versions, options) : [];
  return { id, kind: kindOf(before, snippet), beside };
}

function shownWithFacts(id: string, state: State, { factsOf }: MergeOptions): Snippet | undefined {
  const snippet = shown(id, state);
  if (!snippet || shownVersions(state.versions).length === 1) return snippet;
  const { content, language } = snippet;
  return { ...snippet, facts: factsOf(language)(content, language) };
}

function kindOf(before: Snippet | undefined, next: Snippet | undefined): Merge['kind'] {
  if (!next) return before ? 'removed' : 'none';
  if (!before) return 'added';
  return isSame(before, next) ? 'none' : 'changed';
}

/** The highest stamp of records. @param now - milliseconds since 1970. @throws DrawerError if it is too far ahead */
function highestStamp(records: readonly SyncRecord[], now: number): string {
  let highest = '';
  for (const { state } of records)
    for (const { at } of [state.place, state.marks, ...state.versions, ...(state.gone ? [state.gone] : [])])
      if (at > highest) highest = at;
  if (highest !== '') checkTime(timeOf(highest), now);
  return highest;
}

/** @param time, now - milliseconds since 1970. @throws DrawerError `sync-clock-ahead` for a time too far ahead */
export function checkTime(time: number, now: number): void {
  if (time <= now + mostAhead) return;
  throw new DrawerError('refused/sync-clock-ahead', { minutes: Math.ceil((time - now) / 60_000) });
}

/** Stamps of this device are higher than all it has heard of. */
async function hear(rows: WritableRows, stamp: string): Promise<void> {
  if (stamp > ((await rows.findNote(names.clock)) ?? '')) await rows.putNote(names.clock, stamp);
}

async function put(rows: WritableRows, before: Snippet | undefined, next: Snippet | undefined): Promise<void> {
  if (!next) return before ? rows.remove(before.id) : undefined;
  if (!before) return rows.insert(next);
  if (isSame(before, next)) return;
  if (isSame(before.content, next.content)) {
    const { content: _, ...summary } = next;
    return rows.setSummary(summary);
  }
  await rows.remove(before.id);
  return rows.insert(next);
}

/** Notes what others have changed, so that undoing what this device did before does not take it away. */
async function putOthers(rows: WritableRows, before: Snippet | undefined, next: Snippet, now: number): Promise<void> {
  const at = new Date(now).toISOString();
  const changed: OthersChanges = {
    ...(!isSame(before?.content, next.content) && { content: at }),
    ...(!isSame(before && marksOf(before), marksOf(next)) && { marks: at }),
  };
  if (Object.keys(changed).length === 0) return;
  const note = await rows.findNote(othersNote(next.id));
  const earlier = note === undefined ? {} : (JSON.parse(note) as OthersChanges);
  await rows.putNote(othersNote(next.id), JSON.stringify({ ...earlier, ...changed }));
}

/** Each version that is not shown becomes a snippet of its own, the same on every device. */
async function putBeside(
  rows: WritableRows,
  { id, content }: Snippet,
  versions: readonly Version[],
  { labelBeside, now }: MergeOptions,
): Promise<readonly string[]> {
  const added: string[] = [];
  const together = shownVersions(versions);
  for (const version of versions) {
    const { at, seen, order, value } = version;
    if (together.includes(version) || isSame(value.content, content)) continue;
    const besideId = besideIdOf(id, at);
    if ((await rows.findNote(names.record(besideId))) !== undefined) continue;
    const place = { at, order: order + lettersOf(besideId) };
    const state: State = {
      by: deviceOf(at),
      place,
      marks: { at, label: labelBeside(value.facts.preview) },
      versions: [{ at, seen, order: place.order, value }],
    };
    const snippet = shown(besideId, state) as Snippet;
    const changed = await nextStamp(rows, now, (await rows.findNote(names.device)) ?? '');
    await rows.insert(snippet);
    await putKnown(rows, besideId, state, { snippet, before: undefined, changed });
    added.push(besideId);
  }
  return added;
}

/**
 * What this device tells the others of a snippet; `undefined` for one that never leaves it.
 * @param now - milliseconds since 1970: when a deletion is told of for the first time
 */
export async function recordOf(
  rows: StoredRows,
  id: string,
  device: string,
  now: number,
): Promise<SyncRecord | undefined> {
  const { known, state: here } = await findHere(rows, id);
  const state = here && !known ? { by: device, ...here } : here;
  if (!state?.gone || state.gone.told !== undefined) return state && { id, state };
  return { id, state: { ...state, gone: { ...state.gone, told: now } } };
}
