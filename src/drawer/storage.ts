import { type Content, DrawerError, type Media, type Message, picturesIn } from '../content/index.ts';
import type { Action } from './change.ts';
import type { Query, searchEach } from './search.ts';
import type { Facts, Snippet, SnippetSummary } from './snippet.ts';

/** No snippet has this id (any more). */
export const noSnippet = (id: string): DrawerError => new DrawerError('not-found/snippet-unknown', { id });

/**
 * Where a drawer lives. Work handed to `write` happens wholly or not at all, and is safe on disk (where there is one)
 * when its promise is fulfilled; `read` sees one unchanging state. Works of one storage run one after another.
 */
export interface Storage {
  read<T>(work: (rows: StoredRows) => Promise<T>): Promise<T>;
  write<T>(work: (rows: WritableRows) => Promise<T>): Promise<T>;
  /** Calls back within a second of every change, whoever made it; the result ends that. */
  watch(changed: () => void): () => void;
  /** Whether what it holds is sealed under a passphrase; absent where that cannot be. */
  isLocked?(): boolean;
  /** Seals all it holds and will hold; no trace stays of what was in the clear. */
  lock?(passphrase: string): Promise<void>;
  /** Puts all it holds in the clear again. */
  unlock?(): Promise<void>;
  /** Comes after the works that wait; later ones are refused with `storage`, and nobody is called back any more. */
  close(): Promise<void>;
}

/** The rows a change is applied to. */
export interface Rows {
  get(id: string): Promise<Snippet>;
  insert(snippet: Snippet): Promise<void>;
  remove(id: string): Promise<void>;
  setSummary(summary: SnippetSummary): Promise<void>;
  /** The settings as JSON; `undefined` when none were kept. */
  findSettings(): Promise<string | undefined>;
  putSettings(json: string): Promise<void>;
}

/** A drawer as a storage reads it. */
export interface StoredRows {
  count(): Promise<number>;
  /** Summaries in order, from `offset` (from 0) on, at most `limit` of them. Reads only these. */
  summaries(offset: number, limit: number): Promise<readonly SnippetSummary[]>;
  /** @throws DrawerError `not-found` */
  get(id: string): Promise<Snippet>;
  /** The summary at the end; costs the same however many there are. */
  findLast(): Promise<SnippetSummary | undefined>;
  /** The settings as JSON; `undefined` when none were kept. */
  findSettings(): Promise<string | undefined>;
  findMedia(hash: string): Promise<Uint8Array | undefined>;
  /** How much there is: bytes of the words of all snippets (UTF-8) and of all pictures. */
  bytes(): Promise<number>;
  /** How many snippets stand in front of this order key. */
  countBefore(order: string): Promise<number>;
  /** The same for several order keys at once. */
  countsBefore(orders: readonly string[]): Promise<readonly number[]>;
  /** The snippets that fit, the best first and among equals the newest, at most `limit`. */
  search(query: Query, limit: number): Promise<readonly SnippetSummary[]>;
  /** Those that look in a list like any of these: the same preview and counts, wherever they are from. In order. */
  duplicates(facts: readonly Facts[]): Promise<readonly SnippetSummary[]>;
  /** Those whose time is up by `now` (ISO 8601 in UTC), the earliest first; at most `limit`, where that is given. */
  expired(now: string, limit?: number): Promise<readonly SnippetSummary[]>;
  /** What can be undone, newest first, and then what can be done again, as it would be. */
  actions(): Promise<readonly Action[]>;
  /** The hashes of all pictures, and bytes of files that undo puts back. */
  mediaHashes(): Promise<readonly string[]>;
  /** What is wrong with the storage itself, such as counts that are off; nothing where all is well. */
  faults(): Promise<readonly Message[]>;
  /** Whether any snippet shows this picture. */
  showsMedia(hash: string): Promise<boolean>;
  /** The last action that is done, or the first that is undone. */
  findAction(which: 'last done' | 'first undone'): Promise<Action | undefined>;
}

/** What became of the history. */
export interface TrimResult {
  /** The number of the newest action that was done, 0 for none. */
  readonly last: number;
  /** Those of the forgotten actions that needed bytes of pictures or files. */
  readonly forgotten: readonly Action[];
}

/** A drawer as a storage changes it, inside one transaction. */
export interface WritableRows extends StoredRows, Rows {
  putMedia(hash: string, bytes: Uint8Array): Promise<void>;
  /** Adds an action or replaces the one with its number. */
  putAction(action: Action): Promise<void>;
  /** Forgets undone actions, and done ones beyond `depth`, some at once: a tenth more may stay. */
  trimActions(depth: number): Promise<TrimResult>;
  forgetAction(number: number): Promise<void>;
  /** Removes a snippet without a trace, in the storage's own journals too once the work is done. */
  erase(id: string): Promise<void>;
  removeMedia(hash: string): Promise<void>;
}

/** The snippet, where it is still there. */
export async function findSnippet(rows: StoredRows, id: string): Promise<Snippet | undefined> {
  try {
    return await rows.get(id);
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'not-found') return undefined;
    throw error;
  }
}

/** The bytes of every picture in the content that the drawer has. */
export async function mediaOf(rows: StoredRows, content: Content): Promise<Media> {
  const media = new Map<string, Uint8Array>();
  for (const { media: hash } of picturesIn(content)) {
    const bytes = media.has(hash) ? undefined : await rows.findMedia(hash);
    if (bytes) media.set(hash, bytes);
  }
  return media;
}

/** How storages without an index search: through all they have. It is loaded with the first search. */
export const searchThrough: (...given: Parameters<typeof searchEach>) => Promise<readonly SnippetSummary[]> = async (
  ...given
) => (await import('./search.ts')).searchEach(...given);
