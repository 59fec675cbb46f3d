import { utf8ToBytes } from '@noble/hashes/utils.js';
import { deviceNote, hashOf, type Snippet, type StoredRows, type WritableRows } from '../drawer/index.ts';
import { stampAfter, stampOf, zero } from './clock.ts';
import { newest, type State, shownVersions, type Value, type Version } from './record.ts';

/** What a drawer that takes part keeps beside its snippets. Names begin with `sync/`. */
export const names = {
  /** The name of this device. */
  device: deviceNote,
  /** The highest stamp this device knows of. */
  clock: 'sync/clock',
  /** There if what this device has told holds what is a secret now: its pictures, and the folders (`done`) that tell no more of it. */
  told: 'sync/told-secret',
  /** Where a device's own log was written up to, for each place where devices meet (`remote`). */
  sent: (remote: string, device: string): string => `sync/sent/${remote}/${device}`,
  /** How people call a device. */
  nameOf: (device: string): string => `sync/name/${device}`,
  record: (id: string): string => `sync/record/${id}`,
  /** What has changed here, by stamp: to be sent. */
  changed: (at: string, id: string): string => `sync/changed/${at}/${id}`,
} as const;

/** The range of the names of changes after a stamp. */
export const changedAfter = (at: string): readonly [string, string] => [`sync/changed/${at}0`, 'sync/changed0'];

/** What is noted of a snippet: nothing where no device has changed it since this one took part. */
export interface Known {
  readonly state: State;
  /** The stamp of the last change of this device. */
  readonly changed?: string;
}

/** @returns `undefined` for a snippet that nothing was noted of */
export async function findKnown(
  rows: StoredRows,
  id: string,
  snippet: Snippet | undefined,
): Promise<Known | undefined> {
  const note = await rows.findNote(names.record(id));
  if (note === undefined) return undefined;
  const known = JSON.parse(note) as Known;
  if (!snippet) return known;
  const filled = known.state.versions.map((each) => (each.value ? each : { ...each, value: contentOf(snippet) }));
  return { ...known, state: { ...known.state, versions: filled } };
}

/** What `putKnown` goes by. */
interface Around {
  /** The snippet as it is in the drawer now. */
  readonly snippet: Snippet | undefined;
  readonly before: Known | undefined;
  /** The stamp of a change of this device. */
  readonly changed?: string;
}

/** Notes what is known of a snippet. A version that is shown by itself has its value in the snippet alone. */
export async function putKnown(
  rows: WritableRows,
  id: string,
  state: State,
  { snippet, before, changed }: Around,
): Promise<void> {
  if (changed !== undefined) {
    if (before?.changed !== undefined) await rows.putNote(names.changed(before.changed, id), undefined);
    await rows.putNote(names.changed(changed, id), '');
  }
  const at = changed ?? before?.changed;
  const known = {
    state: snippet && !snippet.secret ? withoutShown(state) : state,
    ...(at !== undefined && { changed: at }),
  };
  await rows.putNote(names.record(id), JSON.stringify(known));
}

function withoutShown(state: State): State {
  if (shownVersions(state.versions).length > 1) return state;
  const top = newest(state.versions);
  const versions = state.versions.map((version) => (version.at === top?.at ? { ...version, value: null } : version));
  return { ...state, versions: versions as readonly Version[] };
}

/** The stamp of a change of this device, higher than all that it knows of. @param now - milliseconds since 1970 */
export async function nextStamp(rows: WritableRows, now: number, device: string): Promise<string> {
  const stamp = stampAfter((await rows.findNote(names.clock)) ?? '', now, device);
  await rows.putNote(names.clock, stamp);
  return stamp;
}

/** Notes that what this device has told before is to be told anew, without what is a secret now. */
export async function putTold(rows: WritableRows, pictures: Iterable<string>): Promise<void> {
  const before = JSON.parse((await rows.findNote(names.told)) ?? '{}') as { readonly pictures?: readonly string[] };
  const told = { pictures: [...new Set([...(before.pictures ?? []), ...pictures])], done: [] };
  await rows.putNote(names.told, JSON.stringify(told));
}

/** The state of a snippet that no device has changed since this one took part: the same for the same snippet everywhere. */
export function firstState(snippet: Snippet): State {
  const { order } = snippet;
  const value = contentOf(snippet);
  const mark = hashOfText(JSON.stringify(value)).slice(0, 8);
  const at = stampOf(Date.parse(snippet.takenAt), 0, mark);
  return {
    place: { at: zero, order },
    marks: { at: zero, ...marksOf(snippet) },
    versions: [{ at, seen: { [mark]: 1 }, order, value }],
  };
}

/** SHA-256, in hexadecimal. */
export const hashOfText = (text: string): string => hashOf(utf8ToBytes(text));

/** What an edit replaces. */
export function contentOf(snippet: Snippet): Value {
  const { id: _, order: __, label: ___, held: ____, secret: _____, expiresAt: ______, ...value } = snippet;
  return value;
}

export const marksOf = ({ label, held, expiresAt }: Snippet): Pick<Snippet, 'label' | 'held' | 'expiresAt'> => ({
  ...(label !== undefined && { label }),
  ...(held && { held }),
  ...(expiresAt !== undefined && { expiresAt }),
});

/** Whether two values are the same, in whatever order their fields are. */
export const isSame = (one: unknown, other: unknown): boolean => canonical(one) === canonical(other);

/** JSON with the fields of each object sorted by name. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, each: unknown) =>
    typeof each === 'object' && each !== null && !Array.isArray(each)
      ? Object.fromEntries(Object.entries(each).sort(([one], [other]) => (one < other ? -1 : 1)))
      : each,
  );
