import { type Content, DrawerError, type Join, type Media, type Message, parseContent } from '../content/index.ts';
import { CallOrder, memoize } from './call-order.ts';
import type { Action, Change, Elsewhere, Sequence } from './change.ts';
import type { Check } from './check.ts';
import { commit } from './commit.ts';
import type { AsRead, EditOptions } from './edit.ts';
import { expiredIn, removeExpired } from './expired.ts';
import { loadFacts } from './facts.ts';
import type { FileSystem } from './file-change.ts';
import type { KeepOptions, KeepResult } from './keep.ts';
import type { Mark } from './mark.ts';
import type { Merged } from './merge.ts';
import type { MovePlace } from './move.ts';
import { type Listed, resolveReferences, withPositions } from './references.ts';
import { checkList, checkOptional, checkText, checkTexts, checkWhole, mediaSchema, parseGathered } from './schema.ts';
import { isEmptyQuery, parseQuery } from './search.ts';
import { pointAfter, type SequencePoint, sequenceChange } from './sequence.ts';
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
  readonly takeOut?: readonly string[] | undefined;
}

/** Of a passphrase, in characters: whoever has the file can try as many as they like. */
const shortest = 8;

const keeping = memoize(() => import('./keep.ts'));

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
      (await rows.heads(from - 1, limit)).map((head, index) => ({ position: from + index, head })),
    );
  }

  /**
   * The snippets that references name, in the order they name them; those that fit a word, in the drawer's.
   * @throws DrawerError `usage` or `not-found`
   */
  async select(references: readonly string[]): Promise<readonly Listed[]> {
    checkTexts(references, 'references');
    return this.#read((rows) => resolveReferences(rows, references));
  }

  /**
   * The snippets in which all the words are found, the best first and among equals the newest: in labels, then as whole words,
   * beginnings and parts, and where nothing fits with small slips. `from:`, `label:` and `is:` narrow it down. A secret one is found by its label.
   */
  async find(words: readonly string[], limit = 50): Promise<readonly Listed[]> {
    checkTexts(words, 'words');
    checkWhole(limit, 'limit', 0);
    const query = parseQuery(words);
    return this.#read(async (rows) =>
      isEmptyQuery(query) ? [] : withPositions(rows, await rows.search(query, limit)),
    );
  }

  /** @throws DrawerError `not-found` */
  async get(id: string): Promise<Snippet> {
    checkText(id, 'id');
    return this.#read((rows) => rows.get(id));
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
   * Keeps things at the end, in the order given, all of them or none.
   * @throws DrawerError `invalid` for content, or what goes with it, that is not as the model says; `full`; `refused` while pausing.
   */
  async keep(gathered: readonly SnippetInput[]): Promise<readonly KeepResult[]> {
    const things = parseGathered(gathered);
    return this.#write(
      (rows, [{ keep }, options]) => keep(rows, things, options),
      Promise.all([keeping(), this.#keepOptions(things)]),
    );
  }

  /**
   * Keeps things at the end, and writes the files that they are cut from without them: one action, as `writeFiles` does it.
   * Where all of them are blank nothing is kept or cut.
   * @throws DrawerError as `keep` and `writeFiles` do; `refused` where the rules ignore one of them.
   */
  async cut(gathered: readonly SnippetInput[], files: readonly FileWrite[]): Promise<readonly KeepResult[]> {
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
  async append(
    gathered: readonly SnippetInput[],
    { onto, join, takeOut = [] }: AppendOptions = {},
  ): Promise<readonly KeepResult[]> {
    const things = parseGathered(gathered);
    if (onto !== undefined) checkText(onto, 'id');
    checkOptional(joinSchema, join, 'join');
    checkTexts(takeOut, 'takeOut');
    return this.#write(
      (rows, [{ append }, options]) => append(rows, things, onto, join, { ...options, takeOut }),
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
    checkTexts(merged.of, 'of', 1);
    const content = parseContent(merged.content);
    return this.#write(
      (rows, [{ mergeIn }, options]) => mergeIn(rows, { ...merged, content }, options),
      Promise.all([import('./merge.ts'), this.#keepOptions([])]),
    );
  }

  /**
   * Writes files as one action that undo takes back byte for byte, with what changes in the drawer. All are checked first;
   * the way back is on disk before the first file changes, and when one cannot be written all are as before.
   * @throws DrawerError `invalid`; `write-failed`
   */
  async writeFiles({ name, files, changes = [] }: FileAction): Promise<void> {
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
    return this.#read(async (rows) => {
      const { sequence } = await readSettings(rows);
      const point = await pointAfter(rows, sequence?.after ?? '');
      return {
        ...point,
        ...(sequence?.into !== undefined && { into: sequence.into }),
        ...(sequence?.across && { across: true as const }),
      };
    });
  }

  /** Moves the sequence, so that the snippet at `position` (from 1) comes next, and lands beside the last one if `across`. */
  async moveSequence(position: number, into?: string, across = false): Promise<void> {
    await this.#change({ kind: 'sequence' }, async (rows) => [await sequenceChange(rows, position, into, across)]);
  }

  /** The change that moves the sequence, for an action that does more. */
  async sequenceChange(position: number, into?: string, across = false): Promise<Change> {
    return this.#read((rows) => sequenceChange(rows, position, into, across));
  }

  /** What is remembered with the drawer. */
  settings(): Promise<Settings> {
    return this.#read(readSettings);
  }

  /**
   * Changes rules or what else is remembered; undo brings back what held before.
   * @throws DrawerError `consent` when that would let snippets go, unless `letGo` says that they may; it names them.
   */
  async changeSettings(some: Partial<Settings>, { letGo = false }: { readonly letGo?: boolean } = {}): Promise<void> {
    await this.#change(
      { kind: 'rules' },
      (rows, { settingsChanges }) => settingsChanges(rows, some, letGo),
      import('./change-settings.ts'),
    );
  }

  /** Takes away what was remembered by these names, so that what holds for every drawer holds again. */
  async forgetSettings(names: readonly (keyof Settings)[]): Promise<void> {
    checkTexts(names, 'names');
    return this.#change({ kind: 'rules' }, async () => [
      { type: 'settings', set: Object.fromEntries(names.map((name) => [name, null])) },
    ]);
  }

  /**
   * Takes snippets out by their ids, but for those that are held. Secret ones leave no trace and cannot be brought back.
   * @throws DrawerError `consent` for a snippet that was built up of several, unless `builtUp` says that it may go too.
   */
  async remove(ids: readonly string[], { builtUp = false }: { readonly builtUp?: boolean } = {}): Promise<Removed> {
    checkTexts(ids, 'ids');
    return this.#write(
      (rows, { removeFrom }) => removeFrom(rows, ids, builtUp, this.#tools.clock()),
      import('./take-out.ts'),
    );
  }

  /** Erases those of the snippets that were to be pasted once only; gives how many. */
  async spend(ids: readonly string[]): Promise<number> {
    checkTexts(ids, 'ids');
    return this.#write((rows, { spendIn }) => spendIn(rows, ids, this.#tools.clock()), import('./take-out.ts'));
  }

  /** Labels, holds, hides, or says how long snippets stay. */
  async mark(ids: readonly string[], mark: Mark): Promise<void> {
    checkTexts(ids, 'ids');
    return this.#write(
      (rows, [{ markIn }, factsOf]) => markIn(rows, ids, mark, this.#tools.clock(), factsOf),
      Promise.all([import('./mark.ts'), loadFacts()]),
    );
  }

  /**
   * Moves snippets, in the order given, in front of the one at a number (from 1), as numbers are before the move, or beside
   * the one of an id; past the end is the end.
   * @throws DrawerError `not-found`
   */
  async move(ids: readonly string[], place: MovePlace): Promise<void> {
    checkTexts(ids, 'ids');
    await this.#change(
      { kind: 'moved', params: { count: new Set(ids).size } },
      (rows, { moveChanges }) => moveChanges(rows, ids, place),
      import('./move.ts'),
    );
  }

  /** Lets snippets change places among themselves, so that they stand in the order given; gives how many moved. */
  async arrange(ids: readonly string[]): Promise<number> {
    checkTexts(ids, 'ids');
    return this.#write((rows, { arrangeIn }) => arrangeIn(rows, ids, this.#tools.clock()), import('./move.ts'));
  }

  /**
   * Puts another content in the place of a snippet's; its origin, label and place stay.
   * @throws DrawerError `changed` when it is no longer as it `was`.
   */
  async edit(id: string, content: Content, { media, was }: EditOptions = {}): Promise<void> {
    checkText(id, 'id');
    const edited = parseContent(content);
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
    { was }: AsRead = {},
  ): Promise<{ readonly from: number; readonly to: number }> {
    checkText(id, 'id');
    checkList(contents, 'contents', 1);
    const pieces = contents.map(parseContent);
    if (was !== undefined) parseContent(was);
    return this.#write(
      (rows, [{ splitIn }, options]) => splitIn(rows, id, pieces, { ...options, was }),
      Promise.all([import('./edit.ts'), this.#keepOptions([])]),
    );
  }

  /** What can be undone, newest first, then what can be done again, as `redo` would. */
  history(): Promise<readonly Action[]> {
    return this.#read((rows) => rows.actions());
  }

  /** Looks every snippet, picture and count over; finds nothing wrong in a drawer that is whole. */
  async check(onChecked?: (done: number, all: number) => void): Promise<Check> {
    return this.#read((rows, { checkRows }) => checkRows(rows, onChecked), import('./check.ts'));
  }

  /** Calls back within a second of every change, whichever program made it, and when time is up for one; the result ends that. */
  watch(changed: () => void): () => void {
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
  async undo(options?: UndoOptions): Promise<Message | undefined> {
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
