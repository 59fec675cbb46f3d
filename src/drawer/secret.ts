import { type Content, picturesIn } from '../content/index.ts';
import { type Action, type Change, idOf } from './change.ts';
import { findSnippet } from './find-snippet.ts';
import type { Facts, Snippet } from './snippet.ts';
import type { WritableRows } from './storage.ts';

/** The hashes of all pictures in it. */
export const picturesOf = (content: Content): ReadonlySet<string> =>
  new Set([...picturesIn(content)].map(({ media }) => media));

/** What stands for the words of a secret. */
export const hidden = '••••••';

/** What lists show of a secret snippet. */
export const maskedFacts = ({ shape }: Pick<Facts, 'shape'>): Facts => ({
  shape,
  what: 'secret',
  preview: hidden,
  characters: 0,
  words: 0,
  lines: 0,
  bytes: 0,
});

/** The facts that may be told. */
export const factsShown = (facts: Facts, secret: Snippet['secret']): Facts => (secret ? maskedFacts(facts) : facts);

/**
 * Removes a snippet without a way back: it leaves the history too, and its pictures go unless others show them. `next` is put
 * in its place.
 */
export async function erase(rows: WritableRows, { id, content }: Snippet, next?: Snippet): Promise<void> {
  await rows.erase(id);
  if (next) await rows.insert(next);
  const shown = new Set<string>();
  for (const change of await forget(rows, id))
    if ('snippet' in change) for (const media of picturesOf(change.snippet.content)) shown.add(media);
  for (const media of picturesOf(content))
    if (!shown.has(media) && !(await rows.showsMedia(media))) await rows.removeMedia(media);
}

/**
 * Takes a secret out of the history, with all that it was parted from or put together of, since that tells of it; gives the
 * changes that are left. Kin that is still in the drawer stays, and what else was done to it can be undone.
 */
async function forget(rows: WritableRows, id: string): Promise<readonly Change[]> {
  const actions = await rows.actions();
  const kin = new Set([id]);
  const telling = new Set<Action>();
  const findMore = (): boolean =>
    actions.some((action) => {
      const ids = action.reshapes && !telling.has(action) ? action.changes.flatMap((change) => idOf(change) ?? []) : [];
      if (!ids.some((each) => kin.has(each))) return false;
      for (const each of ids) kin.add(each);
      return telling.add(action);
    });
  while (findMore());
  const dead = new Set<string>();
  for (const each of kin) if (!(await findSnippet(rows, each))) dead.add(each);
  const left: Change[] = [];
  for (const action of actions) {
    const gone = telling.has(action) ? kin : dead;
    const changes = action.changes.filter((change) => !gone.has(idOf(change) ?? '') && !bringsSecret(change, id));
    left.push(...changes);
    if (changes.length === action.changes.length) continue;
    if (changes.length === 0 && !action.files) await rows.forgetAction(action.number);
    else await rows.putAction({ ...action, changes });
  }
  return left;
}

const bringsSecret = (change: Change, id: string): boolean =>
  'snippet' in change && change.snippet.id === id && change.snippet.secret !== undefined;
