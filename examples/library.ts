import { resolve } from 'node:path';

const library = (path: string): string => resolve(import.meta.dirname, '../src', path);

/** The examples take the library from its sources beside them, by the names that it is installed under. */
export const libraryAlias = [
  { find: /^drawer\/formats\/html-fragment$/, replacement: library('formats/html/fragment.ts') },
  { find: /^drawer\/connect$/, replacement: library('host/connect/index.ts') },
  { find: /^drawer\/(formats|browser)$/, replacement: library('$1/index.ts') },
  { find: /^drawer$/, replacement: library('index.ts') },
];

/** Where the demo files lie; they are served as they are. */
export const demoFolder = resolve(import.meta.dirname, 'demo/files');
