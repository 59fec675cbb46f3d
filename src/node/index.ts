/**
 * Drawer on Node: drawers in files, taking from files, writing files whole or not at all.
 * @packageDocumentation
 */

export type { FollowOptions, Syncing, SyncOptions, SyncPassphrase, SyncResult } from '../remote/index.ts';
export {
  identityOf,
  type Rescue,
  type RescueOptions,
  rescueDrawer,
  type SqliteOptions,
  sqliteStorage,
  tryClaim,
} from '../storage/sqlite/index.ts';
export { gatherersOf, type Sharing, sharingOf } from '../sync/index.ts';
export { defaultDrawerPath, drawerPath } from './default-path.ts';
export * from './drawer-file.ts';
export * from './drawers.ts';
export * from './files.ts';
export * from './fill.ts';
export * from './inflate.ts';
export * from './links.ts';
export { type OpenOptions, openDrawer, type PassphraseOf } from './open-drawer.ts';
export * from './paste.ts';
export * from './paste-drawer.ts';
export * from './read.ts';
export type { OtherDrawerOptions } from './read-drawer.ts';
export * from './renew.ts';
export * from './replace-file.ts';
export * from './saved-since.ts';
export { type FileSyncOptions, openSyncing, syncDrawer } from './sync.ts';
