export { mostAhead } from './clock.ts';
export { forgetDeletions, putToldDeletions, removeForgotten } from './forget.ts';
export { gatherersOf, type Sharing, sharingOf } from './gatherers.ts';
export { checkTime, type Merge, type MergeOptions, mergeRecords, recordOf } from './merge.ts';
export { blobsTold, changedAfter, changesAfter, findHere, hashOfText, names, notesUnder, timeHeard } from './notes.ts';
export { parseRecord } from './parse-record.ts';
export type { SyncRecord, Version } from './record.ts';
export { stampedStorage, takePart } from './stamping.ts';
