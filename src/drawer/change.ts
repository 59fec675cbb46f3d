import { type Content, type Message, picturesIn } from '../content/index.ts';
import type { Facts, Snippet } from './snippet.ts';

/**
 * One small change of a drawer. Applying it gives the change that takes it back exactly, so undo, redo and storage are
 * made of the same thing.
 */
export type Change =
  | { readonly type: 'insert'; readonly snippet: Snippet }
  | { readonly type: 'remove'; readonly id: string }
  | { readonly type: 'update'; readonly id: string; readonly set: Settable }
  | { readonly type: 'reorder'; readonly id: string; readonly order: string }
  /** Puts another content and what goes with it in the place of a snippet's. */
  | { readonly type: 'rewrite'; readonly snippet: Snippet }
  /** Moves the sequence; `null` is its start. */
  | { readonly type: 'sequence'; readonly sequence: Sequence | null }
  /** Sets rules and what else is remembered; `null` takes away. */
  | { readonly type: 'settings'; readonly set: { readonly [name: string]: unknown } }
  | Elsewhere;

/** What was done in another drawer with it: the drawer's absolute path, and its actions there by their first and last number. */
export interface Elsewhere {
  readonly type: 'elsewhere';
  readonly drawer: string;
  readonly from: number;
  readonly to: number;
  /** As of a `FileChange`. */
  readonly mark?: string;
}

/** How far the sequence has come: a cursor over the drawer. */
export interface Sequence {
  /** The order key of the snippet that came last; the empty string at the start. */
  readonly after: string;
  /** The place where the next one lands, `FILE#place`, when one was named. */
  readonly into?: string;
  /** In a sheet the next one lands beside the last, instead of under it. */
  readonly across?: true;
}

/** What an update sets; `null` takes it away. */
export interface Settable {
  readonly label?: string | null;
  readonly held?: true | null;
  readonly secret?: true | 'once' | null;
  readonly expiresAt?: string | null;
  /** What lists show, where it changes with the rest. */
  readonly facts?: Facts;
}

/** A named transaction, kept so that it can be undone: `changes` are those that take it back (or bring it again). */
export interface Action {
  /** Rises by one with every action. */
  readonly number: number;
  /** What was done: its kind, such as `kept`, and how much. */
  readonly name: Message;
  /** ISO 8601 in UTC. */
  readonly at: string;
  readonly state: 'done' | 'undone';
  readonly changes: readonly Change[];
  /** Files outside the drawer that changed with it. */
  readonly files?: readonly FileChange[];
  /** It parts snippets or puts them together: what goes by it stays in another form. */
  readonly reshapes?: true;
}

/** The hashes of all pictures in it. */
export const picturesOf = (content: Content): ReadonlySet<string> =>
  new Set([...picturesIn(content)].map(({ media }) => media));

/** The id of the snippet that a change is made to. */
export const idOf = (change: Change): string | undefined =>
  'id' in change ? change.id : 'snippet' in change ? change.snippet.id : undefined;

/**
 * How a file outside the drawer changed, told the way back: what it is now, what it was, and the bytes that differ. Taking
 * it back gives another that brings it again.
 */
export interface FileChange {
  /** Absolute. */
  readonly path: string;
  /** SHA-256 of the file as it has to be for the change to be made, and as it is then; empty where there is no file. */
  readonly from: string;
  readonly to: string;
  /** How many bytes at the start and at the end are the same. */
  readonly start: number;
  readonly end: number;
  /** SHA-256 of the bytes between them, which are kept with the pictures. */
  readonly between: string;
  /** What its writer's tool made of all this by a secret of its own. A drawer may come from anybody: without it nothing is done. */
  readonly mark?: string;
}
