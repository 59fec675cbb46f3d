import { type Action, type Change, idOf, picturesOf } from './change.ts';
import { findSnippet } from './find-snippet.ts';
import { hashesOf, release } from './release.ts';
import type { Facts, Snippet } from './snippet.ts';
import type { WritableRows } from './storage.ts';

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
  await release(rows, [...picturesOf(content), ...(await forget(rows, id))]);
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
  for (const each of kin) if (each !== undefined && !(await findSnippet(rows, each))) dead.add(each);
  const hashes: string[] = [];
  for (const action of actions) {
    const gone = tells(action) ? kin : dead;
    const changes = action.changes.filter((change) => !gone.has(idOf(change)) && !bringsSecret(change, id));
    if (changes.length === action.changes.length) continue;
    hashes.push(...hashesOf(action));
    // With what would put it back into a file, the rest of what was cut with it could not go back either.
    if (changes.length === 0 || action.files) await rows.forgetAction(action.number);
    else await rows.putAction({ ...action, changes });
  }
  return hashes;
}

const bringsSecret = (change: Change, id: string): boolean =>
  'snippet' in change && change.snippet.id === id && change.snippet.secret !== undefined;
