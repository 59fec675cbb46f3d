import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { type FactsOf, loadFacts, picturesOf, type StoredRows, type WritableRows } from '../drawer/index.ts';
import {
  checkTime,
  findHere,
  type Merge,
  type MergeOptions,
  mergeRecords,
  names,
  parseRecord,
  type SyncRecord,
  timeHeard,
  type Version,
} from '../sync/index.ts';
import { noted, ownDevices, putReplaced, sentBy } from './own-log.ts';
import type { Sync, SyncResult } from './platform.ts';
import { type Frame, type LogPosition, logStart, positionSchema, type SyncRemote } from './sealed-remote.ts';

/** What is noted of another device's log: up to where it was read, and when it was begun, in milliseconds since 1970. */
const readSchema = v.strictObject({ end: positionSchema, begun: v.number() });
export type Read = v.InferOutput<typeof readSchema>;

/** What the logs told. */
export interface LogsRead extends Omit<SyncResult, 'sent'> {
  /** The ids of the snippets that logs of others told of. */
  readonly ids: ReadonlySet<string>;
  /** The ids of the snippets that logs of this device told of. */
  readonly ownIds: ReadonlySet<string>;
  /** The devices whose logs could not be read to the end. */
  readonly unread: readonly string[];
}

/** A log, and whether this device has written it. */
interface LogOf {
  readonly device: string;
  readonly isOwn: boolean;
}

/**
 * Reads what the logs tell that was not read yet, those of this device too: an older copy of its drawer may have been put back.
 * @param device - the name of this device
 * @param afresh - reads all of them from their beginning
 */
export async function readLogs(sync: Sync, device: string, afresh?: 'afresh'): Promise<LogsRead> {
  const { storage, remote, options } = sync;
  const counts = { added: 0, changed: 0, removed: 0, none: 0 };
  const beside: string[] = [];
  const [ids, ownIds] = [new Set<string>(), new Set<string>()];
  const problems: DrawerError[] = [];
  const unread: string[] = [];
  const own = new Set([device, ...(await ownDevices(storage, remote.id))]);
  const logs = (await remote.devices()).map((name) => ({ device: name, isOwn: own.has(name) }));
  let done = 0;
  for (const log of logs)
    try {
      const from = afresh ? logStart : await readUpTo(sync, log);
      for await (const merges of mergeInTurn(sync, remote.log(log.device).read(from), log)) {
        for (const merge of merges) {
          counts[merge.kind]++;
          (log.isOwn ? ownIds : ids).add(merge.id);
          beside.push(...merge.beside);
        }
        done += merges.length;
        options.onProgress?.(done);
      }
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      // If this device cannot go on with its own log, it begins another.
      if (log.isOwn) continue;
      problems.push(error);
      unread.push(log.device);
      await putSeen(sync, log.device);
    }
  const { none: _, ...rest } = counts;
  const devices = logs.filter(({ isOwn }) => !isOwn).length;
  return { ...rest, beside, ids, ownIds, devices, problems, unread };
}

/** What was read of another device's log; `undefined` if nothing was. */
export const readOf = async (rows: StoredRows, remote: SyncRemote, device: string): Promise<Read | undefined> =>
  noted(readSchema, await rows.findNote(names.read(remote.id, device)));

async function readUpTo({ storage, remote }: Sync, { device, isOwn }: LogOf): Promise<LogPosition> {
  const read = await storage.read((rows) => (isOwn ? sentBy(rows, remote, device) : readOf(rows, remote, device)));
  return read?.end ?? logStart;
}

/** Notes that there is a log, even if nothing of it could be read. */
async function putSeen({ storage, remote, platform }: Sync, device: string): Promise<void> {
  await storage.write(async (rows) => {
    if (await readOf(rows, remote, device)) return;
    const seen: Read = { end: logStart, begun: await timeHeard(rows, platform.now()) };
    await rows.putNote(names.read(remote.id, device), JSON.stringify(seen));
  });
}

/** Notes how people call other devices. */
async function putNames(rows: WritableRows, called: Readonly<Record<string, string>>): Promise<void> {
  const own = await rows.findNote(names.device);
  for (const [device, name] of Object.entries(called)) {
    const isOwn = device === own || (await rows.findNote(names.former(device))) !== undefined;
    if (!isOwn) await rows.putNote(names.nameOf(device), name);
  }
}

/** Notes that frames were read. @throws DrawerError `sync-clock-ahead` */
async function putRead(
  rows: WritableRows,
  { remote, platform }: Sync,
  { device, isOwn }: LogOf,
  frames: readonly Frame[],
): Promise<void> {
  const { name, end } = frames.at(-1) as Frame;
  for (const { replaced = {}, names: called = {} } of frames) {
    await putReplaced(rows, replaced);
    await putNames(rows, called);
  }
  if (isOwn) {
    const sent = await sentBy(rows, remote, device);
    if (sent) await rows.putNote(names.sent(remote.id, device), JSON.stringify({ ...sent, end }));
    return;
  }
  const begun = frames[0]?.begun ?? (await readOf(rows, remote, device))?.begun ?? 0;
  checkTime(begun, platform.now());
  await rows.putNote(names.nameOf(device), name);
  await rows.putNote(names.read(remote.id, device), JSON.stringify({ end, begun }));
}

/** Merges frames into the drawer. The frames before a refused one are merged all the same. */
async function* mergeInTurn(sync: Sync, frames: AsyncIterable<Frame>, from: LogOf): AsyncGenerator<readonly Merge[]> {
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

/** Merges frames into the drawer in one transaction, which also notes that they were read. */
async function mergeFrames(sync: Sync, frames: readonly Frame[], log: LogOf): Promise<readonly Merge[]> {
  const { storage, remote, platform, options } = sync;
  const { labelBeside } = options;
  const records: SyncRecord[] = [];
  for (const frame of frames)
    for (const record of frame.records) records.push(parseRecord(await withValues(sync, record)));
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
      await putRead(rows, sync, log, frames);
      return merges;
    }),
  );
}

const blobSchema = v.strictObject({ blob: v.string() });
const keptApart = v.looseObject({
  id: v.string(),
  state: v.looseObject({ versions: v.array(v.looseObject({ at: v.string(), value: v.unknown() })) }),
});

/** A record with the values that are kept apart from the logs. */
async function withValues({ storage, remote }: Sync, told: unknown): Promise<unknown> {
  // What it is has not been checked yet.
  const { versions: all } = (told as Partial<SyncRecord> | null)?.state ?? {};
  if (!Array.isArray(all) || !all.some((each: Partial<Version> | null) => v.is(blobSchema, each?.value))) return told;
  const record = parseWith(keptApart, told, 'record');
  const { id, state } = record;
  const { state: known } = await storage.read((rows) => findHere(rows, id));
  const versions = [];
  for (const version of state.versions) {
    const { at, value } = version;
    // A version never changes.
    const here = known?.versions.find((each) => each.at === at)?.value;
    versions.push(
      v.is(blobSchema, value) ? { ...version, value: here ?? (await remote.readValue(value.blob)) } : version,
    );
  }
  return { ...record, state: { ...state, versions } };
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
