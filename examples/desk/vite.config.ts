import { resolve } from 'node:path';
import { defineConfig } from 'vite';

const library = (path: string): string => resolve(import.meta.dirname, '../../src', path);

/** The library is taken from its sources beside this folder; the demo files are served as they are. */
export default defineConfig({
  publicDir: resolve(import.meta.dirname, '../demo/files'),
  resolve: {
    alias: [
      { find: /^drawer\/formats\/html-fragment$/, replacement: library('formats/html/fragment.ts') },
      { find: /^drawer\/(formats|browser)$/, replacement: library('$1/index.ts') },
      { find: /^drawer$/, replacement: library('index.ts') },
    ],
  },
  build: { target: 'es2023', chunkSizeWarningLimit: 700 },
});
