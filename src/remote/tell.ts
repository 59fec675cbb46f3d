import { DrawerError } from '../content/index.ts';
import { picturesOf, type Storage, type StoredRows } from '../drawer/index.ts';
import {
  blobsTold,
  changesAfter,
  hashOfText,
  names,
  notesUnder,
  putToldDeletions,
  recordOf,
  type SyncRecord,
  timeHeard,
} from '../sync/index.ts';
import { framesNoted, putReplaced, replacedLogs, type Sent, sentBy } from './own-log.ts';
import type { Sync } from './platform.ts';
import { type Frame, type LogPosition, logStart, type RemoteLog, type SyncRemote } from './sealed-remote.ts';

/** How many snippets are read at once. */
const portion = 100;
/** The most records, or characters of JSON, in one frame; one larger record is a frame of its own. */
const most = { records: 1_000, characters: 1_000_000 };
/** A version with more characters of JSON is kept apart from the logs: a new place or label does not tell it again. */
const mostInLog = 100_000;

/** What is told in a new log. */
export interface Telling {
  /** Ids of snippets that other logs tell of. */
  readonly known: ReadonlySet<string>;
  /** Logs that need not be there once this one is told, and how many frames of each were read. */
  readonly replaces?: Readonly<Record<string, number>>;
}

/** Tells the others what has changed; `undefined` if this device's log is not as it left it, so that it needs another. */
export async function send(sync: Sync, device: string, { known, replaces = {} }: Telling): Promise<number | undefined> {
  const { storage, remote, platform, options } = sync;
  const before = await storage.read((rows) => sentBy(rows, remote, device));
  const log = await OwnLog.open(sync, device, before?.end ?? logStart);
  if (!log) return undefined;
  const at = before?.at;
  const { ids, upTo } = await storage.read((rows) => (at === undefined ? everything(rows, known) : changes(rows, at)));
  const now = await storage.read((rows) => timeHeard(rows, platform.now()));
  const begun = before?.begun ?? now;
  if (log.end.frames === 0) await log.write({ begun });
  let count = 0;
  const deletions: SyncRecord[] = [];
  for (let from = 0; from < ids.length; from += portion) {
    options.signal?.throwIfAborted();
    const records = await storage.read((rows) =>
      Promise.all(ids.slice(from, from + portion).map((id) => recordOf(rows, id, device, now))),
    );
    for (const record of records) {
      if (!record) continue;
      await log.add(await withBlobs(sync, record));
      if (record.state.gone) deletions.push(record);
      count++;
    }
    options.onProgress?.(count);
  }
  await log.write();
  // Another name is told of, too.
  if (before && before.name !== log.name && log.end.frames === before.end.frames) await log.write({});
  const last = before ? undefined : await storage.read((rows) => lastOfAll(rows, remote, log.name, replaces));
  if (last) await log.write(last);
  if (before?.at === upTo && before.end.frames === log.end.frames) return count;
  await storage.write(async (rows) => {
    const value: Sent = { at: upTo, end: log.end, begun, name: log.name };
    await rows.putNote(names.sent(remote.id, device), JSON.stringify(value));
    await putToldDeletions(rows, deletions);
    await putReplaced(rows, last?.replaced ?? {});
  });
  return count;
}

/** The log of this device, which it goes on with. */
class OwnLog {
  /** How the others call this device. */
  readonly name: string;
  readonly #log: RemoteLog;
  #end: LogPosition;
  #records: unknown[] = [];
  #characters = 0;

  private constructor(log: RemoteLog, name: string, end: LogPosition) {
    this.#log = log;
    this.name = name;
    this.#end = end;
  }

  /** @param end - where it is known to end. @returns `undefined` if it is not as this device left it */
  static async open(
    { storage, remote, platform, options }: Sync,
    device: string,
    end: LogPosition,
  ): Promise<OwnLog | undefined> {
    const log = remote.log(device);
    let last = end;
    try {
      // What was written, but not noted before the program ended, is read by others already.
      for await (const frame of log.read(end)) last = frame.end;
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      return undefined;
    }
    return new OwnLog(log, await ownName(storage, options.name, platform.deviceName), last);
  }

  get end(): LogPosition {
    return this.#end;
  }

  /** Puts a record into the next frame, which is written once it is full. */
  async add(record: unknown): Promise<void> {
    this.#records.push(record);
    this.#characters += JSON.stringify(record).length;
    if (this.#records.length >= most.records || this.#characters >= most.characters) await this.write();
  }

  /** Writes a frame with the records that were put into it, and with what else it says, if there is anything. */
  async write(more?: Omit<Frame, 'name' | 'records' | 'end'>): Promise<void> {
    const records = this.#records;
    if (records.length === 0 && !more) return;
    this.#end = await this.#log.append({ name: this.name, records, ...more }, this.#end);
    [this.#records, this.#characters] = [[], 0];
  }
}

/** A record as it is told: its pictures, and values that are too large for a log, are kept apart from it. */
async function withBlobs({ storage, remote }: Sync, { id, state }: SyncRecord): Promise<unknown> {
  const values = state.versions.map(({ value }) => JSON.stringify(value));
  const hashes = values.map((json) => (json.length > mostInLog ? hashOfText(json) : undefined));
  const pictures = new Set(state.versions.flatMap(({ value }) => [...picturesOf(value.content)]));
  const blobs = [...pictures, ...hashes.filter((hash) => hash !== undefined)];
  if (blobs.length === 0) return { id, state };
  const told = await storage.read((rows) => blobsTold(rows, id));
  const all = [...new Set([...told, ...blobs])];
  // Noted first: whatever was kept there can be removed, should this become a secret.
  if (all.length > told.length) await storage.write((rows) => rows.putNote(names.blobs(id), JSON.stringify(all)));
  for (const hash of pictures) await remote.writePicture(hash, () => storage.read((rows) => rows.findMedia(hash)));
  for (const [index, hash] of hashes.entries()) if (hash) await remote.writeValue(hash, values[index] as string);
  const versions = state.versions.map((version, index) =>
    hashes[index] === undefined ? version : { ...version, value: { blob: hashes[index] } },
  );
  return { id, state: { ...state, versions } };
}

/** The name that the others see. */
async function ownName(storage: Storage, chosen: string | undefined, deviceName: string): Promise<string> {
  const known = await storage.read((rows) => rows.findNote(names.ownName));
  const name = (chosen ?? known ?? deviceName).slice(0, 100);
  if (name !== known) await storage.write((rows) => rows.putNote(names.ownName, name));
  return name;
}

/** What is told at the end of all that this device has: which logs need not be there, and whose they were; `undefined` if none. */
async function lastOfAll(
  rows: StoredRows,
  { id, earlier }: SyncRemote,
  ownName: string,
  replaces: Readonly<Record<string, number>>,
): Promise<Required<Pick<Frame, 'replaced' | 'names'>> | undefined> {
  const own = await framesNoted(rows, names.sent, [id, ...earlier]);
  const replaced = { ...Object.fromEntries(await replacedLogs(rows)), ...replaces, ...own };
  if (Object.keys(replaced).length === 0) return undefined;
  const others = await notesUnder(rows, names.nameOf(''));
  const former = [...(await notesUnder(rows, names.former(''))).keys()].map((device) => [device, ownName]);
  return { replaced, names: Object.fromEntries([...others, ...former]) };
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
  const noted = await notesUnder(rows, names.record(''));
  const own = new Set((await changes(rows, '')).ids);
  const ids = new Set([...there, ...noted.keys()]);
  return { ids: [...ids].filter((id) => !known.has(id) || own.has(id)), upTo };
}

async function changes(rows: StoredRows, at: string): Promise<Unsent> {
  const found = await changesAfter(rows, at);
  const parts = found.map(({ name }) => name.split('/'));
  return { ids: parts.map((part) => part.slice(3).join('/')), upTo: parts.at(-1)?.[2] ?? at };
}
