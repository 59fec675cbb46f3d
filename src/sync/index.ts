export { mostAhead } from './clock.ts';
export { gatherersOf, type Sharing, sharingOf } from './gatherers.ts';
export { type Merge, type MergeOptions, mergeRecords, recordOf } from './merge.ts';
export { changedAfter, names } from './notes.ts';
export { parseRecord } from './parse-record.ts';
export type { SyncRecord } from './record.ts';
export { stampedStorage, takePart } from './stamping.ts';
