import { generateKeyBetween } from 'fractional-indexing';
import { type Content, clipped, DrawerError, type Join, type Media, picturesIn, plural } from '../content/index.ts';
import type { Action, Change, Settable } from './change.ts';
import { commit, type TurnOptions, turn } from './commit.ts';
import { loadFacts } from './facts.ts';
import type { FileTool } from './file-change.ts';
import { append, type ChangedFile, type Gathered, type KeepOptions, type KeepResult, keep } from './keep.ts';
import { type Merged, partsOf } from './merge.ts';
import { resolveReferences } from './references.ts';
import { pointAfter, type SequencePoint } from './sequence.ts';
import { readSettings, type Settings } from './settings.ts';
import type { Snippet, SnippetHead } from './snippet.ts';
import type { Storage, StoredRows, WritableRows } from './storage.ts';
import { checkUnchanged, type FileDeed, waysBack, writeFiles } from './write-files.ts';

/** What the drawer is handed instead of reaching for it. */
export interface DrawerTools {
  now(): Date;
  /** A new snippet's id, never given before. */
  newId(): string;
  /** For what is cut from files, where there are files. */
  readonly files?: FileTool;
}

/** A listed snippet and its number, from 1. */
export interface Listed {
  readonly position: number;
  readonly head: SnippetHead;
}

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
  async keep(gathered: readonly Gathered[], files?: readonly ChangedFile[]): Promise<readonly KeepResult[]> {
    const options = await this.#keepOptions(files);
    return this.#storage.write((rows) => keep(rows, gathered, options));
  }

  /**
   * Puts things behind the content of a snippet (the newest, where none is named), all of them or none. Each keeps its own
   * origin among the snippet's parts. A `join` is remembered for the next time.
   */
  async append(
    gathered: readonly Gathered[],
    { onto, join, files }: { onto?: string | undefined; join?: Join | undefined; files?: readonly ChangedFile[] } = {},
  ): Promise<readonly KeepResult[]> {
    const options = await this.#keepOptions(files);
    return this.#storage.write((rows) => append(rows, gathered, onto, join, options));
  }

  async #keepOptions(files: readonly ChangedFile[] | undefined): Promise<KeepOptions> {
    const { now, newId } = this.#tools;
    return { now: now(), newId, factsOf: await loadFacts(), ...(files && { files }) };
  }

  /**
   * Keeps one new snippet made of others, at the end; its parts keep their origins, and undo brings back what left with it.
   * @throws DrawerError `not-found`
   */
  async merge({ of, content, label, takeOut }: Merged): Promise<KeepResult> {
    const options = await this.#keepOptions(undefined);
    return this.#storage.write(async (rows) => {
      const ids = [...new Set(of)];
      const snippets = await Promise.all(of.map((id) => rows.get(id)));
      const last = await rows.findLast();
      const snippet: Snippet = {
        id: options.newId(),
        order: generateKeyBetween(last?.order ?? null, null),
        origin: {},
        takenAt: options.now.toISOString(),
        facts: options.factsOf(content),
        ...(label !== undefined && { label }),
        parts: partsOf(snippets),
        content,
      };
      const changes: Change[] = [
        { type: 'insert', snippet },
        ...(takeOut ? ids.map((id): Change => ({ type: 'remove', id })) : []),
      ];
      await commit(rows, { name: `Merged ${plural(of.length, 'snippet')}`, changes, at: options.now });
      const { content: _, ...head } = snippet;
      return { kind: 'kept', position: await rows.count(), head };
    });
  }

  /**
   * Writes files as one action that undo takes back byte for byte, with what changes in the drawer. All are checked first;
   * the way back is on disk before the first file changes, and when one cannot be written all are as before.
   * @throws DrawerError `write-failed`
   */
  async writeFiles({ name, files, changes = [] }: FileDeed): Promise<void> {
    const tool = this.#tools.files;
    if (!tool) throw new DrawerError({ code: 'unsupported', what: 'Files cannot be written from here' });
    await checkUnchanged(files, tool);
    const back = waysBack(files);
    await this.#storage.write(async (rows) => {
      for (const { change, between } of back) await rows.putMedia(change.between, between);
      await commit(rows, { name, changes, at: this.#tools.now(), files: back.map(({ change }) => change) });
    });
    try {
      await writeFiles(files, tool);
    } catch (error) {
      await this.undo();
      throw error;
    }
  }

  /** Where pasting one after another stands; `back` steps before that. */
  sequence(): Promise<SequencePoint & { readonly into?: string }> {
    return this.#storage.read(async (rows) => {
      const { sequence } = await readSettings(rows);
      const point = await pointAfter(rows, sequence?.after ?? '');
      return { ...point, ...(sequence?.into !== undefined && { into: sequence.into }) };
    });
  }

  /** Moves the sequence, so that the snippet at `position` (from 1) comes next. */
  async moveSequence(position: number, into?: string): Promise<void> {
    await this.#change('Moved the sequence', async (rows) => [await sequenceChange(rows, position, into)]);
  }

  /** The change that moves the sequence, for an action that does more. */
  sequenceChange(position: number, into?: string): Promise<Change> {
    return this.#storage.read((rows) => sequenceChange(rows, position, into));
  }

  /** What is remembered with the drawer. */
  settings(): Promise<Settings> {
    return this.#storage.read(readSettings);
  }

  /** Remembers some of it anew. */
  changeSettings(some: Partial<Settings>): Promise<void> {
    return this.#storage.write(async (rows) =>
      rows.putSettings(JSON.stringify({ ...(await readSettings(rows)), ...some })),
    );
  }

  /**
   * Takes snippets out by their ids.
   * @throws DrawerError `consent` for a snippet that was built up of several, unless `builtUp` says that it may go too.
   */
  remove(ids: readonly string[], { builtUp = false }: { readonly builtUp?: boolean } = {}): Promise<void> {
    return this.#change(`Deleted ${plural(ids.length, 'snippet')}`, async (rows) => {
      if (!builtUp) for (const id of ids) refuseBuiltUp(await rows.get(id));
      return ids.map((id) => ({ type: 'remove', id }));
    });
  }

  /** Sets or takes away a label or the hold. */
  update(id: string, set: Settable): Promise<void> {
    return this.#change('Changed 1 snippet', async () => [{ type: 'update', id, set }]);
  }

  /** Moves a snippet in front of the one at `position` (from 1), as positions are before the move; past the end is the end. */
  move(id: string, position: number): Promise<void> {
    return this.#change('Moved 1 snippet', (rows) => moveChanges(rows, id, position));
  }

  /** What `undo` would take back; `undefined` when there is nothing. */
  lastAction(): Promise<Action | undefined> {
    return this.#storage.read((rows) => rows.findAction('last done'));
  }

  /**
   * Takes the last action back, with what it did to files; gives its name, or `undefined` when there is none. With
   * `onlyFiles` what was cut from files is put back and stays in the drawer too.
   * @throws DrawerError `write-failed` when a file has changed since; then nothing is taken back.
   */
  async undo(options?: TurnOptions): Promise<string | undefined> {
    return (await this.#storage.write((rows) => turn(rows, 'last done', this.#tools.files, options)))?.name;
  }

  /** Brings the last undone action again; gives its name, or `undefined` when there is none. */
  async redo(): Promise<string | undefined> {
    return (await this.#storage.write((rows) => turn(rows, 'first undone', this.#tools.files)))?.name;
  }

  close(): Promise<void> {
    return this.#storage.close();
  }

  #change(name: string, plan: (rows: WritableRows) => Promise<readonly Change[]>): Promise<void> {
    return this.#storage.write(async (rows) =>
      commit(rows, { name, changes: await plan(rows), at: this.#tools.now() }),
    );
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

async function moveChanges(rows: WritableRows, id: string, position: number): Promise<readonly Change[]> {
  const { order } = await rows.get(id);
  const before = Math.max(0, Math.min(position - 1, await rows.count()));
  const [left, right] = before === 0 ? [undefined, ...(await rows.heads(0, 1))] : await rows.heads(before - 1, 2);
  if (left?.id === id || right?.id === id) return []; // it is there already
  const moved = generateKeyBetween(left?.order ?? null, right?.order ?? null);
  return moved === order ? [] : [{ type: 'reorder', id, order: moved }];
}

async function sequenceChange(rows: StoredRows, position: number, into: string | undefined): Promise<Change> {
  const [before] = position > 1 ? await rows.heads(position - 2, 1) : [];
  const sequence = { after: before?.order ?? '', ...(into !== undefined && { into }) };
  return { type: 'sequence', sequence };
}

/** What somebody put together is not thrown away by a slip. */
function refuseBuiltUp({ parts, facts }: Snippet): void {
  if (parts === undefined) return;
  throw new DrawerError({
    code: 'consent',
    what: `The snippet “${clipped(facts.preview, 40)}” was built up of ${parts.length} parts`,
    next: 'Say that it may go all the same; nothing was deleted',
  });
}

/** No snippet has this id (any more). */
export const noSnippet = (id: string): DrawerError =>
  new DrawerError({
    code: 'not-found',
    what: `There is no snippet with the id ${id}`,
    next: 'It may have been deleted: look at drawer list',
  });
