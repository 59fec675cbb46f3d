import { type Content, type Message, picturesIn } from '../content/index.ts';
import type { Facts, Snippet } from './snippet.ts';

/**
 * One elementary change of a drawer. Applying it returns its exact inverse, so undo, redo and storage share one
 * representation.
 */
export type Change =
  | { readonly type: 'insert'; readonly snippet: Snippet }
  | { readonly type: 'remove'; readonly id: string }
  | { readonly type: 'update'; readonly id: string; readonly set: Settable }
  | { readonly type: 'reorder'; readonly id: string; readonly order: string }
  /**
   * Replaces a snippet's content and what belongs to it. Its place, label, hold and expiry stay as they are; it becomes open only
   * with `secrecy`.
   */
  | { readonly type: 'rewrite'; readonly snippet: Snippet; readonly secrecy?: true }
  /** Moves the sequence; `null` is the start. */
  | { readonly type: 'sequence'; readonly sequence: Sequence | null }
  /** Changes rules and other settings; `null` removes one. */
  | { readonly type: 'settings'; readonly set: { readonly [name: string]: unknown } }
  | Elsewhere;

/** The actions in another drawer that belong to this one: that drawer's absolute path, and their first and last number. */
export interface Elsewhere {
  readonly type: 'elsewhere';
  readonly drawer: string;
  readonly from: number;
  readonly to: number;
  /** As in `FileChange`. */
  readonly mark?: string;
}

/** The position of pasting one after another: a cursor over the drawer. */
export interface Sequence {
  /** The order key of the last pasted snippet; the empty string at the start. */
  readonly after: string;
  /** That snippet's id; absent at the start. */
  readonly id?: string;
  /** The place for the next paste, `FILE#place`, if one was named. */
  readonly into?: string;
  /** In a sheet, the next paste goes beside the last one instead of below it. */
  readonly across?: true;
}

/** The fields that an update sets; `null` removes one. */
export interface Settable {
  readonly label?: string | null;
  readonly held?: true | null;
  readonly secret?: true | 'once' | null;
  readonly expiresAt?: string | null;
  /** New facts, if the update changes them. */
  readonly facts?: Facts;
}

/** A named transaction in the history: `changes` undo it, or redo it once it is undone. */
export interface Action {
  /** Increases by one with every action. */
  readonly number: number;
  /** What was done: a kind, such as `kept`, with parameters. */
  readonly name: Message;
  /** ISO 8601 in UTC. */
  readonly at: string;
  readonly state: 'done' | 'undone';
  readonly changes: readonly Change[];
  /** Files outside the drawer that it changed. */
  readonly files?: readonly FileChange[];
  /** It splits or merges snippets: removed snippets live on in another form. */
  readonly reshapes?: true;
}

/** The hashes of the content's pictures. */
export const picturesOf = (content: Content): ReadonlySet<string> =>
  new Set([...picturesIn(content)].map(({ media }) => media));

/** The id of the snippet that a change concerns; `undefined` if it concerns none. */
export const idOf = (change: Change): string | undefined =>
  'id' in change ? change.id : 'snippet' in change ? change.snippet.id : undefined;

/**
 * The inverse of a change to a file outside the drawer: the file's state now, the state to restore, and the bytes that
 * differ. Applying it returns its own inverse.
 */
export interface FileChange {
  /** Absolute. */
  readonly path: string;
  /** SHA-256 of the file before (required) and after applying the change; the empty string for no file. */
  readonly from: string;
  readonly to: string;
  /** Number of equal bytes at the start and at the end. */
  readonly start: number;
  readonly end: number;
  /** SHA-256 of the bytes in between, which are stored with the pictures. */
  readonly between: string;
  /** Proof of authorship, made with a secret of the writing program. Drawers can come from anybody: without it, nothing is applied. */
  readonly mark?: string;
}
