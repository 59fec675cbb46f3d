import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Drawer, type DrawerTools, memoryStorage, type Storage } from 'drawer';
import { indexedDbStorage } from 'drawer/browser';
import { sqliteStorage } from 'drawer/node';
import 'fake-indexeddb/auto';

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

/** A clock that moves a second at each look, and ids that count. */
export function countingTools(): DrawerTools {
  let seconds = 0;
  let ids = 0;
  return { now: () => new Date(Date.UTC(2026, 4, 4, 9, 0, ++seconds)), newId: () => `id-${++ids}` };
}

export const newDrawer = async (kind: StorageKind): Promise<Drawer> => new Drawer(await kind.open(), countingTools());
