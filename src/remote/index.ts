export {
  type CarriedFrame,
  type CarriedLog,
  type Carrier,
  type Compartment,
  deviceName,
  type FrameMark,
} from './carrier.ts';
export type { FollowOptions } from './follow.ts';
export type { SyncOptions, SyncPlatform, SyncResult } from './platform.ts';
export type { SealingTools, SyncPassphrase } from './sealed-remote.ts';
export { openSyncingOver, type Syncing } from './syncing.ts';
