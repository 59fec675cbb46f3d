import { type Content, DrawerError, type Media, type Message, picturesIn } from '../content/index.ts';
import type { Action } from './change.ts';
import type { Query, searchEach } from './search.ts';
import type { Facts, Snippet, SnippetSummary, SortKey } from './snippet.ts';

/** The error for an id that no snippet has, or no longer has. */
export const noSnippet = (id: string): DrawerError => new DrawerError('not-found/snippet-unknown', { id });

/**
 * Stores a drawer. `write` runs a transaction: all or nothing, and durable (where there is a disk) once its promise is
 * fulfilled. `read` sees one consistent state. The transactions of one storage run one after another.
 */
export interface Storage {
  read<T>(work: (rows: StoredRows) => Promise<T>): Promise<T>;
  write<T>(work: (rows: WritableRows) => Promise<T>): Promise<T>;
  /** Calls `changed` within a second of every change, by any program; returns a function that stops it. */
  watch(changed: () => void): () => void;
  /** Whether the contents are encrypted under a passphrase; absent if the storage cannot be locked. */
  isLocked?(): boolean;
  /** Encrypts all present and future contents, and erases every trace of the plaintext. */
  lock?(passphrase: string): Promise<void>;
  /** Decrypts all contents. */
  unlock?(): Promise<void>;
  /** Closes after the waiting transactions; later ones are refused with `storage`, and watching ends. */
  close(): Promise<void>;
}

/** The operations that applying a change needs. */
export interface Rows {
  /** The snippet with this id; `undefined` if there is none. */
  findSnippet(id: string): Promise<Snippet | undefined>;
  insert(snippet: Snippet): Promise<void>;
  remove(id: string): Promise<void>;
  setSummary(summary: SnippetSummary): Promise<void>;
  /** The settings as JSON; `undefined` if none are stored. */
  findSettings(): Promise<string | undefined>;
  putSettings(json: string): Promise<void>;
}

/** Read access to a drawer, inside one transaction. */
export interface StoredRows {
  count(): Promise<number>;
  /**
   * Summaries sorted by order key, and by id where that is the same; from `offset` (counted from 0), at most `limit`. Reads no
   * others.
   */
  summaries(offset: number, limit: number): Promise<readonly SnippetSummary[]>;
  /** The snippet with this id; `undefined` if there is none. */
  findSnippet(id: string): Promise<Snippet | undefined>;
  /** The last summary; in constant time. */
  findLast(): Promise<SnippetSummary | undefined>;
  /** The settings as JSON; `undefined` if none are stored. */
  findSettings(): Promise<string | undefined>;
  findMedia(hash: string): Promise<Uint8Array | undefined>;
  /** Total size in bytes: the text of all snippets (UTF-8) and all pictures. */
  bytes(): Promise<number>;
  /** Number of snippets before the place of an order key and id, whether or not there is a snippet. */
  countBefore(key: SortKey): Promise<number>;
  /** `countBefore` for several places. */
  countsBefore(keys: readonly SortKey[]): Promise<readonly number[]>;
  /** Matching snippets, best match first and then newest first, at most `limit`. */
  search(query: Query, limit: number): Promise<readonly SnippetSummary[]>;
  /** Snippets with the same preview and counts as any of these, from any origin; in the drawer's order. */
  duplicates(facts: readonly Facts[]): Promise<readonly SnippetSummary[]>;
  /** Snippets that have expired by `now` (ISO 8601 in UTC), earliest first; at most `limit` if given. */
  expired(now: string, limit?: number): Promise<readonly SnippetSummary[]>;
  /** Actions to undo, newest first; then actions to redo, in the order of redo. */
  actions(): Promise<readonly Action[]>;
  /** The hashes of all pictures, and of the file bytes kept for undo. */
  mediaHashes(): Promise<readonly string[]>;
  /** Defects of the storage itself, such as wrong counts; empty if there are none. */
  faults(): Promise<readonly Message[]>;
  /** Whether any snippet contains this picture. */
  showsMedia(hash: string): Promise<boolean>;
  /** The note of a name; `undefined` if there is none. Programs keep notes beside the snippets, such as what they have synced. */
  findNote(name: string): Promise<string | undefined>;
  /** Notes with names from `from` up to but not including `to`, sorted by name (by code units); at most `limit`. */
  notes(from: string, to: string, limit: number): Promise<readonly StoredNote[]>;
  /** The next action to undo, or to redo. */
  findAction(which: 'last done' | 'first undone'): Promise<Action | undefined>;
}

/** A text that is kept beside the snippets, by its name. */
export interface StoredNote {
  readonly name: string;
  readonly value: string;
}

/** The note by which a drawer takes part in syncing: the name of its device. */
export const deviceNote = 'sync/device';

/** The note of what other devices have changed of a snippet: an `OthersChanges` as JSON. */
export const othersNote = (id: string): string => `sync/others/${id}`;

/** When this device last heard that others had changed a snippet's content, or its marks: ISO 8601 in UTC. */
export interface OthersChanges {
  readonly content?: string;
  readonly marks?: string;
}

/** The history after trimming. */
export interface TrimResult {
  /** The number of the newest action that is done; 0 if there is none. */
  readonly last: number;
  /** Forgotten actions that referred to bytes of pictures or files. */
  readonly forgotten: readonly Action[];
}

/** Write access to a drawer, inside one transaction. */
export interface WritableRows extends StoredRows, Rows {
  putMedia(hash: string, bytes: Uint8Array): Promise<void>;
  /** Adds an action, or replaces the one with the same number. */
  putAction(action: Action): Promise<void>;
  /** Forgets undone actions, and done ones beyond `depth`. Works in batches: up to a tenth more may remain. */
  trimActions(depth: number): Promise<TrimResult>;
  forgetAction(number: number): Promise<void>;
  /** Keeps a note, or removes it (`undefined`). */
  putNote(name: string, value: string | undefined): Promise<void>;
  /** Removes a snippet without a trace, also from the storage's own journals once the transaction ends. */
  erase(id: string): Promise<void>;
  removeMedia(hash: string): Promise<void>;
}

/** The snippet with this id. @throws DrawerError `not-found` */
export async function getSnippet(rows: Pick<Rows, 'findSnippet'>, id: string): Promise<Snippet> {
  const snippet = await rows.findSnippet(id);
  if (!snippet) throw noSnippet(id);
  return snippet;
}

/** A storage, or its rows, with some methods replaced. */
export const withMethods = <T extends object>(whole: T, replaced: Partial<T>): T =>
  new Proxy(whole, {
    get(target, name) {
      const own: unknown = replaced[name as keyof T] ?? target[name as keyof T];
      return typeof own === 'function' ? own.bind(target) : own;
    },
  });

/** The bytes of the content's pictures, as far as the drawer has them. */
export async function mediaOf(rows: StoredRows, content: Content): Promise<Media> {
  const media = new Map<string, Uint8Array>();
  for (const { media: hash } of picturesIn(content)) {
    const bytes = media.has(hash) ? undefined : await rows.findMedia(hash);
    if (bytes) media.set(hash, bytes);
  }
  return media;
}

/** Searches without an index, through all snippets. The code is loaded with the first search. */
export const searchThrough: (...given: Parameters<typeof searchEach>) => Promise<readonly SnippetSummary[]> = async (
  ...given
) => (await import('./search.ts')).searchEach(...given);
