import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';
import { type Content, DrawerError, type Media, picturesIn, plural } from '../content/index.ts';
import { type Action, applyChanges, type Change, type Settable } from './change.ts';
import { factsOf, isBlank } from './facts.ts';
import { resolveReferences } from './references.ts';
import type { Origin, Snippet, SnippetHead } from './snippet.ts';
import type { Storage, StoredRows, WritableRows } from './storage.ts';

/** What the drawer is handed instead of reaching for it. */
export interface DrawerTools {
  now(): Date;
  /** A new snippet's id, never given before. */
  newId(): string;
}

/** Something to keep. */
export interface Gathered {
  readonly content: Content;
  readonly origin: Origin;
  /** Bytes of the pictures in the content. */
  readonly media?: Media;
  /** Decides where words end when they are counted. */
  readonly language?: string;
}

/** What became of one gathered thing. A blank is not kept. */
export type KeepResult =
  | { readonly kind: 'kept'; readonly position: number; readonly head: SnippetHead }
  | { readonly kind: 'blank'; readonly origin: Origin };

/** A listed snippet and its number, from 1. */
export interface Listed {
  readonly position: number;
  readonly head: SnippetHead;
}

/** How many actions can be undone. */
const undoDepth = 200;

/** The ordered collection. Every method that changes it is one transaction, named, and can be undone exactly. */
export class Drawer {
  readonly #storage: Storage;
  readonly #tools: DrawerTools;

  constructor(storage: Storage, tools: DrawerTools) {
    this.#storage = storage;
    this.#tools = tools;
  }

  /** How many snippets it holds. */
  count(): Promise<number> {
    return this.#storage.read((rows) => rows.count());
  }

  /** The snippets from number `from` (from 1) on, at most `limit`; only these are read. */
  list(from = 1, limit = 50): Promise<readonly Listed[]> {
    return this.#storage.read(async (rows) =>
      (await rows.heads(from - 1, limit)).map((head, index) => ({ position: from + index, head })),
    );
  }

  /**
   * The snippets that references name, in the order they name them.
   * @throws DrawerError `usage` or `not-found`
   */
  select(references: readonly string[]): Promise<readonly Listed[]> {
    return this.#storage.read((rows) => select(rows, references));
  }

  /** @throws DrawerError `not-found` */
  get(id: string): Promise<Snippet> {
    return this.#storage.read((rows) => rows.get(id));
  }

  /** The bytes of a picture; `undefined` when no snippet ever brought them. */
  findMedia(hash: string): Promise<Uint8Array | undefined> {
    return this.#storage.read((rows) => rows.findMedia(hash));
  }

  /** The bytes of every picture in the content that the drawer has. */
  mediaOf(content: Content): Promise<Media> {
    return this.#storage.read((rows) => mediaOf(rows, content));
  }

  /** Keeps things at the end, in the order given, all of them or none. */
  keep(gathered: readonly Gathered[]): Promise<readonly KeepResult[]> {
    return this.#storage.write((rows) => keep(rows, gathered, this.#tools));
  }

  /** Takes snippets out by their ids. */
  remove(ids: readonly string[]): Promise<void> {
    return this.#change(`Deleted ${plural(ids.length, 'snippet')}`, async () =>
      ids.map((id) => ({ type: 'remove', id })),
    );
  }

  /** Sets or takes away a label or the hold. */
  update(id: string, set: Settable): Promise<void> {
    return this.#change('Changed 1 snippet', async () => [{ type: 'update', id, set }]);
  }

  /** Moves a snippet in front of the one at `position` (from 1), as positions are before the move; past the end is the end. */
  move(id: string, position: number): Promise<void> {
    return this.#change('Moved 1 snippet', (rows) => moveChanges(rows, id, position));
  }

  /** Takes the last action back; gives its name, or `undefined` when there is none. */
  undo(): Promise<string | undefined> {
    return this.#storage.write((rows) => turn(rows, 'last done'));
  }

  /** Brings the last undone action again; gives its name, or `undefined` when there is none. */
  redo(): Promise<string | undefined> {
    return this.#storage.write((rows) => turn(rows, 'first undone'));
  }

  close(): Promise<void> {
    return this.#storage.close();
  }

  #change(name: string, plan: (rows: WritableRows) => Promise<readonly Change[]>): Promise<void> {
    return this.#storage.write(async (rows) => commit(rows, name, await plan(rows), this.#tools.now()));
  }
}

async function select(rows: StoredRows, references: readonly string[]): Promise<readonly Listed[]> {
  const positions = resolveReferences(references, await rows.count());
  const listed: Listed[] = [];
  for (let start = 0; start < positions.length; ) {
    const first = positions[start] as number;
    let length = 1;
    while (positions[start + length] === first + length) length++;
    const heads = await rows.heads(first, length);
    listed.push(...heads.map((head, index) => ({ position: first + index + 1, head })));
    start += length;
  }
  return listed;
}

async function mediaOf(rows: StoredRows, content: Content): Promise<Media> {
  const media = new Map<string, Uint8Array>();
  for (const { media: hash } of picturesIn(content)) {
    const bytes = media.has(hash) ? undefined : await rows.findMedia(hash);
    if (bytes) media.set(hash, bytes);
  }
  return media;
}

async function keep(
  rows: WritableRows,
  gathered: readonly Gathered[],
  tools: DrawerTools,
): Promise<readonly KeepResult[]> {
  const count = await rows.count();
  const last = await rows.findLast();
  const wanted = gathered.filter(({ content }) => !isBlank(content));
  const orders = generateNKeysBetween(last?.order ?? null, null, wanted.length);
  const snippets = wanted.map((each, index) => newSnippet(each, orders[index] as string, tools));
  for (const { media } of wanted) for (const [hash, bytes] of media ?? []) await rows.putMedia(hash, bytes);
  if (snippets.length > 0) {
    await commit(
      rows,
      `Kept ${plural(snippets.length, 'snippet')}`,
      snippets.map((snippet) => ({ type: 'insert', snippet })),
      tools.now(),
    );
  }
  let kept = 0;
  return gathered.map((each): KeepResult => {
    if (!wanted.includes(each)) return { kind: 'blank', origin: each.origin };
    const { content: _, ...head } = snippets[kept] as Snippet;
    return { kind: 'kept', position: count + ++kept, head };
  });
}

const newSnippet = ({ content, origin, language }: Gathered, order: string, { now, newId }: DrawerTools): Snippet => ({
  id: newId(),
  order,
  origin,
  takenAt: now().toISOString(),
  facts: factsOf(content, language),
  content,
});

async function moveChanges(rows: WritableRows, id: string, position: number): Promise<readonly Change[]> {
  const { order } = await rows.get(id);
  const before = Math.max(0, Math.min(position - 1, await rows.count()));
  const [left, right] = before === 0 ? [undefined, ...(await rows.heads(0, 1))] : await rows.heads(before - 1, 2);
  if (left?.id === id || right?.id === id) return []; // it is there already
  const moved = generateKeyBetween(left?.order ?? null, right?.order ?? null);
  return moved === order ? [] : [{ type: 'reorder', id, order: moved }];
}

/** Applies changes as one action and remembers how to take it back; nothing to change is no action. */
async function commit(rows: WritableRows, name: string, changes: readonly Change[], at: Date): Promise<void> {
  if (changes.length === 0) return;
  const last = await rows.findAction('last done');
  await rows.trimActions(undoDepth - 1);
  const action: Action = {
    number: (last?.number ?? 0) + 1,
    name,
    at: at.toISOString(),
    state: 'done',
    changes: await applyChanges(rows, changes),
  };
  await rows.putAction(action);
}

async function turn(rows: WritableRows, which: 'last done' | 'first undone'): Promise<string | undefined> {
  const action = await rows.findAction(which);
  if (!action) return undefined;
  const changes = await applyChanges(rows, action.changes);
  await rows.putAction({ ...action, changes, state: action.state === 'done' ? 'undone' : 'done' });
  return action.name;
}

/** No snippet has this id (any more). */
export const noSnippet = (id: string): DrawerError =>
  new DrawerError({
    code: 'not-found',
    what: `There is no snippet with the id ${id}`,
    next: 'It may have been deleted: look at drawer list',
  });
