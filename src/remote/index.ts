export {
  type CarriedFrame,
  type CarriedLog,
  type Carrier,
  type Compartment,
  deviceName,
  type FrameMark,
} from './carrier.ts';
export type { FollowOptions } from './follow.ts';
export type { SealingTools, SyncPassphrase } from './sealed-remote.ts';
export { openSyncingOver, type Syncing, type SyncOptions, type SyncPlatform, type SyncResult } from './syncing.ts';
