/**
 * The core: content, places, the drawer, composing, and storage in memory. It touches no file, network, clock or
 * document of its own accord, and runs the same in Node and in a browser.
 * @packageDocumentation
 */
export * from './compose/index.ts';
export * from './content/index.ts';
export * from './drawer/index.ts';
export * from './places/index.ts';
export { memoryStorage } from './storage/index.ts';
