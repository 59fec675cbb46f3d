export { type Bound, bounds } from './bounds.ts';
export * from './edit-in-place.ts';
export * from './format.ts';
export * from './holdings.ts';
export { extensionOf, findPictureFacts, isStill, mediaHash } from './pictures.ts';
export * from './registry.ts';
