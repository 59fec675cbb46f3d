/// <reference lib="esnext.disposable" preserve="true" />
import { type Content, DrawerError, type Join, type Media, type Message, parseContent } from '../content/index.ts';
import { CallOrder, memoize } from './call-order.ts';
import type { Action, Change, Elsewhere, Sequence } from './change.ts';
import { ChangeEvents, type ChangeListener, type DrawerChange } from './change-events.ts';
import type { Check } from './check.ts';
import { commit, expiredIn, removeExpired } from './commit.ts';
import type { AsRead, EditOptions, Renewed } from './edit.ts';
import type { EntriesOptions } from './entries.ts';
import { loadFacts } from './facts.ts';
import type { FileSystem } from './file-change.ts';
import type { KeepOptions, KeepResult } from './keep.ts';
import type { Mark } from './mark.ts';
import type { Merged } from './merge.ts';
import type { MovePlace } from './move.ts';
import type { Listed } from './references.ts';
import {
  type CallOptions,
  checkFunction,
  checkList,
  checkObject,
  checkOptional,
  checkOptions,
  checkPassphrase,
  checkText,
  checkWhole,
  isMany,
  listOfTexts,
  mediaSchema,
  metaSchema,
  type OneOrMany,
  parseGathered,
} from './schema.ts';
import type { SequencePoint } from './sequence.ts';
import { joinSchema, readSettings, type Settings } from './settings.ts';
import { compareOrder, type Snippet, type SnippetInput, type SortKey } from './snippet.ts';
import { getSnippet, mediaOf, type Storage, type StoredNote, type StoredRows, type WritableRows } from './storage.ts';
import type { Removed } from './take-out.ts';
import type { UndoOptions } from './undo-redo.ts';
import type { FileAction, FileWrite, Writing } from './write-files.ts';

/** The environment that a drawer depends on. */
export interface DrawerTools {
  clock(): Date;
  /** Returns a unique id for a new snippet. */
  generateId(): string;
  /** File access for cutting and writing, where there are files. */
  readonly files?: FileSystem;
}

/** Options for appending to a snippet. */
export interface AppendOptions {
  /** The snippet's id; default: the newest snippet. */
  readonly onto?: string | undefined;
  readonly join?: Join | undefined;
  /** Ids of the appended snippets, to be removed from the drawer; held ones stay. */
  readonly takeOut?: OneOrMany<string> | undefined;
}

/** Options of `find`. */
export interface FindOptions extends Pick<CallOptions, 'signal'> {
  readonly limit?: number | undefined;
}

/** Number of snippets read before the signal is checked. */
const portion = 100;

/** A checked copy. @throws DrawerError `invalid` */
function parseRenewed(renewed: Renewed): Renewed {
  const { id, content, media, meta, was } = checkObject(renewed, 'renewed');
  checkText(id, 'id');
  checkOptional(mediaSchema, media, 'media');
  checkOptional(metaSchema, meta, 'meta');
  if (was !== undefined) parseContent(was);
  return { id, content: parseContent(content), media, meta, was };
}

const keeping = memoize(() => import('./keep.ts'));
const referring = memoize(() => import('./references.ts'));
const sequencing = memoize(() => import('./sequence.ts'));

/** Iterates over the snippets of a local or remote drawer. */
export async function* entriesOf(
  drawer: Pick<Drawer, 'get' | 'readAfter'>,
  options: EntriesOptions,
): AsyncGenerator<Snippet, void, undefined> {
  yield* (await import('./entries.ts')).entriesIn(drawer, options);
}

/**
 * The ordered collection of snippets: in a local storage (`createDrawer`, `openDrawer`) or behind a connection
 * (`connectDrawer`). Every method that changes it is one named transaction, which can be undone exactly.
 */
export type Drawer = Pick<StoredDrawer, keyof StoredDrawer>;

/** A drawer in a local storage; the methods of every `Drawer`. */
export class StoredDrawer {
  readonly #storage: Storage;
  readonly #tools: DrawerTools;
  /** Functions that end each `watch`. */
  readonly #watching = new Set<() => void>();
  readonly #calls = new CallOrder();
  readonly #events = new ChangeEvents(this);

  constructor(storage: Storage, tools: DrawerTools) {
    this.#storage = storage;
    this.#tools = tools;
  }

  /** Number of snippets. */
  count(): Promise<number> {
    return this.#read((rows) => rows.count());
  }

  /** Size of all words (UTF-8) and pictures in bytes. */
  bytes(): Promise<number> {
    return this.#read((rows) => rows.bytes());
  }

  /** Lists at most `limit` snippets from position `from` (counted from 1). Reads no others. */
  async list(from = 1, limit = 50): Promise<readonly Listed[]> {
    checkWhole(from, 'from', 1);
    checkWhole(limit, 'limit', 0);
    return this.#read(async (rows) =>
      (await rows.summaries(from - 1, limit)).map((summary, index) => ({ position: from + index, summary })),
    );
  }

  /**
   * Resolves references such as `3`, `2-5`, `last` or `label:hull`, in the order given; the matches of a query come in the
   * drawer's order.
   * @throws DrawerError `usage` or `not-found`
   */
  async select(references: OneOrMany<string>): Promise<readonly Listed[]> {
    const named = listOfTexts(references, 'references');
    return this.#read((rows, { resolveReferences }) => resolveReferences(rows, named), referring());
  }

  /**
   * Searches for snippets that contain all the words, best match first and then newest first: matches in labels, then whole
   * words, beginnings and parts, and words with small typos if nothing else matches. `from:`, `label:` and `is:` narrow the
   * search. A secret snippet is found by its label only.
   * @param options.limit - maximum number of results; default 50
   */
  async find(words: OneOrMany<string>, options: FindOptions = {}): Promise<readonly Listed[]> {
    const wanted = listOfTexts(words, 'words');
    const { limit = 50 } = checkOptions(options);
    checkWhole(limit, 'limit', 0);
    return this.#read((rows, { findIn }) => findIn(rows, wanted, limit), referring());
  }

  /** Reads a snippet with its content. @throws DrawerError `not-found` */
  async get(id: string): Promise<Snippet> {
    checkText(id, 'id');
    return this.#read((rows) => getSnippet(rows, id));
  }

  /**
   * Reads several snippets with their contents in one transaction, in the order of the ids.
   * @throws DrawerError `not-found`
   */
  async getMany(ids: readonly string[], options: CallOptions = {}): Promise<readonly Snippet[]> {
    const wanted = listOfTexts(ids, 'ids');
    const { signal, onProgress } = checkOptions(options);
    return this.#read(async (rows) => {
      const found: Snippet[] = [];
      for (let from = 0; from < wanted.length; from += portion) {
        signal?.throwIfAborted();
        found.push(...(await Promise.all(wanted.slice(from, from + portion).map((id) => getSnippet(rows, id)))));
        onProgress?.(found.length, wanted.length);
      }
      return found;
    });
  }

  /** Reads at most `limit` snippets with their contents behind a place; `undefined` is the start. */
  async readAfter(after: SortKey | undefined, limit: number): Promise<readonly Snippet[]> {
    const key = after === undefined ? { order: '', id: '' } : checkObject(after, 'after');
    checkText(key.order, 'order');
    checkText(key.id, 'id');
    checkWhole(limit, 'limit', 0);
    return this.#read(async (rows) => {
      const summaries = await rows.summaries(await rows.countBefore(key), limit + 1);
      const behind = summaries.filter((each) => compareOrder(each, key) > 0).slice(0, limit);
      return Promise.all(behind.map(({ id }) => getSnippet(rows, id)));
    });
  }

  /**
   * Iterates over the snippets in order, a few at a time: `for await (const snippet of drawer.entries())`. Concurrent insertions
   * and removals do not shift it.
   * @throws DrawerError `not-found` if `after` does not exist
   */
  entries(options: EntriesOptions = {}): AsyncGenerator<Snippet, void, undefined> {
    return entriesOf(this, options);
  }

  /**
   * The position of a snippet, counted from 1.
   * @throws DrawerError `not-found`
   */
  async positionOf(id: string): Promise<number> {
    checkText(id, 'id');
    return this.#read(async (rows) => (await rows.countBefore(await getSnippet(rows, id))) + 1);
  }

  /** The notes of these names, in the same order; `undefined` for those that there are none of (see `Storage`). */
  async findNotes(names: OneOrMany<string>): Promise<readonly (string | undefined)[]> {
    const wanted = listOfTexts(names, 'names');
    return this.#read((rows) => Promise.all(wanted.map((name) => rows.findNote(name))));
  }

  /** The notes whose names are from `from` up to before `to`, sorted by name (see `Storage`). */
  async notesBetween(from: string, to: string): Promise<readonly StoredNote[]> {
    checkText(from, 'from');
    checkText(to, 'to');
    return this.#read((rows) => rows.notes(from, to, 2 ** 31 - 1));
  }

  /** The bytes of a picture by its hash; `undefined` if the drawer does not have it. */
  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    checkText(hash, 'hash');
    return this.#read((rows) => rows.findMedia(hash));
  }

  /** The bytes of the content's pictures, as far as the drawer has them. */
  async mediaOf(content: Content): Promise<Media> {
    parseContent(content);
    return this.#read((rows) => mediaOf(rows, content));
  }

  /**
   * Keeps one or several items at the end, in the order given: all of them or none.
   * @returns the result for each item, in the same order
   * @throws DrawerError `invalid` for content or metadata that does not fit the model; `full`; `refused` during a pause. Throws
   *   the reason of an aborted `options.signal`; then nothing is kept.
   */
  async keep(gathered: OneOrMany<SnippetInput>, options: CallOptions = {}): Promise<readonly KeepResult[]> {
    const { signal, onProgress } = checkOptions(options);
    const things = parseGathered(gathered);
    return this.#write(
      (rows, [{ keep }, how]) => keep(rows, things, { ...how, signal, onProgress }),
      Promise.all([keeping(), this.#keepOptions(things)]),
    );
  }

  /**
   * Keeps items at the end and writes the files they were cut from, as one action (see `writeFiles`). If all items are blank,
   * nothing is kept or cut.
   * @throws DrawerError like `keep` and `writeFiles`; `refused` if the rules ignore one of the items
   */
  async cut(gathered: OneOrMany<SnippetInput>, files: readonly FileWrite[]): Promise<readonly KeepResult[]> {
    const things = parseGathered(gathered);
    return this.#calls.whole(async () => {
      const [{ keep }, options] = await Promise.all([keeping(), this.#keepOptions(things)]);
      return this.#writeWith(files, {
        act: (back, rows) => keep(rows, things, { ...options, files: back }),
        isWanted: (results) => results.some(({ kind }) => kind !== 'blank'),
      });
    });
  }

  /**
   * Appends items to a snippet's content: all of them or none. Each keeps its own origin among the snippet's parts. A `join` is
   * remembered as the default.
   * @throws DrawerError like `keep`; `not-found`
   */
  async append(gathered: OneOrMany<SnippetInput>, options: AppendOptions = {}): Promise<readonly KeepResult[]> {
    const things = parseGathered(gathered);
    const { onto, join, takeOut = [] } = checkOptions(options);
    if (onto !== undefined) checkText(onto, 'id');
    checkOptional(joinSchema, join, 'join');
    const leaving = listOfTexts(takeOut, 'takeOut');
    return this.#write(
      (rows, [{ append }, how]) => append(rows, things, onto, join, { ...how, takeOut: leaving }),
      Promise.all([import('./append.ts'), this.#keepOptions(things)]),
    );
  }

  async #keepOptions(gathered: readonly SnippetInput[]): Promise<KeepOptions> {
    const { clock, generateId } = this.#tools;
    const factsOf = await loadFacts(gathered.map(({ language }) => language));
    return { now: clock(), generateId, factsOf };
  }

  /**
   * Keeps a new snippet merged from others at the end. Its parts keep their origins; undo restores removed snippets.
   * @throws DrawerError `not-found`
   */
  async merge(merged: Merged): Promise<KeepResult> {
    const of = listOfTexts(checkObject(merged, 'merged').of, 'of', 1);
    const content = parseContent(merged.content);
    return this.#write(
      (rows, [{ mergeIn }, options]) => mergeIn(rows, { ...merged, of, content }, options),
      Promise.all([import('./merge.ts'), this.#keepOptions([])]),
    );
  }

  /**
   * Writes files, and changes the drawer, as one action that undo reverts byte for byte. All files are checked first; the data
   * for undo is on disk before the first file changes; if one file cannot be written, all stay as they were.
   * @throws DrawerError `invalid`; `write-failed`
   */
  async writeFiles(action: FileAction): Promise<void> {
    const { name, files, changes = [], renewed = [] } = checkObject(action, 'action');
    checkList(renewed, 'renewed');
    const all = renewed.map(parseRenewed);
    const at = this.#tools.clock();
    await this.#calls.whole(async () => {
      const [{ actionName }, { rewrites }] = await Promise.all([import('./write-files.ts'), import('./edit.ts')]);
      const named = actionName(name);
      const factsOf = await loadFacts();
      return this.#writeWith(files, {
        act: async (back, rows) => {
          const rewritten = await rewrites(rows, all, factsOf, at.toISOString());
          return commit(rows, { name: named, changes: [...rewritten, ...changes], at, files: back });
        },
      });
    });
  }

  /** Adds actions in other drawers to the last action, so that undo reverts all of them. */
  async tie(elsewhere: readonly Elsewhere[]): Promise<void> {
    await this.#write(async (rows) => {
      const action = await rows.findAction('last done');
      if (action && elsewhere.length > 0)
        await rows.putAction({ ...action, changes: [...elsewhere, ...action.changes] });
    });
  }

  async #writeWith<T>(files: readonly FileWrite[], { act, isWanted }: Writing<T>): Promise<T> {
    const tool = this.#tools.files;
    if (!tool) throw new DrawerError('unsupported/files-not-here');
    const { writeWith } = await import('./write-files.ts');
    const now = this.#tools.clock();
    return writeWith(files, tool, this.#storage, {
      act: async (back, rows) => {
        await removeExpired(rows, now);
        return act(back, rows);
      },
      ...(isWanted && { isWanted }),
    });
  }

  /** The position of pasting one after another. */
  sequence(): Promise<SequencePoint & Pick<Sequence, 'into' | 'across'>> {
    return this.#read(async (rows, { pointAfter }) => {
      const { sequence } = await readSettings(rows);
      const point = await pointAfter(rows, sequence);
      return {
        ...point,
        ...(sequence?.into !== undefined && { into: sequence.into }),
        ...(sequence?.across && { across: true as const }),
      };
    }, sequencing());
  }

  /** Moves the sequence: the snippet at `position` (counted from 1) comes next, beside the last one if `across`. */
  async moveSequence(position: number, into?: string, across = false): Promise<void> {
    await this.#change(
      { kind: 'sequence' },
      async (rows, { sequenceChange }) => [await sequenceChange(rows, position, into, across)],
      sequencing(),
    );
  }

  /** The change that moves the sequence, as part of a larger action. */
  async sequenceChange(position: number, into?: string, across = false): Promise<Change> {
    return this.#read((rows, { sequenceChange }) => sequenceChange(rows, position, into, across), sequencing());
  }

  /** The drawer's settings, with defaults for the rest. */
  settings(): Promise<Settings> {
    return this.#read(readSettings);
  }

  /**
   * Changes settings; undo restores the previous ones.
   * @throws DrawerError `consent`, naming the snippets, if the change would remove any and `letGo` is not set
   */
  async changeSettings(some: Partial<Settings>, options: { readonly letGo?: boolean } = {}): Promise<void> {
    const { letGo = false } = checkOptions(options);
    await this.#change(
      { kind: 'rules' },
      (rows, { settingsChanges }) => settingsChanges(rows, some, letGo),
      import('./change-settings.ts'),
    );
  }

  /** Resets settings to their defaults. */
  async forgetSettings(names: OneOrMany<keyof Settings>): Promise<void> {
    const forgotten = listOfTexts(names, 'names');
    return this.#change({ kind: 'rules' }, async () => [
      { type: 'settings', set: Object.fromEntries(forgotten.map((name) => [name, null])) },
    ]);
  }

  /**
   * Removes snippets, except held ones. Secret ones leave no trace and cannot be restored.
   * @throws DrawerError `consent` for a snippet that was built up from several, if `builtUp` is not set
   */
  async remove(ids: OneOrMany<string>, options: { readonly builtUp?: boolean } = {}): Promise<Removed> {
    const leaving = listOfTexts(ids, 'ids');
    const { builtUp = false } = checkOptions(options);
    return this.#write(
      (rows, { removeFrom }) => removeFrom(rows, leaving, builtUp, this.#tools.clock()),
      import('./take-out.ts'),
    );
  }

  /** Erases those of the snippets that were marked for a single paste; returns their number. */
  async spend(ids: OneOrMany<string>): Promise<number> {
    const spent = listOfTexts(ids, 'ids');
    return this.#write((rows, { spendIn }) => spendIn(rows, spent, this.#tools.clock()), import('./take-out.ts'));
  }

  /** Sets the label, hold, secrecy or lifetime of snippets. */
  async mark(ids: OneOrMany<string>, mark: Mark): Promise<void> {
    const marked = listOfTexts(ids, 'ids');
    return this.#write(
      (rows, [{ markIn }, factsOf]) => markIn(rows, marked, mark, this.#tools.clock(), factsOf),
      Promise.all([import('./mark.ts'), loadFacts()]),
    );
  }

  /**
   * Moves snippets, in the order given, in front of a position (counted from 1, before the move) or next to a snippet; a
   * position past the end is the end.
   * @throws DrawerError `not-found`
   */
  async move(ids: OneOrMany<string>, place: MovePlace): Promise<void> {
    const moved = listOfTexts(ids, 'ids');
    await this.#change(
      { kind: 'moved', params: { count: new Set(moved).size } },
      (rows, { moveChanges }) => moveChanges(rows, moved, place),
      import('./move.ts'),
    );
  }

  /** Rearranges snippets among their own positions into the order given; returns how many moved. */
  async arrange(ids: OneOrMany<string>): Promise<number> {
    const arranged = listOfTexts(ids, 'ids');
    return this.#write((rows, { arrangeIn }) => arrangeIn(rows, arranged, this.#tools.clock()), import('./move.ts'));
  }

  /**
   * Replaces a snippet's content; its origin, label and position stay.
   * @throws DrawerError `changed` if the content is no longer as it `was`
   */
  async edit(id: string, content: Content, options: EditOptions = {}): Promise<void> {
    const { media, was } = checkOptions(options);
    const edited = parseRenewed({ id, content, media, was });
    await this.#change(
      { kind: 'edited' },
      (rows, [{ rewrites }, factsOf]) => rewrites(rows, [edited], factsOf),
      Promise.all([import('./edit.ts'), loadFacts()]),
    );
  }

  /**
   * Replaces the contents of snippets by what their sources contain now, as one action; they count as gathered now.
   * @throws DrawerError `not-found`; `changed` if a content is no longer as it `was`; then nothing is renewed
   */
  async renew(renewed: OneOrMany<Renewed>): Promise<void> {
    const all = (isMany(renewed) ? renewed : [renewed]).map(parseRenewed);
    const takenAt = this.#tools.clock().toISOString();
    await this.#change(
      { kind: 'renewed', params: { count: all.length } },
      (rows, [{ rewrites }, factsOf]) => rewrites(rows, all, factsOf, takenAt),
      Promise.all([import('./edit.ts'), loadFacts()]),
    );
  }

  /**
   * Replaces a snippet by several, each with its origin, time and marks; returns the positions of the first and last.
   * @throws DrawerError `changed` if the content is no longer as it `was`
   */
  async split(
    id: string,
    contents: readonly Content[],
    options: AsRead = {},
  ): Promise<{ readonly from: number; readonly to: number }> {
    checkText(id, 'id');
    checkList(contents, 'contents', 1);
    const pieces = contents.map(parseContent);
    const { was } = checkOptions(options);
    if (was !== undefined) parseContent(was);
    return this.#write(
      (rows, [{ splitIn }, how]) => splitIn(rows, id, pieces, { ...how, was }),
      Promise.all([import('./edit.ts'), this.#keepOptions([])]),
    );
  }

  /** Actions to undo, newest first; then actions to redo, in the order of `redo`. */
  history(): Promise<readonly Action[]> {
    return this.#read((rows) => rows.actions());
  }

  /** Verifies every snippet, picture and count; an intact drawer has no faults. */
  async check(options: CallOptions = {}): Promise<Check> {
    const heard = checkOptions(options);
    return this.#read((rows, { checkRows }) => checkRows(rows, heard), import('./check.ts'));
  }

  /**
   * Calls a listener within a second of every change, by any program, with the changed ids.
   * @param options - `once` and `signal`, as for any `EventTarget`
   */
  addEventListener(
    type: 'change',
    listener: ChangeListener,
    options?: Pick<AddEventListenerOptions, 'once' | 'signal'>,
  ): void {
    if (type === 'change') this.#events.add(listener, options);
  }

  removeEventListener(type: 'change', listener: ChangeListener): void {
    if (type === 'change') this.#events.remove(listener);
  }

  /** Calls `changed` within a second of every change, by any program, and when a snippet expires; returns a function that stops it. */
  watch(changed: () => void): () => void {
    checkFunction(changed, 'changed');
    const expiry = import('./expiry.ts').then(
      ({ Expiry }) => new Expiry(this.#storage, this.#tools.clock, () => this.#read(async () => undefined)),
    );
    const plan = (): void => void expiry.then((known) => known.plan());
    const unwatch = this.#storage.watch(() => {
      changed();
      plan();
    });
    const stop = (): void => {
      this.#watching.delete(stop);
      void expiry.then((known) => known.end());
      unwatch();
    };
    this.#watching.add(stop);
    plan();
    return stop;
  }

  /** The action that `undo` would revert; `undefined` if there is none. */
  lastAction(): Promise<Action | undefined> {
    return this.#read((rows) => rows.findAction('last done'));
  }

  /**
   * Undoes the last action, including its changes to files; returns what that did, or `undefined` if there is none. With `onlyFiles`,
   * only the files are restored; with `onSkipped`, actions whose files have changed since are skipped.
   * Snippets that another device has removed since are left out (`gone`).
   * @throws DrawerError `write-failed` if a file has changed since; then nothing is undone. `refused` for an action that cannot
   *   be undone, such as the removal of a secret, or one whose snippets are all gone; the next call undoes the one before it.
   */
  async undo(options: UndoOptions = {}): Promise<DrawerChange | undefined> {
    checkOptions(options);
    return this.#undoOrRedo('last done', options);
  }

  /** Redoes the last undone action; returns what that did, or `undefined` if there is none. */
  async redo(): Promise<DrawerChange | undefined> {
    return this.#undoOrRedo('first undone');
  }

  async #undoOrRedo(which: 'last done' | 'first undone', options?: UndoOptions): Promise<DrawerChange | undefined> {
    const { files } = this.#tools;
    const turned = await this.#calls.whole(async () => {
      const { undoOrRedoClaimed } = await import('./undo-redo.ts');
      return undoOrRedoClaimed((work) => this.#writeNow(work), which, files, options);
    });
    if (turned?.refused) throw (await import('./take-out.ts')).refusedUndo(turned.refused, turned.change.action.name);
    return turned?.change;
  }

  /** Whether the drawer is encrypted under a passphrase. */
  async isLocked(): Promise<boolean> {
    return this.#storage.isLocked?.() ?? false;
  }

  /**
   * Encrypts all present and future contents under a passphrase: snippets, pictures, history and rules. Without it they cannot
   * be read again. Counts, times, sizes and order stay readable.
   * @throws DrawerError `unsupported` if the storage cannot be locked; `usage` for a passphrase that is too short
   */
  async lock(passphrase: string): Promise<void> {
    if (!this.#storage.lock) throw new DrawerError('unsupported/drawer-not-lockable');
    checkPassphrase(passphrase);
    await this.#calls.whole(async () => this.#storage.lock?.(passphrase));
  }

  /** Decrypts all contents. */
  async unlock(): Promise<void> {
    await this.#calls.whole(async () => (this.#storage.isLocked?.() ? this.#storage.unlock?.() : undefined));
  }

  /** Ends all watching and releases the file. Later calls fail with `storage`; closing again does nothing. */
  close(): Promise<void> {
    for (const stop of this.#watching) stop();
    return this.#calls.whole(() => this.#storage.close());
  }

  /** Same as `close`, for `await using drawer = createDrawer()`. */
  [Symbol.asyncDispose](): Promise<void> {
    return this.close();
  }

  #change<L>(
    name: Message,
    plan: (rows: WritableRows, loaded: L) => Promise<readonly Change[]>,
    loading?: Promise<L>,
  ): Promise<void> {
    return this.#write(
      async (rows, loaded: L) => commit(rows, { name, changes: await plan(rows, loaded), at: this.#tools.clock() }),
      loading,
    );
  }

  /** Expired snippets are removed before anything is read. */
  #read<T, L>(work: (rows: StoredRows, loaded: L) => Promise<T>, loading?: Promise<L>): Promise<T> {
    const now = this.#tools.clock();
    return this.#calls.hand(async (loaded: L) => {
      const read = await this.#storage.read(async (rows) =>
        (await expiredIn(rows, now)).length > 0 ? undefined : { result: await work(rows, loaded) },
      );
      if (read) return read.result;
      await this.#writeNow(async () => undefined, now);
      return this.#storage.read((rows) => work(rows, loaded));
    }, loading);
  }

  #write<T, L>(work: (rows: WritableRows, loaded: L) => Promise<T>, loading?: Promise<L>): Promise<T> {
    const now = this.#tools.clock();
    return this.#calls.hand((loaded: L) => this.#writeNow((rows) => work(rows, loaded), now), loading);
  }

  #writeNow<T>(work: (rows: WritableRows) => Promise<T>, now = this.#tools.clock()): Promise<T> {
    return this.#storage.write(async (rows) => {
      await removeExpired(rows, now);
      return work(rows);
    });
  }
}
