import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { defaultClientConditions, defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';
import { demoFolder, libraryAlias } from '../library.ts';

const icon = `data:image/svg+xml;base64,${readFileSync(resolve(import.meta.dirname, 'src/icon.svg')).toString('base64')}`;

/** The demo files are served as they are; the whole desk is kept for use without a network, and can be installed. */
export default defineConfig(({ mode }) => ({
  base: './',
  // The program `drawer desk` serves it with a person's own files, and is there for as long as the page.
  publicDir: mode === 'served' ? false : demoFolder,
  // Files are read in a worker: packages that offer a build without a document are taken in that one.
  resolve: { alias: libraryAlias, conditions: ['worker', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 1500,
    ...(mode === 'served' && { outDir: '../../dist/desk', emptyOutDir: !process.argv.includes('--watch') }),
  },
  plugins: [
    VitePWA({
      disable: mode === 'served',
      registerType: 'autoUpdate',
      manifest: {
        name: 'The writing desk',
        short_name: 'Desk',
        description: 'Files, a drawer of slips, and a draft',
        theme_color: '#cbb38d',
        background_color: '#e4e8e3',
        display: 'standalone',
        icons: [{ src: icon, sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,png,docx,xlsx}', 'letters.html'],
        maximumFileSizeToCacheInBytes: 8 * 2 ** 20,
      },
    }),
  ],
}));
