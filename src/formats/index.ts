export * from './format.ts';
export { extensionOf, findPictureFacts, mediaHash } from './pictures.ts';
export * from './registry.ts';
