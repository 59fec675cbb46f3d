import { randomBytes } from 'node:crypto';
import { mkdir, open, readdir, readFile, realpath, rename, rm, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { picturesOf, type Storage, type StoredRows } from '../drawer/index.ts';
import { type Encryption, newLock, openLock, parseLock } from '../storage/sqlite/index.ts';
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
import { type Frame, type LogPosition, logStart, SyncLog } from './sync-log.ts';

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

/** The file of a folder that says how it is sealed. */
const folderFile = 'drawer-sync.json';
const logName = /^([0-9a-z]{12})\.log$/;
/** Minimum length of a passphrase in characters: whoever has the folder can make unlimited attempts. */
const shortest = 8;
/** How many snippets are read at once. */
const portion = 100;
/** The most records, or bytes of words, in one frame; one larger record is a frame of its own. */
const most = { records: 1_000, bytes: 1_000_000 };

const folderSchema = v.strictObject({ format: v.literal(1), lock: v.string() });
const sentSchema = v.strictObject({
  at: v.string(),
  end: v.strictObject({ bytes: v.number(), frames: v.number(), last: v.string() }),
});

/** A folder that several devices see, opened. */
interface SyncFolder {
  readonly path: string;
  /** Different for every folder. */
  readonly id: string;
  readonly sealing: Encryption;
}

/** Whether a folder was begun for syncing, so that its passphrase is known to somebody. */
export async function isSyncFolder(folder: string): Promise<boolean> {
  return (await readdir(folder).catch(() => [] as string[])).includes(folderFile);
}

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
  const opened = await openFolder(folder, options.passphrase);
  const storage = await openDrawerStorage(path, options.open);
  return {
    sync: (more) => whileClaimed([path], () => syncNow(storage, path, opened, { ...options, ...more })),
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
  const sending = { folder, known: ids };
  const told = await storage.read((rows) => rows.findNote(names.told));
  const sent = told === undefined ? await send(storage, sending, device, options) : undefined;
  if (sent !== undefined) return { ...read, sent };
  const anew = await send(storage, sending, await ownDevice(storage, path, 'anew'), options);
  await removeOld(storage, folder, told);
  return { ...read, sent: anew ?? 0 };
}

/** Removes what this device had told before it told all of it anew, and the pictures of secrets in it. */
async function removeOld(storage: Storage, folder: SyncFolder, told: string | undefined): Promise<void> {
  const pictures = JSON.parse(told ?? '[]') as string[];
  const { old, hidden } = await storage.read(async (rows) => {
    const shown = new Set<string>();
    for (const { id, secret } of await rows.summaries(0, await rows.count()))
      if (!secret && pictures.length > 0) for (const hash of picturesOf((await rows.get(id)).content)) shown.add(hash);
    return {
      old: await rows.notes('sync/old/', 'sync/old0', 1_000),
      hidden: pictures.filter((hash) => !shown.has(hash)),
    };
  });
  const devices = old.map(({ name }) => name.slice('sync/old/'.length));
  for (const name of devices) await rm(join(folder.path, `${name}.log`), { force: true });
  for (const hash of hidden) await rm(picturePath(folder, hash), { force: true });
  await storage.write(async (rows) => {
    for (const { name } of old) await rows.putNote(name, undefined);
    if ((await rows.findNote(names.told)) === told) await rows.putNote(names.told, undefined);
  });
}

async function openFolder(folder: string, passphrase: string): Promise<SyncFolder> {
  await mkdir(join(folder, 'pictures'), { recursive: true, mode: 0o700 });
  const path = join(folder, folderFile);
  for (;;) {
    const there = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return undefined;
      throw error;
    });
    if (there !== undefined) {
      const { lock } = parseWith(folderSchema, JSON.parse(there), 'folder');
      const parsed = parseLock(lock);
      return { path: folder, id: parsed.salt, sealing: openLock(parsed, passphrase).sealing };
    }
    if ([...passphrase].length < shortest) throw new DrawerError('usage/passphrase-short', { least: shortest });
    const text = JSON.stringify({ format: 1, lock: JSON.stringify(newLock(passphrase).lock) });
    await writeFile(path, text, { flag: 'wx', mode: 0o600 }).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error; // another device has begun it meanwhile
    });
  }
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
    // A log that a copy of the drawer goes on with stays.
    if (device !== undefined && at === where) await rows.putNote(`sync/old/${device}`, '');
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
  const others = (await readdir(folder.path))
    .flatMap((name) => logName.exec(name)?.[1] ?? [])
    .filter((name) => name !== device);
  let done = 0;
  for (const other of others.sort())
    try {
      const note = `sync/read/${folder.id}/${other}`;
      const log = new SyncLog(join(folder.path, `${other}.log`), other, folder.sealing);
      const from = await storage.read((rows) => rows.findNote(note));
      for await (const frame of log.read(from === undefined ? logStart : (JSON.parse(from) as LogPosition))) {
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
    await Promise.all(missing.map(async (hash) => [hash, await readPicture(folder, hash)] as const)),
  );
  return storage.write(async (rows) => {
    for (const [hash, bytes] of pictures) await rows.putMedia(hash, bytes);
    const merges: Merge[] = [];
    for (const record of parsed)
      merges.push(
        await mergeRecord(rows, record, { now: Date.now(), labelBeside: ({ facts }) => labelBeside(facts.preview) }),
      );
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
  const note = `sync/sent/${folder.id}/${device}`;
  const log = new SyncLog(join(folder.path, `${device}.log`), device, folder.sealing);
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
  const name = await ownName(storage, device, options.name);
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
async function ownName(storage: Storage, _device: string, chosen: string | undefined): Promise<string> {
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
  const noted = await rows.notes(names.record(''), 'sync/record0', Number.MAX_SAFE_INTEGER);
  const own = new Set((await changes(rows, '')).ids);
  const ids = new Set([...there, ...noted.map(({ name }) => name.slice(names.record('').length))]);
  return { ids: [...ids].filter((id) => !known.has(id) || own.has(id)), upTo };
}

async function changes(rows: StoredRows, at: string): Promise<Unsent> {
  const found = await rows.notes(...changedAfter(at), Number.MAX_SAFE_INTEGER);
  const parts = found.map(({ name }) => name.split('/'));
  return { ids: parts.map((part) => part.slice(3).join('/')), upTo: parts.at(-1)?.[2] ?? at };
}

/** Pictures are named by a keyed hash, so that the name says nothing. */
const picturePath = ({ path, sealing }: SyncFolder, hash: string): string =>
  join(path, 'pictures', Buffer.from(sealing.digest(hash), 'base64').toString('base64url'));

async function readPicture(folder: SyncFolder, hash: string): Promise<Uint8Array> {
  const path = picturePath(folder, hash);
  try {
    return folder.sealing.open(await readFile(path), `picture\n${hash}`);
  } catch (cause) {
    throw new DrawerError('storage/sync-picture-missing', {}, { where: path, cause });
  }
}

async function writePicture(storage: Storage, folder: SyncFolder, hash: string): Promise<void> {
  const path = picturePath(folder, hash);
  if ((await readdir(join(folder.path, 'pictures'))).includes(path.slice(-43))) return;
  const bytes = await storage.read((rows) => rows.findMedia(hash));
  if (!bytes) return;
  const begun = `${path}.${randomBytes(4).toString('hex')}.part`;
  try {
    const file = await open(begun, 'wx', 0o600);
    await file.writeFile(folder.sealing.seal(bytes, `picture\n${hash}`));
    await file.sync();
    await file.close();
    await rename(begun, path);
  } finally {
    await rm(begun, { force: true });
  }
}
