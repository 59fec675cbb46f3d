import type { StoredRows } from '../drawer/index.ts';
import { forgetDeletions, names, notesUnder, removeForgotten, timeHeard } from '../sync/index.ts';
import { lastOf, noted, replacedLogs, sentBy, sentSchema } from './own-log.ts';
import type { Sync } from './platform.ts';
import { type LogsRead, readLogs, readOf } from './read-logs.ts';
import type { SyncRemote } from './sealed-remote.ts';

/**
 * Logs do not grow for ever, and deletions are not told of for ever. Each device begins its log anew after a month, and tells in it
 * all that it has. A log of two months is of a device that has not synced for a month: another device, which has read it, tells all that it
 * has anew, too, says so, and removes that log. So after three months no log tells any more of what was deleted before, and the
 * deletion is forgotten. A device that comes back finds that its log was replaced, and compares what it has with what is told.
 */
const month = 30 * 24 * 60 * 60_000;

/**
 * Logs of other devices that this device is to replace by one in which it tells all that it has, and how many frames of each it has
 * read; `undefined` if there are none, and its own is not to be begun anew.
 */
export async function logsToReplace(sync: Sync, device: string): Promise<Readonly<Record<string, number>> | undefined> {
  const { storage, remote, platform } = sync;
  const devices = await remote.devices();
  return storage.read(async (rows) => {
    const now = await timeHeard(rows, platform.now());
    const own = await sentBy(rows, remote, device);
    if (!own) return undefined;
    const away: [string, number][] = [];
    for (const other of devices)
      if (await isOld(rows, remote, other, now))
        away.push([other, (await readOf(rows, remote, other))?.end.frames ?? 0]);
    return away.length > 0 || own.begun + month < now ? Object.fromEntries(away) : undefined;
  });
}

/** Whether a log is of a device that has not synced for a month. @param now - milliseconds since 1970 */
async function isOld(rows: StoredRows, remote: SyncRemote, device: string, now: number): Promise<boolean> {
  const read = await readOf(rows, remote, device);
  return read !== undefined && read.begun + 2 * month < now;
}

/** Whether nothing is to be waited for: what could not be read is of devices that have not synced for a month. */
export const isAllRead = ({ storage, remote, platform }: Sync, { unread }: LogsRead): Promise<boolean> =>
  storage.read(async (rows) => {
    const now = await timeHeard(rows, platform.now());
    for (const device of unread) if (!(await isOld(rows, remote, device, now))) return false;
    return true;
  });

/** Forgets deletions that every device has heard of, or has to compare afresh. */
export const forgetOldDeletions = ({ storage, platform }: Sync): Promise<void> =>
  storage.write(async (rows) => forgetDeletions(rows, (await timeHeard(rows, platform.now())) - 3 * month));

/** Removes logs that are replaced. */
export async function removeReplaced({ remote, storage }: Sync, devices: readonly string[]): Promise<void> {
  for (const device of devices) await remote.log(device).remove();
  await storage.write(async (rows) => {
    for (const device of devices) await rows.putNote(names.read(remote.id, device), undefined);
  });
}

/**
 * Where a log of this device was replaced: reads all afresh, and removes what is told no more, if all could be read.
 * @returns what was read; `undefined` if no log of it was replaced
 */
export async function comeBack(sync: Sync, device: string): Promise<LogsRead | undefined> {
  const { storage, remote } = sync;
  const mine = await storage.read((rows) => replacedOwn(rows, [remote.id, ...remote.earlier]));
  if (mine.length === 0) return undefined;
  const read = await readLogs(sync, device, 'afresh');
  // What only such a log tells would be taken for deleted.
  if (read.unread.length > 0) return read;
  const [since = ''] = mine.map(({ at }) => at).sort();
  const removed = await storage.write(async (rows) => {
    const former = await notesUnder(rows, names.former(''));
    const own = new Set([device, ...[...former, ...mine].map(({ name }) => lastOf(name))]);
    const told = new Set([...read.ids, ...read.ownIds, ...read.beside]);
    const count = await removeForgotten(rows, told, own, since);
    for (const { name } of mine) if (name.startsWith('sync/copied/')) await rows.putNote(name, undefined);
    return count;
  });
  return { ...read, removed: read.removed + removed };
}

/** What this device, or the drawer that its drawer is a copy of, has told in logs of which all was read and that are replaced. */
async function replacedOwn(
  rows: StoredRows,
  remotes: readonly string[],
): Promise<readonly { readonly name: string; readonly at: string }[]> {
  const replaced = await replacedLogs(rows);
  if (replaced.size === 0) return [];
  const places = remotes.flatMap((id) => [names.sent(id, ''), names.copied(id, '')]);
  const notes = (await Promise.all(places.map((place) => notesUnder(rows, place)))).flat();
  return notes.flatMap(({ name, value }) => {
    const sent = noted(sentSchema, value);
    const frames = replaced.get(lastOf(name));
    return sent && frames !== undefined && frames >= sent.end.frames ? [{ name, at: sent.at }] : [];
  });
}
