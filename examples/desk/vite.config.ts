import { defineConfig } from 'vite';
import { demoFolder, libraryAlias } from '../library.ts';

export default defineConfig({
  publicDir: demoFolder,
  resolve: { alias: libraryAlias },
  build: { target: 'es2023', chunkSizeWarningLimit: 700 },
});
