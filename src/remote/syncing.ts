import { DrawerError } from '../content/index.ts';
import { checkPassphrase } from '../drawer/index.ts';
import { names } from '../sync/index.ts';
import type { Carrier } from './carrier.ts';
import { type FollowOptions, follow } from './follow.ts';
import { framesNoted, leaveEarlier, ownDevice, ownDevices, putReplaced, removeOld } from './own-log.ts';
import type { Sync, SyncOptions, SyncPlatform, SyncResult } from './platform.ts';
import { type LogsRead, readLogs } from './read-logs.ts';
import { comeBack, forgetOldDeletions, isAllRead, logsToReplace, removeReplaced } from './replaced-logs.ts';
import { SyncRemote } from './sealed-remote.ts';
import { send, type Telling } from './tell.ts';
import { removeBlobs, toldBefore } from './told-before.ts';

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
  changePassphrase(passphrase: string, options?: Pick<SyncOptions, 'onProgress' | 'signal'>): Promise<SyncResult>;
  /** Calls `changed` after every change, of the drawer or by another device; returns a function that stops it. */
  watch(changed: () => void): () => void;
  close(): Promise<void>;
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
    const syncOnce = (more: Pick<SyncOptions, 'onProgress' | 'signal'> = {}): Promise<SyncResult> =>
      syncNow({ storage, remote, platform, options: { ...options, ...more } });
    const syncing: Syncing = {
      sync: (more) => carrier.guarded(() => platform.alone(() => syncOnce(more))),
      follow: (following) => follow(syncing, following),
      changePassphrase: (passphrase, more) =>
        carrier.guarded(() =>
          platform.alone(async () => {
            checkPassphrase(passphrase);
            const before = await syncOnce(more);
            const [problem] = before.problems;
            if (problem)
              throw new DrawerError('refused/sync-others-unread', {}, { where: carrier.name, cause: problem });
            // All that they have told is told anew by this device: who has not noticed yet compares.
            const { id } = remote;
            await storage.write(async (rows) => putReplaced(rows, await framesNoted(rows, names.read, [id])));
            remote = await remote.withPassphrase(passphrase);
            const { sent } = await syncOnce(more);
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

async function syncNow(sync: Sync): Promise<SyncResult> {
  const { storage, remote } = sync;
  await remote.checkIsCurrent();
  const device = await ownDevice(sync);
  const first = await readLogs(sync, device);
  const back = await comeBack(sync, device);
  const all = back ? both(first, back) : first;
  const { ids, ownIds: _, unread: __, ...read } = all;
  const isRead = await isAllRead(sync, all);
  // What is not compared yet may have been deleted long ago.
  if (back && !isRead) return { ...read, sent: 0 };
  const replaces = isRead ? await logsToReplace(sync, device) : undefined;
  if (replaces) await forgetOldDeletions(sync);
  const told = await toldBefore(storage, remote);
  const isKnown = (await ownDevices(storage, remote.id)).length > 0;
  const needsAnother = isKnown ? back || told || replaces : (await ownDevices(storage, ...remote.earlier)).length > 0;
  const sent = needsAnother ? undefined : await send(sync, device, { known: ids });
  const count = sent ?? (await sendAnew(sync, { known: replaces ? new Set() : ids, ...(replaces && { replaces }) }));
  await removeOld(storage, remote, await ownDevice(sync));
  if (told) await removeBlobs(storage, remote, told);
  await leaveEarlier(storage, remote);
  return { ...read, sent: count };
}

/** Tells all that this device has in another log, instead of its own before and those that it replaces. */
async function sendAnew(sync: Sync, telling: Telling): Promise<number> {
  const count = await send(sync, await ownDevice(sync, 'anew'), telling);
  await removeReplaced(sync, Object.keys(telling.replaces ?? {}));
  return count ?? 0;
}

/** What was read in two goes. */
const both = (one: LogsRead, other: LogsRead): LogsRead => ({
  ...other,
  added: one.added + other.added,
  changed: one.changed + other.changed,
  removed: one.removed + other.removed,
  beside: [...one.beside, ...other.beside],
});
