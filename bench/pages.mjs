// Measures the panel and the desk in Chromium and writes docs/performance-pages.md: what must be at hand at once, in frames
// and tasks. Node starts it: npm run bench:pages.

import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { build as bundle } from 'rolldown';
import { build, preview } from 'vite';
import { WebSocketServer } from 'ws';
import { DrawerHost } from '../dist/host/index.js';
import { openDrawer } from '../dist/node/index.js';
import { browserArguments, chromiumPath } from '../scripts/chromium.mjs';
import { documentFile, gatherings, workbook } from './generate.mjs';

const root = join(import.meta.dirname, '..');
const scratch = mkdtempSync(join(tmpdir(), 'drawer-bench-'));
const count = Number(process.argv[2] ?? 100_000);
const browser = await chromium.launchPersistentContext(join(scratch, 'profile'), {
  executablePath: chromiumPath(),
  args: browserArguments,
  viewport: { width: 1280, height: 800 },
});
const median = (numbers) => numbers.toSorted((one, other) => one - other)[numbers.length >> 1];
const share = (numbers, part) => numbers.toSorted((one, other) => one - other)[Math.floor(numbers.length * part)];

async function servePanel() {
  const { output } = await bundle({
    input: join(import.meta.dirname, 'page.ts'),
    platform: 'browser',
    output: { minify: true },
    write: false,
  });
  const files = new Map(output.map((part) => [`/${part.fileName}`, part.type === 'chunk' ? part.code : part.source]));
  files.set('/', readFileSync(join(import.meta.dirname, 'page.html')));
  const server = createServer(({ url }, answer) => {
    const file = files.get(url);
    answer.writeHead(file ? 200 : 404, { 'Content-Type': url === '/' ? 'text/html' : 'text/javascript' });
    answer.end(file);
  });
  await new Promise((ready) => server.listen(0, '127.0.0.1', ready));
  return { address: `http://127.0.0.1:${server.address().port}/`, close: () => server.close() };
}

const ask = (tab, method, ...given) => tab.evaluate(([name, words]) => window.bench[name](...words), [method, given]);

async function panelFigures() {
  const { address, close } = await servePanel();
  const tab = await browser.newPage();
  const fresh = async () => {
    await tab.goto(address);
    await tab.locator('html[data-ready]').waitFor({ state: 'attached' });
  };
  await fresh();
  const all = gatherings(count);
  await ask(tab, 'fill', 'empty', []);
  for (let at = 0; at < count; at += 2_000) {
    await ask(tab, 'fill', 'full', all.slice(at, at + 2_000));
    if (at % 20_000 === 0) console.log(`Filling a drawer: ${at + 2_000} of ${count}`);
  }
  const shown = { empty: [], full: [] };
  for (let round = 0; round < 5; round++)
    for (const [name, selector] of [
      ['empty', '.empty'],
      ['full', '[role="option"]'],
    ]) {
      await fresh();
      shown[name].push(await ask(tab, 'show', name, selector));
    }
  await fresh();
  const words = [...new Set(all.slice(0, 40).flatMap(({ content }) => content.inlines[0].text.split(' ')))];
  const letters = words.filter(({ length }) => length > 4).slice(0, 8);
  const typed = await ask(tab, 'type', 'full', letters);
  await fresh();
  const scrolled = await ask(tab, 'scroll', 'full');
  // The same drawer behind a socket.
  const served = await serveDrawer(all);
  shown.served = [];
  for (let round = 0; round < 5; round++) {
    await fresh();
    shown.served.push(await ask(tab, 'show', served.address, '[role="option"]'));
  }
  await fresh();
  const servedTyped = await ask(tab, 'type', served.address, letters);
  await fresh();
  const roundTrip = await ask(tab, 'roundTrip', served.address);
  await tab.close();
  await served.close();
  close();
  return { shown, typed, scrolled, servedTyped, roundTrip };
}

/** A drawer of these snippets in a file, served over a WebSocket. */
async function serveDrawer(all) {
  const path = join(scratch, 'served.drawer');
  const drawer = await openDrawer(path);
  for (let at = 0; at < all.length; at += 10_000) await drawer.keep(all.slice(at, at + 10_000));
  const host = new DrawerHost({ open: async () => drawer });
  const sockets = new WebSocketServer({ port: 0, host: '127.0.0.1' });
  sockets.on('connection', (socket, request) => host.accept(socket, request.url));
  await new Promise((ready) => sockets.once('listening', ready));
  return {
    address: `ws://127.0.0.1:${sockets.address().port}/`,
    close: async () => {
      await host.close();
      sockets.close();
    },
  };
}

/** Milliseconds until the desk shows the beginning of a file, and until it has read all of it. */
async function deskFigures() {
  const outDir = join(scratch, 'desk');
  await build({ root: join(root, 'examples/desk'), logLevel: 'error', build: { outDir } });
  const server = await preview({
    root: join(root, 'examples/desk'),
    logLevel: 'error',
    build: { outDir },
    preview: { port: 0 },
  });
  const figures = [];
  for (const [what, file, begins] of [
    ['a document of 10,000 paragraphs', documentFile(), '.sheet-of-paper p, .sheet-of-paper h1'],
    ['a workbook of 100,000 rows', workbook(), '.sheet-of-paper td'],
  ]) {
    const tab = await browser.newPage();
    await tab.goto(server.resolvedUrls.local[0]);
    await tab.locator('drawer-panel .head').waitFor();
    await tab.waitForTimeout(2_000);
    const start = performance.now();
    await tab.locator('input[type="file"]').first().setInputFiles(file);
    const page = tab.locator('[role="tabpanel"]:visible').last();
    await page.locator(begins).nth(3).waitFor({ timeout: 60_000 });
    const first = performance.now() - start;
    await page.locator('.reading-on').waitFor({ state: 'detached', timeout: 300_000 });
    figures.push({ what, first, whole: performance.now() - start });
    await tab.close();
  }
  await server.close();
  return figures;
}

try {
  const { shown, typed, scrolled, servedTyped, roundTrip } = await panelFigures();
  const desk = await deskFigures();
  const frames = (name) => median(shown[name].map((each) => each.frames));
  const time = (name) => median(shown[name].map(({ milliseconds }) => milliseconds));
  const rows = [
    [`the panel of an empty drawer`, `${frames('empty')} frames, ${time('empty').toFixed(0)} ms`, '–'],
    [
      `the first slips of ${count.toLocaleString('en')}`,
      `${frames('full')} frames, ${time('full').toFixed(0)} ms`,
      'two frames more',
    ],
    [
      'a letter typed to find: the page at work, 95th percentile',
      `${share(typed.work, 0.95).toFixed(1)} ms`,
      'a frame, 16.7 ms',
    ],
    ['until what is found is shown, median', `${median(typed.shown).toFixed(1)} ms`, '–'],
    ['the longest task while scrolling through all', `${scrolled.longest.toFixed(0)} ms`, '50 ms'],
    [
      `the first slips of ${count.toLocaleString('en')} behind a socket`,
      `${frames('served')} frames, ${time('served').toFixed(0)} ms`,
      '5 frames',
    ],
    [
      'a letter typed to find behind a socket: the page at work, 95th percentile',
      `${share(servedTyped.work, 0.95).toFixed(1)} ms`,
      `a frame, and a round trip of ${roundTrip.toFixed(1)} ms`,
    ],
    ['until what is found behind a socket is shown, median', `${median(servedTyped.shown).toFixed(1)} ms`, '–'],
    ...desk.map(({ what, first, whole }) => [
      `the desk opens ${what}: its beginning`,
      `${first.toFixed(0)} ms of ${whole.toFixed(0)} ms for the whole`,
      'before the whole',
    ]),
  ];
  for (const [what, figure, most] of rows) console.log(`${what}: ${figure} (${most})`);
  writeFileSync(
    join(root, 'docs/performance-pages.md'),
    `# Performance in the browser

Made by \`npm run bench:pages\` in headless Chromium ${browser.browser()?.version() ?? ''}, ${cpus().length} cores, a shared and noisy machine. A task of under 50 ms is not
told by the browser and stands as 0.

| what | figure | at most |
| --- | ---: | ---: |
${rows.map((row) => `| ${row.join(' | ')} |`).join('\n')}
`,
  );
} finally {
  await browser.close();
  rmSync(scratch, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
}
