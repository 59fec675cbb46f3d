/**
 * Drawer in a page: a drawer that the browser keeps, gathering what people copy, and delivering it where the caret is.
 * @packageDocumentation
 */

export * from '../messages/index.ts';
export type { FollowOptions, Syncing, SyncOptions, SyncPassphrase, SyncResult } from '../remote/index.ts';
export { type IndexedDbOptions, indexedDbStorage } from '../storage/indexeddb/index.ts';
export { type Sharing, sharingOf } from '../sync/index.ts';
export * from './capture/index.ts';
export { readMarkup, readRange, readWords } from './capture/read.ts';
export * from './deliver/index.ts';
export * from './gather-file.ts';
export * from './open-drawer.ts';
export * from './panel/index.ts';
export { type ShowOptions, showContent } from './show/nodes.ts';
export * from './syncing.ts';
