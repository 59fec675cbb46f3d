import { asBlocks } from '../content/index.ts';
import { picturesOf, type Snippet, type Storage, type WritableRows, withMethods } from '../drawer/index.ts';
import {
  contentOf,
  findKnown,
  firstState,
  isSame,
  type Known,
  marksOf,
  names,
  nextStamp,
  putKnown,
  putTold,
} from './notes.ts';
import {
  type Appended,
  allSeen,
  type Gone,
  type State,
  shownVersion,
  shownVersions,
  type Value,
  type Version,
} from './record.ts';

/** A snippet before a transaction changes it. */
interface Before {
  readonly snippet: Snippet | undefined;
  readonly known: Known | undefined;
}

/**
 * A storage that notes what this device changes, in the same transaction, once the drawer takes part (`takePart`). Until then it
 * does nothing more than the one it wraps.
 * @param now - milliseconds since 1970
 */
export function stampedStorage(storage: Storage, now: () => number): Storage {
  return withMethods<Storage>(storage, {
    write: (work) =>
      storage.write(async (rows) => {
        const device = await rows.findNote(names.device);
        return device === undefined ? work(rows) : stamped(rows, work, device, now());
      }),
  });
}

/**
 * Makes a drawer take part: from now on it notes what this device changes.
 * @param device - a name that no other device has: at most 32 letters `a`-`z` and digits
 */
export const takePart = (storage: Storage, device: string): Promise<void> =>
  storage.write((rows) => rows.putNote(names.device, device));

/** Does the work, and notes what it has changed. */
async function stamped<T>(
  rows: WritableRows,
  work: (rows: WritableRows) => Promise<T>,
  device: string,
  now: number,
): Promise<T> {
  const touched = new Map<string, Before>();
  const touch = async (id: string): Promise<void> => {
    if (touched.has(id)) return;
    const snippet = await rows.findSnippet(id);
    touched.set(id, { snippet, known: await findKnown(rows, id, snippet) });
  };
  const heard = withMethods<WritableRows>(rows, {
    insert: async (snippet) => touch(snippet.id).then(() => rows.insert(snippet)),
    remove: async (id) => touch(id).then(() => rows.remove(id)),
    erase: async (id) => touch(id).then(() => rows.erase(id)),
    setSummary: async (summary) => touch(summary.id).then(() => rows.setSummary(summary)),
  });
  const result = await work(heard);
  if (touched.size === 0) return result;
  const at = await nextStamp(rows, now, device);
  for (const [id, before] of touched) {
    const snippet = await rows.findSnippet(id);
    const state = after(before, snippet, at, device);
    if (state) await putKnown(rows, id, state, { snippet, before: before.known, changed: at });
    if (state && snippet?.secret && before.snippet) await putTold(rows, id, picturesOf(before.snippet.content));
  }
  return result;
}

/** The state of a snippet after a change of this device; `undefined` if that is nothing to tell. */
function after({ snippet, known }: Before, now: Snippet | undefined, at: string, device: string): State | undefined {
  // A secret was never told of, or is no longer.
  const isHidden = !snippet || snippet.secret !== undefined;
  const before = known?.state ?? (isHidden ? undefined : { by: device, ...firstState(snippet) });
  if (now && !now.secret) return changed(before, now, at, device);
  // Another device may have opened this secret; then its deletion has to be told.
  if (!before || (isHidden && (now || before.versions.length === 0))) return undefined;
  return now ? hidden(before, at, device) : { ...before, versions: [], gone: removed(before, at) };
}

/** The deletion of all versions that are known. */
const removed = ({ versions, gone }: State, at: string): Gone => ({
  at,
  seen: allSeen([...versions, ...(gone ? [gone] : [])]),
  ...(gone?.secretSince && { secretSince: gone.secretSince }),
});

/** It becomes a secret: nothing that others have of it may stay. */
function hidden(before: State, at: string, device: string): State {
  const gone = removed(before, at);
  const now = { [device]: (gone.seen[device] ?? 0) + 1 };
  const secretSince = { ...gone.secretSince, ...now };
  return {
    ...(before.by !== undefined && { by: before.by }),
    place: before.place,
    marks: { at },
    versions: [],
    gone: { at, seen: { ...gone.seen, ...now }, secretSince },
  };
}

/** It was kept, moved, marked or edited; `undefined` if none of that. */
function changed(before: State | undefined, now: Snippet, at: string, device: string): State | undefined {
  const { order } = now;
  const marks = { at, ...marksOf(now) };
  const value = contentOf(now);
  const known = before ? [...before.versions, ...(before.gone ? [before.gone] : [])] : [];
  const seen = allSeen(known);
  const version = { at, seen: { ...seen, [device]: (seen[device] ?? 0) + 1 }, order, value };
  if (!before) return { by: device, place: { at, order }, marks, versions: [version] };
  const last = shownVersion(before.versions);
  const isMoved = before.place.order !== order;
  const isMarked = !isSame(marks, { ...before.marks, at });
  // The facts of what several devices have appended are in the snippet alone.
  const { facts } = shownVersions(before.versions).length > 1 ? value : (last?.value ?? value);
  const isEdited = !isSame(last && { ...last.value, facts }, value);
  if (!isMoved && !isMarked && !isEdited) return undefined;
  const appended = isEdited && last && appendedTo(last, value, at);
  return {
    ...before,
    ...(isMoved && { place: { at, order } }),
    ...(isMarked && { marks }),
    ...(isEdited && { versions: [{ ...version, ...(appended && { appended }) }] }),
  };
}

/** After so many pieces what follows is appended to all of them. */
const mostPieces = 500;

/** What a new value appends to a version; `undefined` if it changes anything before its end. */
function appendedTo({ at: to, value: before, appended }: Version, value: Value, at: string): Appended | undefined {
  if (value.content.shape !== 'blocks') return undefined;
  const [was, is] = [asBlocks(before.content), value.content.blocks];
  if (is.length <= was.length || !was.every((block, index) => isSame(block, is[index]))) return undefined;
  const parts = before.parts?.length ?? 1;
  const piece = { at, blocks: is.length - was.length, parts: Math.max(0, (value.parts?.length ?? 1) - parts) };
  if (!appended || appended.pieces.length >= mostPieces) return { to, blocks: was.length, parts, pieces: [piece] };
  return { ...appended, pieces: [...appended.pieces, piece] };
}
