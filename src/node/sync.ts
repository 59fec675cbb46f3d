import { randomBytes } from 'node:crypto';
import { realpath } from 'node:fs/promises';
import { hostname } from 'node:os';
import { promisify } from 'node:util';
import { constants, deflateRaw, inflateRaw } from 'node:zlib';
import type { WsSocketFactory } from '@nats-io/nats-core';
import {
  type Carrier,
  openSyncingOver,
  type SealingTools,
  type Syncing,
  type SyncOptions,
  type SyncResult,
} from '../remote/index.ts';
import { newLock, openLock, parseLock } from '../storage/sqlite/index.ts';
import { whileClaimed } from './files.ts';
import { type OpenOptions, openDrawerStorage } from './open-drawer.ts';
import { FolderCarrier } from './sync-folder.ts';

/** Options of `openSyncing` and `syncDrawer`. */
export interface FileSyncOptions extends SyncOptions {
  /** How the drawer is opened. */
  readonly open?: OpenOptions;
}

/**
 * Opens a drawer, and what its devices meet by: a folder that all of them see, or a NATS server with JetStream. All that is put
 * there is sealed (AES-256-GCM under a key from the passphrase). Secrets are left out.
 * @param path - the drawer
 * @param address - a folder, made if it is not there; or `nats://SERVER/NAME`, `tls://…` or `wss://…`, with `TOKEN@` or `USER:PASSWORD@` before
 * the server where it asks for that. The name tells drawers on one server apart
 * @throws DrawerError `locked/passphrase-wrong`, `sync-passphrase-changed`; `usage/passphrase-short`, `sync-address-invalid`; `write-failed`;
 * `storage/sync-server-unreachable`, `sync-server-failed`; `refused/sync-server-refused`; those of `openDrawer`
 */
export async function openSyncing(path: string, address: string, options: FileSyncOptions): Promise<Syncing> {
  const platform = {
    ...sealingTools,
    openStorage: () => openDrawerStorage(path, options.open),
    alone: <T>(work: () => Promise<T>) => whileClaimed([path], work),
    mostMerged: 4_000,
    where: async () => `${hostname()} ${await realpath(path)}`,
    deviceName: hostname(),
    now: Date.now,
    randomBytes,
  };
  return openSyncingOver(await openCarrier(address, options), platform, options);
}

const sealingTools: SealingTools = {
  newLock: async (passphrase) => JSON.stringify(newLock(passphrase).lock),
  openLock: async (json, passphrase) => {
    const lock = parseLock(json);
    return { salt: lock.salt, sealing: openLock(lock, passphrase).sealing };
  },
  deflate: (bytes) => promisify(deflateRaw)(bytes, { level: constants.Z_BEST_SPEED }),
  inflate: (bytes, most) => promisify(inflateRaw)(bytes, { maxOutputLength: most }),
};

async function openCarrier(address: string, { token }: SyncOptions): Promise<Carrier> {
  if (!/^[a-z]+:\/\//i.test(address)) return FolderCarrier.open(address);
  const { NatsCarrier } = await import('../remote/nats/index.ts');
  const { connect, wsconnect } = await import('@nats-io/transport-node');
  const isWebSocket = /^wss?:/i.test(address);
  return NatsCarrier.open(address, token, {
    protocols: ['nats:', 'tls:', 'ws:', 'wss:'],
    connect: isWebSocket ? (options) => wsconnect({ ...options, wsFactory }) : connect,
  });
}

/** A WebSocket as in pages; Node 20 has none of its own. */
const wsFactory: WsSocketFactory = async (url) => {
  const { WebSocket } = await import('ws');
  return { socket: new WebSocket(url) as unknown as globalThis.WebSocket, encrypted: url.startsWith('wss:') };
};

/** Brings a drawer and those of other devices together once; see `openSyncing`. @throws DrawerError like that */
export async function syncDrawer(path: string, address: string, options: FileSyncOptions): Promise<SyncResult> {
  const syncing = await openSyncing(path, address, options);
  try {
    return await syncing.sync();
  } finally {
    await syncing.close();
  }
}
