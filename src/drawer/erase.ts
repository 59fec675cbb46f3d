import { type Action, type Change, idOf, picturesOf } from './change.ts';
import type { Facts, Snippet } from './snippet.ts';
import type { StoredRows, WritableRows } from './storage.ts';

/** What stands for the words of a secret. */
export const hidden = '••••••';

/** What lists show of a secret snippet. */
export const maskedFacts = ({ shape }: Pick<Facts, 'shape'>): Facts => ({
  shape,
  what: { kind: 'secret' },
  preview: hidden,
  characters: 0,
  words: 0,
  lines: 0,
  bytes: 0,
});

/** The facts that may be told. */
export const factsShown = (facts: Facts, secret: Snippet['secret']): Facts => (secret ? maskedFacts(facts) : facts);

/**
 * Removes a snippet without a way back: it leaves the history too, with what would put it back into files, and its pictures go
 * unless others show them. `next` is put in its place.
 */
export async function erase(rows: WritableRows, { id, content }: Snippet, next?: Snippet): Promise<void> {
  await rows.erase(id);
  if (next) await rows.insert(next);
  await collectMedia(rows, [...picturesOf(content), ...(await forget(rows, id))]);
}

/** Removes from the history what could bring back a snippet that is not in the drawer any more. */
export async function eraseFromHistory(rows: WritableRows, id: string): Promise<void> {
  await collectMedia(rows, await forget(rows, id));
}

/**
 * Takes a secret out of the history, with all that it was parted from or put together of, since that tells of it; gives the
 * hashes of the bytes that this needed. Kin that is still in the drawer stays, and what else was done to it can be undone.
 */
async function forget(rows: WritableRows, id: string): Promise<readonly string[]> {
  const actions = await rows.actions();
  const kin = new Set<string | undefined>([id]);
  const tells = ({ reshapes, changes }: Action): boolean =>
    reshapes === true && changes.some((change) => kin.has(idOf(change)));
  for (let known = 0; known < kin.size; ) {
    known = kin.size;
    for (const { changes } of actions.filter(tells)) for (const change of changes) kin.add(idOf(change));
  }
  const dead = new Set<string | undefined>();
  for (const each of kin) if (each !== undefined && !(await rows.findSnippet(each))) dead.add(each);
  const hashes: string[] = [];
  for (const action of actions) {
    const gone = tells(action) ? kin : dead;
    const changes = action.changes.filter((change) => !gone.has(idOf(change)) && !bringsSecret(change, kin));
    if (changes.length === action.changes.length) continue;
    hashes.push(...hashesOf(action));
    // With what would put it back into a file, the rest of what was cut with it could not go back either.
    if (changes.length === 0 || action.files) await rows.forgetAction(action.number);
    else await rows.putAction({ ...action, changes });
  }
  return hashes;
}

/** Whether a change brings back a secret content of one of these, which may hold the words of the others. */
const bringsSecret = (change: Change, ids: ReadonlySet<string | undefined>): boolean =>
  'snippet' in change && ids.has(change.snippet.id) && change.snippet.secret !== undefined;

/** In a larger drawer, looking through everything for pictures takes longer than their bytes are worth. */
const mostLookedThrough = 20_000;

/** Lets bytes go that only actions needed which are forgotten: of files that undo puts back, and of pictures. */
export async function collectForgotten(rows: WritableRows, forgotten: readonly Action[]): Promise<void> {
  if (forgotten.length === 0) return;
  const looksForAll = (await rows.count()) <= mostLookedThrough;
  await collectMedia(rows, forgotten.flatMap(looksForAll ? hashesOf : betweenOf));
}

/** Lets those of the bytes go that no snippet shows, and no action needs. */
export async function collectMedia(rows: WritableRows, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return;
  const needed = await neededBytes(rows);
  for (const hash of new Set(hashes))
    if (!needed.has(hash) && !(await rows.showsMedia(hash))) await rows.removeMedia(hash);
}

const neededBytes = async (rows: StoredRows): Promise<ReadonlySet<string>> =>
  new Set((await rows.actions()).flatMap(hashesOf));

const betweenOf = ({ files = [] }: Pick<Action, 'files'>): readonly string[] => files.map(({ between }) => between);

/** What an action needs: bytes between what stays of files, and pictures of what it brings. */
export const hashesOf = (action: Pick<Action, 'changes' | 'files'>): readonly string[] => [
  ...betweenOf(action),
  ...action.changes.flatMap((change) => ('snippet' in change ? [...picturesOf(change.snippet.content)] : [])),
];
