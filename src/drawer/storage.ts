import type { Action, Rows } from './change.ts';
import type { Snippet, SnippetHead } from './snippet.ts';

/**
 * Where a drawer lives. Work handed to `write` happens wholly or not at all, and is safe on disk (where there is one)
 * when its promise is fulfilled; `read` sees one unchanging state. Works of one storage run one after another.
 */
export interface Storage {
  read<T>(work: (rows: StoredRows) => Promise<T>): Promise<T>;
  write<T>(work: (rows: WritableRows) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

export interface StoredRows {
  count(): Promise<number>;
  /** Heads in order, from `offset` (from 0) on, at most `limit` of them. Reads only these. */
  heads(offset: number, limit: number): Promise<readonly SnippetHead[]>;
  /** @throws DrawerError `not-found` */
  get(id: string): Promise<Snippet>;
  /** The head at the end; costs the same however many there are. */
  findLast(): Promise<SnippetHead | undefined>;
  /** The settings as JSON; `undefined` when none were kept. */
  findSettings(): Promise<string | undefined>;
  findMedia(hash: string): Promise<Uint8Array | undefined>;
  /** The last action that is done, or the first that is undone. */
  findAction(which: 'last done' | 'first undone'): Promise<Action | undefined>;
}

export interface WritableRows extends StoredRows, Rows {
  putMedia(hash: string, bytes: Uint8Array): Promise<void>;
  /** Adds an action or replaces the one with its number. */
  putAction(action: Action): Promise<void>;
  /** Forgets undone actions, and done ones beyond `depth`. */
  trimActions(depth: number): Promise<void>;
}
