import type { Syncing, SyncOptions, SyncPlatform } from '../remote/index.ts';
import { type IndexedDbOptions, indexedDbStorage, sharedLocks } from '../storage/indexeddb/index.ts';

/** Options of `openSyncing` in a page. */
export interface PageSyncOptions extends SyncOptions {
  /** How the drawer is opened. */
  readonly open?: IndexedDbOptions;
}

/**
 * Opens a drawer that this site keeps, and what its devices meet by: a NATS server with JetStream that pages can reach. All that is
 * put there is sealed (AES-256-GCM under a key from the passphrase). Secrets are left out.
 * @param name - the drawer, as in `openDrawer`
 * @param address - `wss://SERVER/NAME` (or `ws://…` for a server on this computer), with `TOKEN@` or `USER:PASSWORD@` before the
 * server where it asks for that. The name tells drawers on one server apart
 * @throws DrawerError `locked/passphrase-wrong`, `sync-passphrase-changed`; `usage/passphrase-short`, `sync-address-invalid`;
 * `storage/sync-server-unreachable`, `sync-server-failed`; `refused/sync-server-refused`; those of `openDrawer`
 */
export async function openSyncing(name: string, address: string, options: PageSyncOptions): Promise<Syncing> {
  const [{ openSyncingOver }, { NatsCarrier }, { wsconnect }] = await Promise.all([
    import('../remote/index.ts'),
    import('../remote/nats/index.ts'),
    import('@nats-io/nats-core'),
  ]);
  const carrier = await NatsCarrier.open(address, options.token, { protocols: ['ws:', 'wss:'], connect: wsconnect });
  return openSyncingOver(carrier, platformOf(name, options), options);
}

const platformOf = (name: string, { open }: PageSyncOptions): SyncPlatform => ({
  newLock: async (passphrase) => (await sharedLocks()).newSharedLock(passphrase),
  openLock: async (lock, passphrase) => (await sharedLocks()).openSharedLock(lock, passphrase),
  deflate: (bytes) => through(new CompressionStream('deflate-raw'), bytes, Number.POSITIVE_INFINITY),
  inflate: (bytes, most) => through(new DecompressionStream('deflate-raw'), bytes, most),
  openStorage: () => indexedDbStorage(name, open),
  // Other windows of this site sync the same drawer; over an unencrypted connection there is no such lock.
  alone: async (work) => (navigator.locks ? navigator.locks.request(`drawer-sync:${name}`, work) : work()),
  mostMerged: 1_000, // the page is used meanwhile
  where: async () => `${location.origin} ${name}`,
  deviceName: location.hostname || 'page',
  now: Date.now,
  randomBytes: (length) => crypto.getRandomValues(new Uint8Array(length)),
});

/** What a stream makes of bytes. @throws RangeError for more than `most` bytes */
async function through(
  stream: CompressionStream | DecompressionStream,
  bytes: Uint8Array,
  most: number,
): Promise<Uint8Array> {
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let length = 0;
  const measured = new WritableStream<Uint8Array<ArrayBuffer>>({
    write(part) {
      length += part.length;
      if (length > most) throw new RangeError('too much');
      parts.push(part);
    },
  });
  await new Blob([new Uint8Array(bytes)]).stream().pipeThrough(stream).pipeTo(measured);
  return new Uint8Array(await new Blob(parts).arrayBuffer());
}
