/// <reference lib="esnext.disposable" preserve="true" />
import { type Content, DrawerError, type Join, type Media, type Message, parseContent } from '../content/index.ts';
import { CallOrder, memoize } from './call-order.ts';
import type { Action, Change, Elsewhere, Sequence } from './change.ts';
import { ChangeEvents, type ChangeListener } from './change-events.ts';
import type { Check } from './check.ts';
import { commit } from './commit.ts';
import type { AsRead, EditOptions } from './edit.ts';
import type { EntriesOptions } from './entries.ts';
import { expiredIn, removeExpired } from './expired.ts';
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
  checkText,
  checkWhole,
  listOfTexts,
  mediaSchema,
  type OneOrMany,
  parseGathered,
} from './schema.ts';
import type { SequencePoint } from './sequence.ts';
import { joinSchema, readSettings, type Settings } from './settings.ts';
import type { Snippet, SnippetInput } from './snippet.ts';
import { mediaOf, type Storage, type StoredRows, type WritableRows } from './storage.ts';
import type { Removed } from './take-out.ts';
import type { UndoOptions } from './undo-redo.ts';
import type { FileAction, FileWrite, Writing } from './write-files.ts';

/** What the drawer is handed instead of reaching for it. */
export interface DrawerTools {
  clock(): Date;
  /** A new snippet's id, never given before. */
  generateId(): string;
  /** For what is cut from files, where there are files. */
  readonly files?: FileSystem;
}

/** How something is put behind a snippet's content. */
export interface AppendOptions {
  /** The snippet's id; the newest where none is named. */
  readonly onto?: string | undefined;
  readonly join?: Join | undefined;
  /** Ids of snippets that leave the drawer with it, since they are what was appended; what is held stays. */
  readonly takeOut?: OneOrMany<string> | undefined;
}

export interface FindOptions extends Pick<CallOptions, 'signal'> {
  readonly limit?: number | undefined;
}

/** How many snippets are read before it is looked whether to go on. */
const portion = 100;

/** Of a passphrase, in characters: whoever has the file can try as many as they like. */
const shortest = 8;

const keeping = memoize(() => import('./keep.ts'));
const referring = memoize(() => import('./references.ts'));
const sequencing = memoize(() => import('./sequence.ts'));

/** Goes through the snippets of a drawer, wherever it is. */
export async function* entriesOf(
  drawer: Pick<Drawer, 'get' | 'readAfter'>,
  options: EntriesOptions,
): AsyncGenerator<Snippet, void, undefined> {
  yield* (await import('./entries.ts')).entriesIn(drawer, options);
}

/**
 * The ordered collection: one in a storage here, as `createDrawer` and `openDrawer` give it, or one behind a connection, as
 * `connectDrawer` does. Every method that changes it is one transaction, named, and can be undone exactly.
 */
export type Drawer = Pick<StoredDrawer, keyof StoredDrawer>;

/** A drawer in a storage. */
export class StoredDrawer {
  readonly #storage: Storage;
  readonly #tools: DrawerTools;
  /** What ends each watching. */
  readonly #watching = new Set<() => void>();
  readonly #calls = new CallOrder();
  readonly #events = new ChangeEvents(this);

  constructor(storage: Storage, tools: DrawerTools) {
    this.#storage = storage;
    this.#tools = tools;
  }

  /** How many snippets it holds. */
  count(): Promise<number> {
    return this.#read((rows) => rows.count());
  }

  /** How many bytes its words (UTF-8) and pictures take. */
  bytes(): Promise<number> {
    return this.#read((rows) => rows.bytes());
  }

  /** The snippets from number `from` (from 1) on, at most `limit`; only these are read. */
  async list(from = 1, limit = 50): Promise<readonly Listed[]> {
    checkWhole(from, 'from', 1);
    checkWhole(limit, 'limit', 0);
    return this.#read(async (rows) =>
      (await rows.summaries(from - 1, limit)).map((summary, index) => ({ position: from + index, summary })),
    );
  }

  /**
   * The snippets that references name, in the order they name them; those that fit a word, in the drawer's.
   * @throws DrawerError `usage` or `not-found`
   */
  async select(references: OneOrMany<string>): Promise<readonly Listed[]> {
    const named = listOfTexts(references, 'references');
    return this.#read((rows, { resolveReferences }) => resolveReferences(rows, named), referring());
  }

  /**
   * The snippets in which all the words are found, the best first and among equals the newest: in labels, then as whole words,
   * beginnings and parts, and where nothing fits with small slips. `from:`, `label:` and `is:` narrow it down. A secret one is found by its label.
   * @param options.limit - how many at most; 50 when not given
   */
  async find(words: OneOrMany<string>, options: FindOptions = {}): Promise<readonly Listed[]> {
    const wanted = listOfTexts(words, 'words');
    const { limit = 50 } = checkOptions(options);
    checkWhole(limit, 'limit', 0);
    return this.#read((rows, { findIn }) => findIn(rows, wanted, limit), referring());
  }

  /** @throws DrawerError `not-found` */
  async get(id: string): Promise<Snippet> {
    checkText(id, 'id');
    return this.#read((rows) => rows.get(id));
  }

  /**
   * Several snippets with their contents, in the order of the ids, all as they were at one moment.
   * @throws DrawerError `not-found`
   */
  async getMany(ids: readonly string[], options: CallOptions = {}): Promise<readonly Snippet[]> {
    const wanted = listOfTexts(ids, 'ids');
    const { signal, onProgress } = checkOptions(options);
    return this.#read(async (rows) => {
      const found: Snippet[] = [];
      for (let from = 0; from < wanted.length; from += portion) {
        signal?.throwIfAborted();
        found.push(...(await Promise.all(wanted.slice(from, from + portion).map((id) => rows.get(id)))));
        onProgress?.(found.length, wanted.length);
      }
      return found;
    });
  }

  /** The snippets behind an order key (the empty string is the start) with their contents, at most `limit`. */
  async readAfter(order: string, limit: number): Promise<readonly Snippet[]> {
    checkText(order, 'order');
    checkWhole(limit, 'limit', 0);
    return this.#read(async (rows) => {
      const summaries = await rows.summaries(await rows.countBefore(order), limit + 1);
      const behind = summaries.filter((each) => each.order > order).slice(0, limit);
      return Promise.all(behind.map(({ id }) => rows.get(id)));
    });
  }

  /**
   * Goes through the snippets in order, read a few at a time: `for await (const snippet of drawer.entries())`. What others put in
   * or take out meanwhile shifts nothing.
   * @throws DrawerError `not-found` for an `after` that is not there
   */
  entries(options: EntriesOptions = {}): AsyncGenerator<Snippet, void, undefined> {
    return entriesOf(this, options);
  }

  /**
   * The number of a snippet, from 1.
   * @throws DrawerError `not-found`
   */
  async positionOf(id: string): Promise<number> {
    checkText(id, 'id');
    return this.#read(async (rows) => (await rows.countBefore((await rows.get(id)).order)) + 1);
  }

  /** The bytes of a picture; `undefined` when no snippet ever brought them. */
  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    checkText(hash, 'hash');
    return this.#read((rows) => rows.findMedia(hash));
  }

  /** The bytes of every picture in the content that the drawer has. */
  async mediaOf(content: Content): Promise<Media> {
    parseContent(content);
    return this.#read((rows) => mediaOf(rows, content));
  }

  /**
   * Keeps one thing or several at the end, in the order given, all of them or none.
   * @returns what became of each, in the same order
   * @throws DrawerError `invalid` for content, or what goes with it, that is not as the model says; `full`; `refused` while
   *   pausing. The reason of `options.signal`; then nothing is kept.
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
   * Keeps things at the end, and writes the files that they are cut from without them: one action, as `writeFiles` does it.
   * Where all of them are blank nothing is kept or cut.
   * @throws DrawerError as `keep` and `writeFiles` do; `refused` where the rules ignore one of them.
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
   * Puts things behind the content of a snippet (the newest, where none is named), all of them or none. Each keeps its own
   * origin among the snippet's parts. A `join` is remembered for the next time.
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
   * Keeps one new snippet made of others, at the end; its parts keep their origins, and undo brings back what left with it.
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
   * Writes files as one action that undo takes back byte for byte, with what changes in the drawer. All are checked first;
   * the way back is on disk before the first file changes, and when one cannot be written all are as before.
   * @throws DrawerError `invalid`; `write-failed`
   */
  async writeFiles(action: FileAction): Promise<void> {
    const { name, files, changes = [] } = checkObject(action, 'action');
    await this.#calls.whole(async () => {
      const { actionName } = await import('./write-files.ts');
      const named = actionName(name);
      return this.#writeWith(files, {
        act: (back, rows) => commit(rows, { name: named, changes, at: this.#tools.clock(), files: back }),
      });
    });
  }

  /** Adds to the last action what was done in other drawers with it, so that undo takes all of it back. */
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

  /** Where pasting one after another stands; `back` steps before that. */
  sequence(): Promise<SequencePoint & Pick<Sequence, 'into' | 'across'>> {
    return this.#read(async (rows, { pointAfter }) => {
      const { sequence } = await readSettings(rows);
      const point = await pointAfter(rows, sequence?.after ?? '');
      return {
        ...point,
        ...(sequence?.into !== undefined && { into: sequence.into }),
        ...(sequence?.across && { across: true as const }),
      };
    }, sequencing());
  }

  /** Moves the sequence, so that the snippet at `position` (from 1) comes next, and lands beside the last one if `across`. */
  async moveSequence(position: number, into?: string, across = false): Promise<void> {
    await this.#change(
      { kind: 'sequence' },
      async (rows, { sequenceChange }) => [await sequenceChange(rows, position, into, across)],
      sequencing(),
    );
  }

  /** The change that moves the sequence, for an action that does more. */
  async sequenceChange(position: number, into?: string, across = false): Promise<Change> {
    return this.#read((rows, { sequenceChange }) => sequenceChange(rows, position, into, across), sequencing());
  }

  /** What is remembered with the drawer. */
  settings(): Promise<Settings> {
    return this.#read(readSettings);
  }

  /**
   * Changes rules or what else is remembered; undo brings back what held before.
   * @throws DrawerError `consent` when that would let snippets go, unless `letGo` says that they may; it names them.
   */
  async changeSettings(some: Partial<Settings>, options: { readonly letGo?: boolean } = {}): Promise<void> {
    const { letGo = false } = checkOptions(options);
    await this.#change(
      { kind: 'rules' },
      (rows, { settingsChanges }) => settingsChanges(rows, some, letGo),
      import('./change-settings.ts'),
    );
  }

  /** Takes away what was remembered by these names, so that what holds for every drawer holds again. */
  async forgetSettings(names: OneOrMany<keyof Settings>): Promise<void> {
    const forgotten = listOfTexts(names, 'names');
    return this.#change({ kind: 'rules' }, async () => [
      { type: 'settings', set: Object.fromEntries(forgotten.map((name) => [name, null])) },
    ]);
  }

  /**
   * Takes snippets out by their ids, but for those that are held. Secret ones leave no trace and cannot be brought back.
   * @throws DrawerError `consent` for a snippet that was built up of several, unless `builtUp` says that it may go too.
   */
  async remove(ids: OneOrMany<string>, options: { readonly builtUp?: boolean } = {}): Promise<Removed> {
    const leaving = listOfTexts(ids, 'ids');
    const { builtUp = false } = checkOptions(options);
    return this.#write(
      (rows, { removeFrom }) => removeFrom(rows, leaving, builtUp, this.#tools.clock()),
      import('./take-out.ts'),
    );
  }

  /** Erases those of the snippets that were to be pasted once only; gives how many. */
  async spend(ids: OneOrMany<string>): Promise<number> {
    const spent = listOfTexts(ids, 'ids');
    return this.#write((rows, { spendIn }) => spendIn(rows, spent, this.#tools.clock()), import('./take-out.ts'));
  }

  /** Labels, holds, hides, or says how long snippets stay. */
  async mark(ids: OneOrMany<string>, mark: Mark): Promise<void> {
    const marked = listOfTexts(ids, 'ids');
    return this.#write(
      (rows, [{ markIn }, factsOf]) => markIn(rows, marked, mark, this.#tools.clock(), factsOf),
      Promise.all([import('./mark.ts'), loadFacts()]),
    );
  }

  /**
   * Moves snippets, in the order given, in front of the one at a number (from 1), as numbers are before the move, or beside
   * the one of an id; past the end is the end.
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

  /** Lets snippets change places among themselves, so that they stand in the order given; gives how many moved. */
  async arrange(ids: OneOrMany<string>): Promise<number> {
    const arranged = listOfTexts(ids, 'ids');
    return this.#write((rows, { arrangeIn }) => arrangeIn(rows, arranged, this.#tools.clock()), import('./move.ts'));
  }

  /**
   * Puts another content in the place of a snippet's; its origin, label and place stay.
   * @throws DrawerError `changed` when it is no longer as it `was`.
   */
  async edit(id: string, content: Content, options: EditOptions = {}): Promise<void> {
    checkText(id, 'id');
    const edited = parseContent(content);
    const { media, was } = checkOptions(options);
    checkOptional(mediaSchema, media, 'media');
    if (was !== undefined) parseContent(was);
    await this.#change(
      { kind: 'edited' },
      (rows, [{ editIn }, factsOf]) => editIn(rows, id, edited, { media, was }, factsOf),
      Promise.all([import('./edit.ts'), loadFacts()]),
    );
  }

  /**
   * Puts several snippets in the place of one, each with its origin, time and marks; gives the numbers of the first and last.
   * @throws DrawerError `changed` when it is no longer as it `was`.
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

  /** What can be undone, newest first, then what can be done again, as `redo` would. */
  history(): Promise<readonly Action[]> {
    return this.#read((rows) => rows.actions());
  }

  /** Looks every snippet, picture and count over; finds nothing wrong in a drawer that is whole. */
  async check(options: CallOptions = {}): Promise<Check> {
    const heard = checkOptions(options);
    return this.#read((rows, { checkRows }) => checkRows(rows, heard), import('./check.ts'));
  }

  /**
   * Calls a listener within a second of every change, whichever program made it, with what changed.
   * @param options - `once`, and a `signal` that ends it, as for any `EventTarget`
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

  /** Calls back within a second of every change, whichever program made it, and when time is up for one; the result ends that. */
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

  /** What `undo` would take back; `undefined` when there is nothing. */
  lastAction(): Promise<Action | undefined> {
    return this.#read((rows) => rows.findAction('last done'));
  }

  /**
   * Takes the last action back, with what it did to files; gives its name, or `undefined` when there is none. With
   * `onlyFiles` what was cut from files is put back and stays in the drawer too; with `onSkipped` an action whose files have
   * changed since is passed over.
   * @throws DrawerError `write-failed` when a file has changed since; then nothing is taken back. `refused` for an action
   *   that cannot be taken back, such as a secret's end; the next call takes back the one before it.
   */
  async undo(options: UndoOptions = {}): Promise<Message | undefined> {
    checkOptions(options);
    return this.#undoOrRedo('last done', options);
  }

  /** Brings the last undone action again; gives its name, or `undefined` when there is none. */
  async redo(): Promise<Message | undefined> {
    return this.#undoOrRedo('first undone');
  }

  async #undoOrRedo(which: 'last done' | 'first undone', options?: UndoOptions): Promise<Message | undefined> {
    const { files } = this.#tools;
    const turned = await this.#calls.whole(async () => {
      const { undoOrRedoClaimed } = await import('./undo-redo.ts');
      return undoOrRedoClaimed((work) => this.#writeNow(work), which, files, options);
    });
    if (turned?.isFinal) throw (await import('./take-out.ts')).finalAction(turned.action.name);
    return turned?.action.name;
  }

  /** Whether it is sealed under a passphrase. */
  async isLocked(): Promise<boolean> {
    return this.#storage.isLocked?.() ?? false;
  }

  /**
   * Seals everything it holds and will hold under a passphrase: snippets, pictures, history and rules. Without it nobody gets
   * at them again. Numbers, times, sizes and order stay readable.
   * @throws DrawerError `unsupported` where a drawer cannot be locked.
   */
  async lock(passphrase: string): Promise<void> {
    if (!this.#storage.lock) throw new DrawerError('unsupported/drawer-not-lockable');
    checkText(passphrase, 'passphrase');
    if ([...passphrase].length < shortest) throw new DrawerError('usage/passphrase-short', { least: shortest });
    await this.#calls.whole(async () => this.#storage.lock?.(passphrase));
  }

  /** Takes the lock off: everything is in the clear again. */
  async unlock(): Promise<void> {
    await this.#calls.whole(async () => (this.#storage.isLocked?.() ? this.#storage.unlock?.() : undefined));
  }

  /** Ends all watching, and frees its file. From then on everything else fails with `storage`; closing again does nothing. */
  close(): Promise<void> {
    for (const stop of this.#watching) stop();
    return this.#calls.whole(() => this.#storage.close());
  }

  /** As `close`: `await using drawer = createDrawer()`. */
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

  /** Those whose time is up are gone before anything is read. */
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
