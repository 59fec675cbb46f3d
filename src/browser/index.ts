/**
 * Drawer in a page: a drawer that the browser keeps, taking from chosen files, and taking what is selected.
 * @packageDocumentation
 */
export * from '../storage/indexeddb/index.ts';
export * from './files.ts';
export * from './inflate.ts';
export * from './open-drawer.ts';
export * from './selection.ts';
