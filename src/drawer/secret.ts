import { type Content, picturesIn } from '../content/index.ts';
import type { Change } from './change.ts';
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

/** Removes a snippet without a way back: it leaves the history too, and its pictures go unless others show them. */
export async function erase(rows: WritableRows, { id, content }: Snippet): Promise<void> {
  await rows.erase(id);
  for (const action of await rows.actions()) {
    const changes = action.changes.filter((change) => !concerns(change, id));
    if (changes.length === action.changes.length) continue;
    if (changes.length === 0 && !action.files) await rows.forgetAction(action.number);
    else await rows.putAction({ ...action, changes });
  }
  for (const media of picturesOf(content)) if (!(await rows.showsMedia(media))) await rows.removeMedia(media);
}

function concerns(change: Change, id: string): boolean {
  if ('id' in change) return change.id === id;
  return 'snippet' in change && change.snippet.id === id;
}
