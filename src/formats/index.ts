export { type Bound, bounds } from './bounds.ts';
export * from './edit-in-place.ts';
export * from './format.ts';
export * from './holdings.ts';
export * from './limits.ts';
export { isStill } from './picture/is-still.ts';
export { extensionOf, findPictureFacts, mediaHash } from './pictures.ts';
export * from './registry.ts';
