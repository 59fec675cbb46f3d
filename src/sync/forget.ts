import type { WritableRows } from '../drawer/index.ts';
import { deviceOf } from './clock.ts';
import { besideIdOf, findHere, findKnown, type Known, names, notesUnder, putKnown, putTold } from './notes.ts';
import type { SyncRecord } from './record.ts';

/** Notes when deletions were told of for the first time. @param records - as they were told */
export async function putToldDeletions(rows: WritableRows, records: readonly SyncRecord[]): Promise<void> {
  for (const { id, state } of records) {
    const { told, at } = state.gone ?? {};
    const { snippet, known } = await findHere(rows, id);
    const gone = known?.state.gone;
    // What was deleted again meanwhile is told of later.
    if (told === undefined || !gone || gone.told !== undefined || gone.at !== at) continue;
    await putKnown(rows, id, { ...known.state, gone: { ...gone, told } }, { snippet, before: known });
  }
}

/**
 * Forgets old deletions. Two kinds are kept: those of secrets, and those of a second version (`putBeside`) as long as its snippet still
 * has both versions. Otherwise merging would make that second version again.
 * @param before - when they were told of at the latest, in milliseconds since 1970
 */
export async function forgetDeletions(rows: WritableRows, before: number): Promise<void> {
  const notes = await notesUnder(rows, names.record(''));
  const noted = [...notes].map(([id, value]) => ({ id, known: JSON.parse(value) as Known }));
  const edited = noted.filter(({ known }) => known.state.versions.length > 1);
  const beside = new Set(edited.flatMap(({ id, known }) => known.state.versions.map(({ at }) => besideIdOf(id, at))));
  for (const { id, known } of noted) {
    const { versions, gone } = known.state;
    const isOld = gone?.told !== undefined && gone.told < before && !gone.secretSince;
    if (isOld && versions.length === 0 && !beside.has(id)) await forget(rows, id, known);
  }
}

/**
 * Removes what no device tells of any more: others have deleted it, and forgotten that they did. What was edited here since stays.
 * @param told - ids of the snippets that are told of
 * @param own - the names of this device: those it has, and had
 * @param since - the stamp of the last edit of this device that others know of
 * @returns how many
 */
export async function removeForgotten(
  rows: WritableRows,
  told: ReadonlySet<string>,
  own: ReadonlySet<string>,
  since: string,
): Promise<number> {
  let count = 0;
  for (const { id, secret } of await rows.summaries(0, await rows.count())) {
    if (secret || told.has(id)) continue;
    const known = await findKnown(rows, id, await rows.findSnippet(id));
    if (known?.state.versions.some(({ at }) => at > since && own.has(deviceOf(at)))) continue;
    await rows.remove(id);
    await forget(rows, id, known);
    count++;
  }
  return count;
}

async function forget(rows: WritableRows, id: string, known: Known | undefined): Promise<void> {
  if ((await rows.findNote(names.blobs(id))) !== undefined) await putTold(rows, id);
  if (known?.changed !== undefined) await rows.putNote(names.changed(known.changed, id), undefined);
  await rows.putNote(names.record(id), undefined);
}
