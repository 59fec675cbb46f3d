import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createDrawer, type Drawer, memoryStorage, type Storage } from 'drawer';
import { indexedDbStorage } from 'drawer/browser';
import { sqliteStorage } from 'drawer/node';
import 'fake-indexeddb/auto';
import { indexUpTo } from './index-reach.ts';

/** Every storage there is; the same tests run on each. */
export interface StorageKind {
  readonly name: string;
  open(): Promise<Storage>;
}

const folder = mkdtempSync(join(tmpdir(), 'drawer-storage-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let made = 0;

export const storageKinds: readonly StorageKind[] = [
  { name: 'memory', open: async () => memoryStorage() },
  { name: 'SQLite file', open: async () => sqliteStorage(join(folder, `${++made}.drawer`)) },
  { name: 'IndexedDB', open: () => indexedDbStorage(`drawer-${++made}`) },
];

async function withIndexUpTo(moment?: number): Promise<Storage> {
  const path = join(folder, `${++made}.drawer`);
  await sqliteStorage(path).close();
  indexUpTo(path, moment);
  return sqliteStorage(path);
}

/** A file whose index of words has all that is kept at once, and one whose index has what is kept first only. */
export const indexedKinds: readonly StorageKind[] = [
  { name: 'SQLite file with all in its index', open: () => withIndexUpTo() },
  { name: 'SQLite file with the first in its index', open: () => withIndexUpTo(Date.UTC(2026, 4, 4, 9, 0, 4)) },
];

/** A clock that moves a second at each look, and ids that count. */
export function countingTools(): { clock(): Date; generateId(): string } {
  let seconds = 0;
  let ids = 0;
  return { clock: () => new Date(Date.UTC(2026, 4, 4, 9, 0, ++seconds)), generateId: () => `id-${++ids}` };
}

export const newDrawer = async (kind: StorageKind): Promise<Drawer> =>
  createDrawer({ storage: await kind.open(), ...countingTools() });
