/**
 * Files of every format, by their places: reading, outlining, inserting, removing, filling forms and writing. Runs in pages, workers
 * and Node.
 * @packageDocumentation
 */

export { type Bound, bounds } from './bounds.ts';
export * from './capabilities.ts';
export * from './documents.ts';
export * from './edit-in-place.ts';
export * from './format.ts';
export { extensionOf, findPictureFacts, isStill, mediaHash } from './pictures.ts';
export * from './registry.ts';
