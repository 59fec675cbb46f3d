import { utf8ToBytes } from '@noble/hashes/utils.js';
import {
  deviceNote,
  hashOf,
  type Snippet,
  type StoredNote,
  type StoredRows,
  type WritableRows,
} from '../drawer/index.ts';
import { stampAfter, stampOf, timeOf, zero } from './clock.ts';
import { newest, type State, shownVersions, type Value, type Version } from './record.ts';

/** What a drawer that takes part keeps beside its snippets. Names begin with `sync/`. */
export const names = {
  /** The name of this device. */
  device: deviceNote,
  /** A name that this device had before: it takes another for each new log. */
  former: (device: string): string => `sync/former/${device}`,
  /** How people call this device. */
  ownName: 'sync/own-name',
  /** Where this drawer is; a copy is somewhere else. */
  where: 'sync/where',
  /** The highest stamp this device knows of. */
  clock: 'sync/clock',
  /** There if what this device has told holds what is a secret now, or was forgotten: its blobs, and the places (`done`) that tell no more of it. */
  told: 'sync/told-secret',
  /** The hashes of all blobs that this device has told of in a snippet. */
  blobs: (id: string): string => `sync/blobs/${id}`,
  /** What this device has told in its own log, for each place where devices meet (`remote`). */
  sent: (remote: string, device: string): string => `sync/sent/${remote}/${device}`,
  /** The same of the drawer that this one is a copy of. */
  copied: (remote: string, device: string): string => `sync/copied/${remote}/${device}`,
  /** What was read of another device's log. */
  read: (remote: string, device: string): string => `sync/read/${remote}/${device}`,
  /** How many frames were read of a log that need not be there any more. */
  replaced: (device: string): string => `sync/replaced/${device}`,
  /** How people call a device. */
  nameOf: (device: string): string => `sync/name/${device}`,
  record: (id: string): string => `sync/record/${id}`,
  /** What has changed here, by stamp: to be sent. */
  changed: (at: string, id: string): string => `sync/changed/${at}/${id}`,
} as const;

/** The range of the names of changes after a stamp. */
export const changedAfter = (at: string): readonly [string, string] => [`sync/changed/${at}0`, 'sync/changed0'];

/** The range of the names that begin with this. @param beginning - with `/` at its end */
export const under = (beginning: string): readonly [string, string] => [beginning, `${beginning.slice(0, -1)}0`];

/** The values of all notes whose names begin with this, by the rest of the name. @param beginning - with `/` at its end */
export const notesUnder = async (rows: StoredRows, beginning: string): Promise<ReadonlyMap<string, string>> =>
  restOf(await rows.notes(...under(beginning), most), beginning);

/** Notes by what their names have behind this. */
export const restOf = (notes: readonly StoredNote[], beginning: string): ReadonlyMap<string, string> =>
  new Map(notes.map(({ name, value }) => [name.slice(beginning.length), value]));

/** The notes of what has changed here after a stamp. */
export const changesAfter = (rows: StoredRows, at: string): Promise<readonly StoredNote[]> =>
  rows.notes(...changedAfter(at), most);

/** As many as any storage can give. */
const most = 2 ** 31 - 1;

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

/** What this device has of a snippet; `state` is `undefined` for one that never leaves it, or is not there. */
export async function findHere(
  rows: StoredRows,
  id: string,
): Promise<{ readonly snippet?: Snippet; readonly known?: Known; readonly state?: State }> {
  const snippet = await rows.findSnippet(id);
  const known = await findKnown(rows, id, snippet);
  const state = known?.state ?? (snippet && !snippet.secret ? firstState(snippet) : undefined);
  return { ...(snippet && { snippet }), ...(known && { known }), ...(state && { state }) };
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

/** The time by the clock of this device, or by what it has heard of if that is later: it never goes back. @param now - milliseconds since 1970 */
export const timeHeard = async (rows: StoredRows, now: number): Promise<number> =>
  Math.max(now, timeOf((await rows.findNote(names.clock)) ?? ''));

/** Notes that what this device has told of a snippet before must not be told any more, and its blobs must go. @param more - hashes of blobs */
export async function putTold(rows: WritableRows, id: string, more: Iterable<string> = []): Promise<void> {
  const before = JSON.parse((await rows.findNote(names.told)) ?? '{}') as { readonly blobs?: readonly string[] };
  const all = [...(before.blobs ?? []), ...(await blobsTold(rows, id)), ...more];
  await rows.putNote(names.blobs(id), undefined);
  await rows.putNote(names.told, JSON.stringify({ blobs: [...new Set(all)], done: [] }));
}

/** The hashes of all blobs that this device has told of in a snippet. */
export const blobsTold = async (rows: StoredRows, id: string): Promise<readonly string[]> =>
  JSON.parse((await rows.findNote(names.blobs(id))) ?? '[]') as readonly string[];

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

/** The id of the snippet that a version becomes where another one is shown: the same on every device. @param at - the version's stamp */
export const besideIdOf = (id: string, at: string): string => hashOfText(`${id} ${at}`).slice(0, 32);

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
