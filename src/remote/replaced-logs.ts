import type { StoredRows } from '../drawer/index.ts';
import { forgetDeletions, names, notesUnder, removeForgotten, timeHeard } from '../sync/index.ts';
import { noted, replacedLogs, sentBy, sentSchema } from './own-log.ts';
import type { Sync } from './platform.ts';
import { type LogsRead, type Read, readLogs, readOf } from './read-logs.ts';

/**
 * How logs stay short and deletions come to an end. A device begins its log anew after a month, and tells in it all that its drawer holds.
 * If a log is two months old, its device has not synced for a month. Another device that has read that log then tells all that it has
 * anew, names the log as replaced, and removes it. After three months, then, every log was written after the deletion was known, and the
 * deletion can be forgotten. A device that finds its own log replaced compares its drawer with the other logs.
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
    for (const other of devices) {
      const read = await readOf(rows, remote, other);
      if (read && isOld(read, now)) away.push([other, read.end.frames]);
    }
    return away.length > 0 || own.begun + month < now ? Object.fromEntries(away) : undefined;
  });
}

/** Whether a log is of a device that has not synced for a month. @param now - milliseconds since 1970 */
const isOld = ({ begun }: Read, now: number): boolean => begun + 2 * month < now;

/** Whether nothing is to be waited for: what could not be read is of devices that have not synced for a month. */
export const isAllRead = ({ storage, remote, platform }: Sync, { unread }: LogsRead): Promise<boolean> =>
  storage.read(async (rows) => {
    const now = await timeHeard(rows, platform.now());
    const logs = await Promise.all(unread.map((device) => readOf(rows, remote, device)));
    return logs.every((read) => read && isOld(read, now));
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
    const own = new Set([device, ...former.keys(), ...mine.map((log) => log.device)]);
    const told = new Set([...read.ids, ...read.ownIds, ...read.beside]);
    const count = await removeForgotten(rows, told, own, since);
    for (const log of mine) await rows.putNote(names.copied(remote.id, log.device), undefined);
    return count;
  });
  return { ...read, removed: read.removed + removed };
}

/** Logs of this device, or of the drawer that its drawer is a copy of, that are replaced by a device that has read all of them. */
async function replacedOwn(
  rows: StoredRows,
  remotes: readonly string[],
): Promise<readonly { readonly device: string; readonly at: string }[]> {
  const replaced = await replacedLogs(rows);
  if (replaced.size === 0) return [];
  const places = remotes.flatMap((id) => [names.sent(id, ''), names.copied(id, '')]);
  const notes = await Promise.all(places.map((place) => notesUnder(rows, place)));
  return notes.flatMap((each) =>
    [...each].flatMap(([device, value]) => {
      const sent = noted(sentSchema, value);
      const frames = replaced.get(device);
      return sent && frames !== undefined && frames >= sent.end.frames ? [{ device, at: sent.at }] : [];
    }),
  );
}
