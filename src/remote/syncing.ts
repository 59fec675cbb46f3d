import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import {
  checkPassphrase,
  type FactsOf,
  getSnippet,
  loadFacts,
  picturesOf,
  type Storage,
  type StoredRows,
} from '../drawer/index.ts';
import {
  changedAfter,
  type Merge,
  type MergeOptions,
  mergeRecords,
  names,
  parseRecord,
  recordOf,
  type SyncRecord,
  takePart,
} from '../sync/index.ts';
import type { Carrier } from './carrier.ts';
import { type FollowOptions, follow } from './follow.ts';
import {
  type Frame,
  logStart,
  positionSchema,
  type SealingTools,
  type SyncPassphrase,
  SyncRemote,
} from './sealed-remote.ts';

/** Options of a sync, on every platform. */
export interface SyncOptions {
  /** The passphrase of what is shared, or a function that asks for it; whoever begins it chooses one. */
  readonly passphrase: SyncPassphrase;
  /** The token, or the password of the user, that lets this device in at a server, if the address does not hold it. */
  readonly token?: string | undefined;
  /** How the other devices call this one; default: the last name, or that of the computer. */
  readonly name?: string | undefined;
  /** The label of a snippet that stays beside another, since both were edited at once. */
  labelBeside(preview: string): string;
  /** Called with the number of snippets sent and read so far. */
  onProgress?(done: number): void;
  readonly signal?: AbortSignal | undefined;
}

/** What a sync did. */
export interface SyncResult {
  /** Snippets told to the others: new, changed and deleted ones. */
  readonly sent: number;
  readonly added: number;
  readonly changed: number;
  readonly removed: number;
  /** Ids of snippets that stay beside another, since both were edited at once. */
  readonly beside: readonly string[];
  /** How many other devices take part. */
  readonly devices: number;
  /** What could not be read, or not yet; the rest was. */
  readonly problems: readonly DrawerError[];
}

/** How many snippets are read at once. */
const portion = 100;
/** The most records, or bytes of words, in one frame; one larger record is a frame of its own. */
const most = { records: 1_000, bytes: 1_000_000 };

const sentSchema = v.strictObject({ at: v.string(), end: positionSchema });

/** All names of a kind, at most as many as any storage can give. */
const all = 2 ** 31 - 1;
const toldSchema = v.strictObject({ pictures: v.array(v.string()), done: v.array(v.string()) });

/** A drawer that is kept in step with those of other devices. */
export interface Syncing {
  /** Reads what others have changed, and tells them what has changed here. */
  sync(options?: Pick<SyncOptions, 'onProgress' | 'signal'>): Promise<SyncResult>;
  /**
   * Keeps in step until `signal` ends it: syncs now, and after every change, here or elsewhere.
   * @throws DrawerError like `sync`, but for a server that cannot be reached
   */
  follow(options: FollowOptions): Promise<void>;
  /**
   * Chooses another passphrase, for example when somebody has left: syncs, seals all that this device has under a new key, and
   * removes what is sealed under the one before. The other devices have to open it with the new passphrase; they lose nothing.
   * @throws DrawerError `usage/passphrase-short`; `refused/sync-others-unread` if something of another device cannot be read, and
   * the passphrase stays; `locked/sync-passphrase-changed`; those of `sync`
   */
  changePassphrase(passphrase: string): Promise<SyncResult>;
  /** Calls `changed` after every change, of the drawer or by another device; returns a function that stops it. */
  watch(changed: () => void): () => void;
  close(): Promise<void>;
}

/** The platform that a drawer is synced on, and the drawer. */
export interface SyncPlatform extends SealingTools {
  /** Opens the drawer's storage; what is synced is noted there. */
  openStorage(): Promise<Storage>;
  /** Does work while no other program of this device syncs the drawer. */
  alone<T>(work: () => Promise<T>): Promise<T>;
  /** So many records are put together with the drawer at once, or as many more as are in a frame. */
  readonly mostMerged: number;
  /** Where the drawer is; a copy of it is somewhere else. */
  where(): Promise<string>;
  /** How the other devices call this one, if nobody has named it. */
  readonly deviceName: string;
  /** Milliseconds since 1970. */
  now(): number;
  randomBytes(length: number): Uint8Array;
}

/** Opens a drawer, and what a carrier has of it. The carrier is closed with it, or if it cannot be opened. */
export async function openSyncingOver(
  carrier: Carrier,
  platform: SyncPlatform,
  options: SyncOptions,
): Promise<Syncing> {
  try {
    let remote = await SyncRemote.open(carrier, options.passphrase, platform);
    const storage = await platform.openStorage();
    const syncing: Syncing = {
      sync: (more) =>
        carrier.guarded(() =>
          platform.alone(() => syncNow({ storage, remote, platform, options: { ...options, ...more } })),
        ),
      follow: (following) => follow(syncing, following),
      changePassphrase: (passphrase) =>
        carrier.guarded(() =>
          platform.alone(async () => {
            checkPassphrase(passphrase);
            const before = await syncNow({ storage, remote, platform, options });
            const [problem] = before.problems;
            if (problem)
              throw new DrawerError('refused/sync-others-unread', {}, { where: carrier.name, cause: problem });
            remote = await remote.withPassphrase(passphrase);
            const { sent } = await syncNow({ storage, remote, platform, options });
            return { ...before, sent };
          }),
        ),
      watch: (changed) => {
        const stops = [storage.watch(changed), remote.watch(changed)];
        return () => {
          for (const stop of stops) stop();
        };
      },
      close: async () => {
        await storage.close();
        await carrier.close();
      },
    };
    return syncing;
  } catch (error) {
    await carrier.close();
    throw error;
  }
}

/** One sync: what is brought together, and how. */
interface Sync {
  readonly storage: Storage;
  readonly remote: SyncRemote;
  readonly platform: SyncPlatform;
  readonly options: SyncOptions;
}

async function syncNow(sync: Sync): Promise<SyncResult> {
  const { storage, remote } = sync;
  await remote.checkIsCurrent();
  const device = await ownDevice(sync);
  const { ids, ...read } = await readOthers(sync, device);
  const told = await secretsTold(storage, remote);
  const hasTold = (await storage.read((rows) => rows.findNote(names.sent(remote.id, device)))) !== undefined;
  const sent = told && hasTold ? undefined : await send(sync, device, ids);
  const anew = sent === undefined ? await ownDevice(sync, 'anew') : device;
  const count = sent ?? (await send(sync, anew, ids)) ?? 0;
  await removeOld(storage, remote, anew);
  if (told) await removePictures(storage, remote, told);
  await leaveEarlier(storage, remote);
  return { ...read, sent: count };
}

/** What this device has told of, and is a secret now: the pictures in it, and the remotes that it left already. */
async function secretsTold(
  storage: Storage,
  remote: SyncRemote,
): Promise<v.InferOutput<typeof toldSchema> | undefined> {
  const note = await storage.read((rows) => rows.findNote(names.told));
  const told = note === undefined ? undefined : parseWith(toldSchema, JSON.parse(note), 'note');
  return told?.done.includes(remote.id) ? undefined : told;
}

/** Removes what is sealed under keys before this one, once this device has told everything anew. */
async function leaveEarlier(storage: Storage, remote: SyncRemote): Promise<void> {
  for (const id of remote.earlier) {
    const kinds = ['sent', 'read'].map((kind) => [`sync/${kind}/${id}/`, `sync/${kind}/${id}0`] as const);
    const notes = await storage.read((rows) => Promise.all(kinds.map(([from, to]) => rows.notes(from, to, all))));
    if (notes.flat().length === 0) continue;
    await remote.removeEarlier(id);
    await storage.write(async (rows) => {
      for (const { name } of notes.flat()) await rows.putNote(name, undefined);
    });
  }
}

/** Removes the logs that this device had before it told everything anew. */
async function removeOld(storage: Storage, remote: SyncRemote, device: string): Promise<void> {
  const old = (await ownDevices(storage, remote)).filter((name) => name !== device);
  for (const name of old) await remote.log(name).remove();
  if (old.length > 0)
    await storage.write(async (rows) => {
      for (const name of old) await rows.putNote(names.sent(remote.id, name), undefined);
    });
}

/** The names under which this device has written logs. */
async function ownDevices(storage: Storage, remote: SyncRemote): Promise<readonly string[]> {
  const before = names.sent(remote.id, '');
  const notes = await storage.read((rows) => rows.notes(before, `${before}~`, all));
  return notes.map(({ name }) => name.slice(before.length));
}

/** Removes the pictures of secrets, but for those that other snippets show. */
async function removePictures(
  storage: Storage,
  remote: SyncRemote,
  { pictures }: v.InferOutput<typeof toldSchema>,
): Promise<void> {
  const shown = new Set<string>();
  if (pictures.length > 0)
    await storage.read(async (rows) => {
      for (const { id, secret } of await rows.summaries(0, await rows.count()))
        if (!secret) for (const hash of picturesOf((await getSnippet(rows, id)).content)) shown.add(hash);
    });
  for (const hash of pictures) if (!shown.has(hash)) await remote.removePicture(hash);
  await storage.write(async (rows) => {
    const now = parseWith(toldSchema, JSON.parse((await rows.findNote(names.told)) ?? '{}'), 'note');
    const done = [...now.done, remote.id];
    const remotes = (await rows.notes('sync/sent/', 'sync/sent0', all)).map(({ name }) => name.split('/').slice(2, -1));
    const isEverywhere = remotes.every((parts) => done.includes(parts.join('/')));
    // Another snippet has become secret meanwhile: the next sync starts over.
    if (now.pictures.length !== pictures.length) return;
    await rows.putNote(names.told, isEverywhere ? undefined : JSON.stringify({ ...now, done }));
  });
}

/** The name of this device; another one for a copy of the drawer, which must not write into the same log. */
async function ownDevice({ storage, platform }: Sync, anew?: 'anew'): Promise<string> {
  const where = await platform.where();
  const [device, at] = await storage.read((rows) =>
    Promise.all([rows.findNote(names.device), rows.findNote('sync/where')]),
  );
  if (device !== undefined && at === where && !anew) return device;
  const made = [...platform.randomBytes(12)].map((byte) => (byte % 36).toString(36)).join('');
  await takePart(storage, made);
  await storage.write(async (rows) => {
    await rows.putNote('sync/where', where);
    // The logs of the drawer that this one was copied from are not its own.
    if (at !== where)
      for (const { name } of await rows.notes('sync/sent/', 'sync/sent0', all)) await rows.putNote(name, undefined);
  });
  return made;
}

async function readOthers(
  sync: Sync,
  device: string,
): Promise<Omit<SyncResult, 'sent'> & { readonly ids: ReadonlySet<string> }> {
  const { storage, remote, options } = sync;
  const counts = { added: 0, changed: 0, removed: 0, none: 0 };
  const beside: string[] = [];
  const ids = new Set<string>();
  const problems: DrawerError[] = [];
  const own = new Set([device, ...(await ownDevices(storage, remote))]);
  const others = (await remote.devices()).filter((name) => !own.has(name));
  let done = 0;
  for (const other of others)
    try {
      const note = `sync/read/${remote.id}/${other}`;
      const log = remote.log(other);
      const from = await storage.read((rows) => rows.findNote(note));
      const frames = log.read(noted(positionSchema, from) ?? logStart);
      for await (const merges of mergeInTurn(sync, frames, { other, note })) {
        for (const merge of merges) {
          counts[merge.kind]++;
          ids.add(merge.id);
          beside.push(...merge.beside);
        }
        done += merges.length;
        options.onProgress?.(done);
      }
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      problems.push(error);
    }
  const { none: _, ...rest } = counts;
  return { ...rest, beside, ids, devices: others.length, problems };
}

/** Merges frames into the drawer. The frames before a refused one are merged all the same. */
async function* mergeInTurn(
  sync: Sync,
  frames: AsyncIterable<Frame>,
  from: LogOfOther,
): AsyncGenerator<readonly Merge[]> {
  const { platform, options } = sync;
  for await (const several of together(frames, platform.mostMerged)) {
    options.signal?.throwIfAborted();
    const merges = await mergeFrames(sync, several, from).catch((error: unknown) => {
      if (several.length === 1 || !DrawerError.is(error)) throw error;
    });
    if (merges) yield merges;
    else for (const frame of several) yield await mergeFrames(sync, [frame], from);
  }
}

/** Groups frames until a group has so many records: every transaction writes much of the indexes anew. */
async function* together(frames: AsyncIterable<Frame>, most: number): AsyncGenerator<readonly Frame[]> {
  let read: Frame[] = [];
  let problem: { readonly error: unknown } | undefined;
  try {
    for await (const frame of frames) {
      read.push(frame);
      if (read.reduce((sum, { records }) => sum + records.length, 0) < most) continue;
      yield read;
      read = [];
    }
  } catch (error) {
    problem = { error };
  }
  if (read.length > 0) yield read;
  if (problem) throw problem.error;
}

/** The log of another device: its name, and the note of how far it was read. */
interface LogOfOther {
  readonly other: string;
  readonly note: string;
}

/** Merges frames into the drawer in one transaction, which also notes that they were read. */
async function mergeFrames(
  { storage, remote, platform, options: { labelBeside } }: Sync,
  frames: readonly Frame[],
  { other, note }: LogOfOther,
): Promise<readonly Merge[]> {
  const records = frames.flatMap((frame) => frame.records.map(parseRecord));
  const { name, end } = frames.at(-1) as Frame;
  const hashes = new Set(
    records.flatMap(({ state }) => state.versions.flatMap(({ value }) => [...picturesOf(value.content)])),
  );
  const known = new Set(hashes.size > 0 ? await storage.read((rows) => rows.mediaHashes()) : []);
  const missing = [...hashes].filter((hash) => !known.has(hash));
  const pictures = new Map(
    await Promise.all(missing.map(async (hash) => [hash, await remote.readPicture(hash)] as const)),
  );
  return withFacts((factsOf) =>
    storage.write(async (rows) => {
      for (const [hash, bytes] of pictures) await rows.putMedia(hash, bytes);
      const merges = await mergeRecords(rows, records, { now: platform.now(), labelBeside, factsOf });
      await rows.putNote(names.nameOf(other), name);
      await rows.putNote(note, JSON.stringify(end));
      return merges;
    }),
  );
}

/** Repeats work with the facts it lacked. They are seldom needed, and their code is large. */
async function withFacts<T>(work: (factsOf: MergeOptions['factsOf']) => Promise<T>): Promise<T> {
  const loaded = new Map<string | undefined, FactsOf>();
  for (;;)
    try {
      return await work((language) => {
        const factsOf = loaded.get(language);
        if (factsOf) return factsOf;
        throw new FactsMissing(language);
      });
    } catch (error) {
      if (!(error instanceof FactsMissing)) throw error;
      loaded.set(error.language, await loadFacts([error.language]));
    }
}

class FactsMissing extends Error {
  readonly language: string | undefined;

  constructor(language: string | undefined) {
    super();
    this.language = language;
  }
}

/**
 * Tells the others what has changed; `undefined` if this device's log is not as it left it, so that it needs another.
 * @param known - ids of snippets that others have told of just now
 */
async function send(sync: Sync, device: string, known: ReadonlySet<string>): Promise<number | undefined> {
  const { storage, remote, platform, options } = sync;
  const note = names.sent(remote.id, device);
  const log = remote.log(device);
  const sent = await storage.read((rows) => rows.findNote(note));
  const before = noted(sentSchema, sent);
  const at = before?.at;
  let end = before?.end ?? logStart;
  try {
    // What was written, but not noted before the program ended, is read by others already.
    for await (const frame of log.read(end)) end = frame.end;
  } catch (error) {
    if (!DrawerError.is(error)) throw error;
    return undefined;
  }
  const { ids, upTo } = await storage.read((rows) => (at === undefined ? everything(rows, known) : changes(rows, at)));
  const name = await ownName(storage, options.name, platform.deviceName);
  let count = 0;
  let frame: SyncRecord[] = [];
  let size = 0;
  const write = async (): Promise<void> => {
    if (frame.length > 0) end = await log.append({ name, records: frame }, end);
    [frame, size] = [[], 0];
  };
  for (let from = 0; from < ids.length; from += portion) {
    options.signal?.throwIfAborted();
    const records = await storage.read((rows) =>
      Promise.all(ids.slice(from, from + portion).map((id) => recordOf(rows, id, device))),
    );
    for (const record of records) {
      if (!record) continue;
      for (const { value } of record.state.versions)
        for (const hash of picturesOf(value.content))
          await remote.writePicture(hash, () => storage.read((rows) => rows.findMedia(hash)));
      frame.push(record);
      size += record.state.versions.reduce((sum, { value }) => sum + value.facts.bytes, 0);
      count++;
      if (frame.length >= most.records || size >= most.bytes) await write();
    }
    options.onProgress?.(count);
  }
  await write();
  const value = JSON.stringify({ at: upTo, end });
  if (value !== sent) await storage.write((rows) => rows.putNote(note, value));
  return count;
}

/** What was noted; `undefined` if that cannot be read: then all is read or told again, which does no harm. */
function noted<T>(schema: v.GenericSchema<unknown, T>, note: string | undefined): T | undefined {
  const { success, output } = v.safeParse(v.pipe(v.string(), v.parseJson(), schema), note);
  return success ? output : undefined;
}

/** The name that the others see. */
async function ownName(storage: Storage, chosen: string | undefined, deviceName: string): Promise<string> {
  const known = await storage.read((rows) => rows.findNote('sync/own-name'));
  const name = (chosen ?? known ?? deviceName).slice(0, 100);
  if (name !== known) await storage.write((rows) => rows.putNote('sync/own-name', name));
  return name;
}

interface Unsent {
  readonly ids: readonly string[];
  /** The stamp up to which these are all. */
  readonly upTo: string;
}

/** All that this device can tell: what is in the drawer, and what was deleted; not what others have told and it has not changed. */
async function everything(rows: StoredRows, known: ReadonlySet<string>): Promise<Unsent> {
  const upTo = (await rows.findNote(names.clock)) ?? '';
  const there = (await rows.summaries(0, await rows.count())).map(({ id }) => id);
  const noted = await rows.notes(names.record(''), 'sync/record0', all);
  const own = new Set((await changes(rows, '')).ids);
  const ids = new Set([...there, ...noted.map(({ name }) => name.slice(names.record('').length))]);
  return { ids: [...ids].filter((id) => !known.has(id) || own.has(id)), upTo };
}

async function changes(rows: StoredRows, at: string): Promise<Unsent> {
  const found = await rows.notes(...changedAfter(at), all);
  const parts = found.map(({ name }) => name.split('/'));
  return { ids: parts.map((part) => part.slice(3).join('/')), upTo: parts.at(-1)?.[2] ?? at };
}
