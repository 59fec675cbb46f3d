import { type Content, type Message, picturesIn } from '../content/index.ts';
import type { FileChange } from './file-change.ts';
import { readHead } from './read-head.ts';
import { remembered } from './settings.ts';
import type { Facts, Snippet, SnippetHead } from './snippet.ts';

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

/** The rows a change is applied to. */
export interface Rows {
  get(id: string): Promise<Snippet>;
  insert(snippet: Snippet): Promise<void>;
  remove(id: string): Promise<void>;
  setHead(head: SnippetHead): Promise<void>;
  /** The settings as JSON; `undefined` when none were kept. */
  findSettings(): Promise<string | undefined>;
  putSettings(json: string): Promise<void>;
}

/** Applies the change and gives the one that takes it back. @throws DrawerError `invalid` for a head that is not valid. */
export async function applyChange(rows: Rows, change: Change): Promise<Change> {
  switch (change.type) {
    case 'insert':
      checkHead(change.snippet);
      await rows.insert(change.snippet);
      return { type: 'remove', id: change.snippet.id };
    case 'remove': {
      const snippet = await rows.get(change.id);
      await rows.remove(change.id);
      return { type: 'insert', snippet };
    }
    case 'update': {
      const { content: _, ...head } = await rows.get(change.id);
      await rows.setHead(readHead(withSettings(head, change.set)));
      return { type: 'update', id: change.id, set: before(head, change.set) };
    }
    case 'reorder': {
      const { content: _, ...head } = await rows.get(change.id);
      await rows.setHead({ ...head, order: change.order });
      return { type: 'reorder', id: change.id, order: head.order };
    }
    case 'rewrite': {
      checkHead(change.snippet);
      const snippet = await rows.get(change.snippet.id);
      await rows.remove(snippet.id);
      await rows.insert(change.snippet);
      return { type: 'rewrite', snippet };
    }
    case 'sequence': {
      const { sequence, ...rest } = await remembered(rows);
      await rows.putSettings(JSON.stringify({ ...rest, ...(change.sequence && { sequence: change.sequence }) }));
      return { type: 'sequence', sequence: sequence ?? null };
    }
    case 'settings': {
      const settings: Readonly<Record<string, unknown>> = { ...(await remembered(rows)) };
      const names = Object.keys(change.set);
      const before = Object.fromEntries(names.map((name) => [name, settings[name] ?? null]));
      const after = Object.entries({ ...settings, ...change.set }).filter(([, value]) => value !== null);
      await rows.putSettings(JSON.stringify(Object.fromEntries(after)));
      return { type: 'settings', set: before };
    }
    case 'elsewhere':
      return change; // `turn` does what there is to do
  }
}

/** What could not be read again does not come in. @throws DrawerError `invalid` */
function checkHead({ content: _, ...head }: Snippet): void {
  readHead(head);
}

const settable = ['label', 'held', 'secret', 'expiresAt', 'facts'] as const;

function withSettings(head: SnippetHead, set: Settable): SnippetHead {
  const both = { ...head, ...set };
  return Object.fromEntries(Object.entries(both).filter(([, value]) => value !== null)) as unknown as SnippetHead;
}

const before = (head: SnippetHead, set: Settable): Settable =>
  Object.fromEntries(settable.filter((name) => name in set).map((name) => [name, head[name] ?? null]));
