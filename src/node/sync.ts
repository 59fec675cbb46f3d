import { randomBytes } from 'node:crypto';
import { realpath } from 'node:fs/promises';
import { hostname } from 'node:os';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { picturesOf, type Storage, type StoredRows } from '../drawer/index.ts';
import {
  changedAfter,
  type Merge,
  mergeRecord,
  names,
  parseRecord,
  recordOf,
  type SyncRecord,
  takePart,
} from '../sync/index.ts';
import { whileClaimed } from './files.ts';
import { type OpenOptions, openDrawerStorage } from './open-drawer.ts';
import { onDisk, SyncFolder } from './sync-folder.ts';
import { type Frame, logStart, positionSchema } from './sync-log.ts';

/** Options of `syncFolder`. */
export interface SyncOptions {
  /** The passphrase of the folder; whoever begins it chooses it. */
  readonly passphrase: string;
  /** How the other devices call this one; default: the last name, or that of the computer. */
  readonly name?: string | undefined;
  /** How the drawer is opened. */
  readonly open?: OpenOptions;
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
/** Where this device's own log of a folder was written up to. */
const sentNote = (folder: SyncFolder, device: string): string => `sync/sent/${folder.id}/${device}`;
const toldSchema = v.strictObject({ pictures: v.array(v.string()), done: v.array(v.string()) });

/** A drawer and a folder that are kept in step. */
export interface FolderSync {
  /** Reads what others have changed, and tells them what has changed here. */
  sync(options?: Pick<SyncOptions, 'onProgress' | 'signal'>): Promise<SyncResult>;
  /** Calls `changed` within a second of every change of the drawer; returns a function that stops it. */
  watch(changed: () => void): () => void;
  close(): Promise<void>;
}

/**
 * Opens a drawer and a folder that several devices see: a share, a stick, or one that a program carries from device to device.
 * Everything in it is sealed (AES-256-GCM under a key from the passphrase). Secrets are left out.
 * @param path - the drawer
 * @param folder - made if it is not there
 * @throws DrawerError `locked/passphrase-wrong`; `usage/passphrase-short`; `write-failed`; those of `openDrawer`
 */
export async function openFolderSync(path: string, folder: string, options: SyncOptions): Promise<FolderSync> {
  const opened = await SyncFolder.open(folder, options.passphrase);
  const storage = await openDrawerStorage(path, options.open);
  return {
    sync: (more) =>
      onDisk(folder, () => whileClaimed([path], () => syncNow(storage, path, opened, { ...options, ...more }))),
    watch: (changed) => storage.watch(changed),
    close: () => storage.close(),
  };
}

/** Brings a drawer and those of other devices together once; see `openFolderSync`. @throws DrawerError like that */
export async function syncFolder(path: string, folder: string, options: SyncOptions): Promise<SyncResult> {
  const opened = await openFolderSync(path, folder, options);
  try {
    return await opened.sync();
  } finally {
    await opened.close();
  }
}

async function syncNow(storage: Storage, path: string, folder: SyncFolder, options: SyncOptions): Promise<SyncResult> {
  const device = await ownDevice(storage, path);
  const { ids, ...read } = await readOthers(storage, folder, device, options);
  const told = await secretsTold(storage, folder);
  const hasTold = (await storage.read((rows) => rows.findNote(sentNote(folder, device)))) !== undefined;
  const sending = { folder, known: ids };
  const sent = told && hasTold ? undefined : await send(storage, sending, device, options);
  const anew = sent === undefined ? await ownDevice(storage, path, 'anew') : device;
  const count = sent ?? (await send(storage, sending, anew, options)) ?? 0;
  await removeOld(storage, folder, anew);
  if (told) await removePictures(storage, folder, told);
  return { ...read, sent: count };
}

/** What this device has told of, and is a secret now: the pictures in it, and the folders that it left already. */
async function secretsTold(
  storage: Storage,
  folder: SyncFolder,
): Promise<v.InferOutput<typeof toldSchema> | undefined> {
  const note = await storage.read((rows) => rows.findNote(names.told));
  const told = note === undefined ? undefined : parseWith(toldSchema, JSON.parse(note), 'note');
  return told?.done.includes(folder.id) ? undefined : told;
}

/** Removes the logs that this device had in a folder before it told everything anew. */
async function removeOld(storage: Storage, folder: SyncFolder, device: string): Promise<void> {
  const old = (await ownDevices(storage, folder)).filter((name) => name !== device);
  for (const name of old) await folder.removeLog(name);
  if (old.length > 0)
    await storage.write(async (rows) => {
      for (const name of old) await rows.putNote(sentNote(folder, name), undefined);
    });
}

/** The names under which this device has written into a folder. */
async function ownDevices(storage: Storage, folder: SyncFolder): Promise<readonly string[]> {
  const notes = await storage.read((rows) => rows.notes(sentNote(folder, ''), sentNote(folder, '~'), all));
  return notes.map(({ name }) => name.slice(sentNote(folder, '').length));
}

/** Removes the pictures of secrets from a folder, but for those that other snippets show. */
async function removePictures(
  storage: Storage,
  folder: SyncFolder,
  { pictures }: v.InferOutput<typeof toldSchema>,
): Promise<void> {
  const shown = new Set<string>();
  if (pictures.length > 0)
    await storage.read(async (rows) => {
      for (const { id, secret } of await rows.summaries(0, await rows.count()))
        if (!secret) for (const hash of picturesOf((await rows.get(id)).content)) shown.add(hash);
    });
  for (const hash of pictures) if (!shown.has(hash)) await folder.removePicture(hash);
  await storage.write(async (rows) => {
    const now = parseWith(toldSchema, JSON.parse((await rows.findNote(names.told)) ?? '{}'), 'note');
    const done = [...now.done, folder.id];
    const folders = (await rows.notes('sync/sent/', 'sync/sent0', all)).map(({ name }) => name.split('/').slice(2, -1));
    const isEverywhere = folders.every((parts) => done.includes(parts.join('/')));
    // Another snippet has become secret meanwhile: the next sync starts over.
    if (now.pictures.length !== pictures.length) return;
    await rows.putNote(names.told, isEverywhere ? undefined : JSON.stringify({ ...now, done }));
  });
}

/** The name of this device; another one for a copy of the drawer, which must not write into the same log. */
async function ownDevice(storage: Storage, path: string, anew?: 'anew'): Promise<string> {
  const where = `${hostname()} ${await realpath(path)}`;
  const [device, at] = await storage.read((rows) =>
    Promise.all([rows.findNote(names.device), rows.findNote('sync/where')]),
  );
  if (device !== undefined && at === where && !anew) return device;
  const made = [...randomBytes(12)].map((byte) => (byte % 36).toString(36)).join('');
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
  storage: Storage,
  folder: SyncFolder,
  device: string,
  options: SyncOptions,
): Promise<Omit<SyncResult, 'sent'> & { readonly ids: ReadonlySet<string> }> {
  const counts = { added: 0, changed: 0, removed: 0, none: 0 };
  const beside: string[] = [];
  const ids = new Set<string>();
  const problems: DrawerError[] = [];
  const own = new Set([device, ...(await ownDevices(storage, folder))]);
  const others = (await folder.devices()).filter((name) => !own.has(name));
  let done = 0;
  for (const other of others)
    try {
      const note = `sync/read/${folder.id}/${other}`;
      const log = folder.log(other);
      const from = await storage.read((rows) => rows.findNote(note));
      for await (const frame of log.read(
        from === undefined ? logStart : parseWith(positionSchema, JSON.parse(from), 'note'),
      )) {
        options.signal?.throwIfAborted();
        const merges = await mergeFrame(storage, folder, frame, { other, note }, options);
        for (const merge of merges) {
          counts[merge.kind]++;
          ids.add(merge.id);
          beside.push(...merge.beside);
        }
        done += frame.records.length;
        options.onProgress?.(done);
      }
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      problems.push(error);
    }
  const { none: _, ...rest } = counts;
  return { ...rest, beside, ids, devices: others.length, problems };
}

/** Puts the records of a frame together with the drawer, and notes that it was read: all of that or nothing. */
async function mergeFrame(
  storage: Storage,
  folder: SyncFolder,
  { name, records, end }: Frame,
  { other, note }: { readonly other: string; readonly note: string },
  { labelBeside }: SyncOptions,
): Promise<readonly Merge[]> {
  const parsed = records.map(parseRecord);
  const hashes = new Set(
    parsed.flatMap(({ state }) => state.versions.flatMap(({ value }) => [...picturesOf(value.content)])),
  );
  const known = new Set(hashes.size > 0 ? await storage.read((rows) => rows.mediaHashes()) : []);
  const missing = [...hashes].filter((hash) => !known.has(hash));
  const pictures = new Map(
    await Promise.all(missing.map(async (hash) => [hash, await folder.readPicture(hash)] as const)),
  );
  return storage.write(async (rows) => {
    for (const [hash, bytes] of pictures) await rows.putMedia(hash, bytes);
    const merges: Merge[] = [];
    for (const record of parsed) merges.push(await mergeRecord(rows, record, { now: Date.now(), labelBeside }));
    await rows.putNote(names.nameOf(other), name);
    await rows.putNote(note, JSON.stringify(end));
    return merges;
  });
}

/** Where to send to. */
interface Sending {
  readonly folder: SyncFolder;
  /** Ids of snippets that others have told of just now. */
  readonly known: ReadonlySet<string>;
}

/** Tells the others what has changed; `undefined` if this device's log is not as it left it, so that it needs another. */
async function send(
  storage: Storage,
  { folder, known }: Sending,
  device: string,
  options: SyncOptions,
): Promise<number | undefined> {
  const note = sentNote(folder, device);
  const log = folder.log(device);
  const sent = await storage.read((rows) => rows.findNote(note));
  const { at, end: noted } =
    sent === undefined ? { at: undefined, end: logStart } : parseWith(sentSchema, JSON.parse(sent), 'note');
  let end = noted;
  try {
    // What was written, but not noted before the program ended, is read by others already.
    for await (const frame of log.read(noted)) end = frame.end;
  } catch (error) {
    if (!DrawerError.is(error)) throw error;
    return undefined;
  }
  const { ids, upTo } = await storage.read((rows) => (at === undefined ? everything(rows, known) : changes(rows, at)));
  const name = await ownName(storage, options.name);
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
        for (const hash of picturesOf(value.content)) await writePicture(storage, folder, hash);
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

/** The name that the others see. */
async function ownName(storage: Storage, chosen: string | undefined): Promise<string> {
  const known = await storage.read((rows) => rows.findNote('sync/own-name'));
  const name = (chosen ?? known ?? hostname()).slice(0, 100);
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

async function writePicture(storage: Storage, folder: SyncFolder, hash: string): Promise<void> {
  if (await folder.hasPicture(hash)) return;
  const bytes = await storage.read((rows) => rows.findMedia(hash));
  if (bytes) await folder.writePicture(hash, bytes);
}
