import { execFile, execFileSync, spawn } from 'node:child_process';
import {
  copyFileSync,
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { asBlocks } from 'drawer';
import { readFromFile, wholeOf } from 'drawer/node';
import type { ConsoleMessage } from 'playwright-core';
import { demoFiles } from '../support/cli.ts';
import { Site, servedAt } from '../support/site.ts';

/** The package as others have it: packed, installed into a new project, and used as the documents say. */

const root = resolve(import.meta.dirname, '../..');
const project = mkdtempSync(join(tmpdir(), 'drawer-project-'));
const inProject = (program: string, ...words: string[]): string =>
  execFileSync(program, words, { cwd: project, encoding: 'utf8' });

/** The code blocks of a page of documentation, in order. */
const codeBlocks = (page: string): { language: string; code: string }[] =>
  [...readFileSync(join(root, page), 'utf8').matchAll(/^```(\w+)\n(.*?)^```/gms)].map(
    ([, language = '', code = '']) => ({
      language,
      code,
    }),
  );

const blockWith = (page: string, language: string, words: string): string => {
  const found = codeBlocks(page).find((block) => block.language === language && block.code.includes(words));
  if (!found) throw new Error(`${page} has no ${language} block with “${words}”`);
  return found.code;
};

const guide = 'docs/embedding.md';
const guidePage = blockWith(guide, 'html', '<!doctype html>');

/** The oldest TypeScript that is served, what pages are built with, and the frameworks whose types know the panel. */
const others = ['vite@^8.3.0', 'webpack@^5', 'esbuild@^0.28', 'typescript@~5.6.3', '@types/node@20'].concat([
  'react@^19',
  'react-dom@^19',
  '@types/react@^19',
  'vue@^3',
  'svelte@^5',
]);

beforeAll(() => {
  const packed = join(project, 'packed');
  mkdirSync(packed);
  execFileSync('npm', ['pack', '--ignore-scripts', '--pack-destination', packed], { cwd: root, stdio: 'ignore' });
  const [tarball = ''] = readdirSync(packed);
  writeFileSync(join(project, 'package.json'), '{ "name": "project", "private": true, "type": "module" }\n');
  inProject('npm', 'install', '--no-audit', '--no-fund', '--prefer-offline', join(packed, tarball), ...others);
}, 600_000);
afterAll(() => rmSync(project, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 }));

it('holds its licence, its documents and its command', () => {
  const installed = readdirSync(join(project, 'node_modules/drawer'));
  expect(installed).toEqual(expect.arrayContaining(['LICENSE', 'README.md', 'dist', 'docs', 'package.json']));
  expect(inProject('npx', 'drawer', '--help')).toContain('drawer');
});

it('runs README’s example of the library, as often as one likes', async () => {
  writeFileSync(join(project, 'example.mjs'), blockWith('README.md', 'ts', 'openDrawer'));
  copyFileSync(join(demoFiles, 'costs.xlsx'), join(project, 'costs.xlsx'));
  for (const tables of [1, 2]) {
    inProject(process.execPath, 'example.mjs');
    const { content } = await readFromFile(wholeOf(join(project, 'draft.docx')));
    expect(asBlocks(content).filter(({ type }) => type === 'table').length).toBeGreaterThanOrEqual(tables);
    expect(inProject('npx', 'drawer', 'undo', '--list', '--drawer', 'application.drawer')).toContain(
      'Pasted into draft.docx',
    );
  }
});

/** Serves the project as Vite does while somebody writes it, and shows it in a browser; nothing may go wrong in its pages. */
async function inBrowser(work: (site: Site) => Promise<void>): Promise<void> {
  const site = new Site('form'); // only for its browser
  const server = spawn('npx', ['vite', '--port', '0'], {
    cwd: project,
    env: { ...process.env, NODE_ENV: 'development' },
    detached: true,
  });
  try {
    site.address = await servedAt(server);
    await work(site);
    expect(await site.closeAll()).toEqual([]);
  } finally {
    if (server.pid !== undefined) process.kill(-server.pid);
    await site.stop();
  }
}

it('works in a new Vite project, written as the guide says', async () => {
  writeFileSync(join(project, 'index.html'), guidePage);
  writeFileSync(join(project, 'main.js'), blockWith(guide, 'js', 'capture(document, drawer'));
  await inBrowser(async (site) => {
    const page = await site.visit();
    await page.locator('drawer-panel').getByRole('listbox').waitFor();
    expect(await page.evaluate(() => document.characterSet)).toBe('UTF-8');
    await page.evaluate(() => getSelection()?.selectAllChildren(document.querySelector('article') as Element));
    await page.keyboard.press('Control+c');
    await page.locator('drawer-panel [role="option"]').first().waitFor();
    await page.getByLabel('Notes').click();
    await page.keyboard.press('Alt+Shift+P');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => document.querySelector('textarea')?.value !== '');
    expect(await page.getByLabel('Notes').inputValue()).toBe('Select some of these words and copy them.');
  });
  inProject('npx', 'vite', 'build', '--logLevel', 'error');
  expect(readdirSync(join(project, 'dist/assets')).length).toBeGreaterThan(1);
});

/** What a page logs, with lists as JSON. */
async function wordsOf(message: ConsoleMessage): Promise<string> {
  const values = await Promise.all(message.args().map((each): Promise<unknown> => each.jsonValue()));
  return values.map((each) => (typeof each === 'string' ? each : JSON.stringify(each))).join(' ');
}

/** What a program of a guide prints: in a folder with the demo files, or in the guide's page. */
async function printed(number: number, code: string, site: Site | undefined): Promise<string> {
  if (!site) {
    const folder = join(project, `program-${number}`);
    cpSync(demoFiles, folder, { recursive: true });
    writeFileSync(join(folder, 'task.mjs'), code);
    return (await promisify(execFile)(process.execPath, ['task.mjs'], { cwd: folder })).stdout;
  }
  writeFileSync(join(project, `program-${number}.html`), guidePage.replace('/main.js', `/program-${number}.js`));
  writeFileSync(join(project, `program-${number}.js`), `${code}\ndocument.title = 'done';\n`);
  const page = await site.visit(undefined, `program-${number}.html`);
  await page.waitForFunction(() => document.title === 'done');
  const logged = (await page.consoleMessages()).filter((message) => message.type() === 'log');
  return (await Promise.all(logged.map(wordsOf))).map((line) => `${line}\n`).join('');
}

const guides = ['docs/recipes.md', 'docs/concepts.md', 'docs/storage.md'] as const;
let programs = 0;
it.each(guides)('runs every program of %s, which prints what stands there', async (guide) => {
  const file = join(root, guide);
  const page = readFileSync(file, 'utf8');
  const blocks = [...page.matchAll(/^```js( page)?\n(.*?)^```\n\n```text\n.*?^```\n/gms)];
  expect(page.match(/^```js/gm)).toHaveLength(blocks.length);
  let made = page;
  const runAll = async (site?: Site): Promise<void> => {
    for (const [whole, isPage, code = ''] of blocks) {
      const lines = await printed(++programs, code, isPage ? site : undefined);
      expect([code, lines]).not.toEqual([code, '']);
      const block = `\`\`\`js${isPage ?? ''}\n${code}\`\`\`\n\n\`\`\`text\n${lines.trimEnd()}\n\`\`\`\n`;
      made = made.replace(whole, () => block);
    }
  };
  await (blocks.some(([, isPage]) => isPage) ? inBrowser(runAll) : runAll());
  if (process.env.DOCS === 'write') writeFileSync(file, made);
  expect(made).toBe(readFileSync(file, 'utf8'));
});

it('is built by webpack and esbuild for a page, each format in a part of its own', () => {
  writeFileSync(join(project, 'main.js'), blockWith('docs/embedding.md', 'js', 'capture(document, drawer'));
  inProject(
    'npx',
    'esbuild',
    'main.js',
    '--bundle',
    '--splitting',
    '--format=esm',
    '--outdir=by-esbuild',
    '--log-level=error',
  );
  const webpack = `require('webpack')({ mode: 'production', entry: './main.js', output: { path: process.cwd() + '/by-webpack' }, performance: false, optimization: { minimize: false } },
    (error, stats) => { if (error || stats.hasErrors() || stats.hasWarnings()) { console.error(error ?? stats.toString()); process.exit(1); } });`;
  inProject(process.execPath, '--input-type=commonjs', '-e', webpack);
  for (const folder of ['by-esbuild', 'by-webpack'])
    expect(readdirSync(join(project, folder)).length).toBeGreaterThan(10);
});

const entries = Object.keys(JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).exports)
  .filter((entry) => !/json|react|vue|svelte/.test(entry))
  .map((entry) => entry.replace('.', 'drawer'));

it.each([
  ['required', (entry: string) => `require('${entry}')`],
  ['imported where there is no page', (entry: string) => `await import('${entry}')`],
])('has entries that can be %s', (_, load) => {
  expect(entries.length).toBeGreaterThan(15);
  const type = load('').startsWith('await') ? 'module' : 'commonjs';
  const code = entries.map((entry) => `if (Object.keys(${load(entry)}).length === 0) throw new Error('${entry}');`);
  expect(inProject(process.execPath, `--input-type=${type}`, '-e', code.join('\n'))).toBe('');
});

it('works in React, and leaves no drawer open when its component goes', async () => {
  writeFileSync(join(project, 'drawer.jsx'), blockWith('docs/embedding.md', 'jsx', 'useEffect'));
  writeFileSync(
    join(project, 'react.jsx'),
    `import { createElement as e, StrictMode } from 'react';
     import { createRoot } from 'react-dom/client';
     import { Drawer } from './drawer.jsx';
     const root = createRoot(document.querySelector('main'));
     globalThis.show = (shown) => root.render(e(StrictMode, null, shown ? e(Drawer) : null));`,
  );
  writeFileSync(
    join(project, 'index.html'),
    '<!doctype html><meta charset="utf-8"><p>Words of the page</p><main></main><script type="module" src="/react.jsx"></script>',
  );
  inProject('npx', 'vite', 'build', '--logLevel', 'error', '--outDir', 'by-vite');
  const site = new Site('form'); // only for its browser
  const server = spawn('npx', ['vite', 'preview', '--outDir', 'by-vite', '--port', '0'], {
    cwd: project,
    detached: true,
  });
  try {
    site.address = await servedAt(server);
    const page = await site.visit();
    const show = (shown: boolean): Promise<void> =>
      page.evaluate((is) => (globalThis as unknown as { show(is: boolean): void }).show(is), shown);
    for (let time = 1; time <= 3; time++) {
      await show(true);
      await page.locator('drawer-panel').getByRole('listbox').waitFor();
      await page.evaluate(() => getSelection()?.selectAllChildren(document.querySelector('p') as Element));
      await page.keyboard.press('Control+c');
      await page
        .locator('drawer-panel [role="option"]')
        .nth(time - 1)
        .waitFor();
      await show(false);
      await page.locator('drawer-panel').waitFor({ state: 'detached' });
    }
    // A database is deleted only when nobody has it open any more.
    const deleted = await page.evaluate(async () => {
      const [{ name = '' } = {}] = await indexedDB.databases();
      const deleting = indexedDB.deleteDatabase(name);
      return new Promise((done, failed) => {
        deleting.onsuccess = () => done(name !== '');
        deleting.onerror = () => failed(deleting.error);
      });
    });
    expect(deleted).toBe(true);
    expect(await site.closeAll()).toEqual([]);
  } finally {
    if (server.pid !== undefined) process.kill(-server.pid);
    await site.stop();
  }
});

it.each([
  ['What a drawer does', /kept \[/],
  ['Putting snippets together', /^oak \/ elm 0\n$/],
  ['Reading and writing files', /^\d+\n$/],
])('runs the code under “%s”', (heading, output) => {
  const [, section = ''] = readFileSync(join(root, 'docs/embedding.md'), 'utf8').split(`## ${heading}\n`);
  const [, code = ''] = /```js\n(.*?)```/s.exec(section) ?? [];
  copyFileSync(join(demoFiles, 'survey.docx'), join(project, 'survey.docx'));
  writeFileSync(join(project, 'documented.mjs'), code);
  expect(inProject(process.execPath, 'documented.mjs')).toMatch(output);
});

const everything = `
import { createDrawer, type Drawer, type DrawerChangeEvent, run } from 'drawer';
import { capture, definePanel, showContent } from 'drawer/browser';
import { formatCases, storageCases } from 'drawer/conformance';
import { connectDrawer } from 'drawer/connect';
import { openClipboard } from 'drawer/desktop';
import { insert, read, write } from 'drawer/formats';
import { csv } from 'drawer/formats/csv';
import { docx } from 'drawer/formats/docx';
import { html } from 'drawer/formats/html';
import { htmlFragment } from 'drawer/formats/html-fragment';
import { markdown } from 'drawer/formats/markdown';
import { ods } from 'drawer/formats/ods';
import { odt } from 'drawer/formats/odt';
import { text } from 'drawer/formats/text';
import { xlsx } from 'drawer/formats/xlsx';
import { DrawerHost } from 'drawer/host';
import { Words } from 'drawer/messages';
import { openDrawer } from 'drawer/node';

const drawer: Drawer = createDrawer();
drawer.addEventListener('change', ({ change }: DrawerChangeEvent) => console.log(change?.added));
await drawer.keep({ content: run('Oak') });
for await (const { id } of drawer.entries()) console.log(id);
document.createElement('drawer-panel').addEventListener('drawer-paste', ({ detail }) => console.log(detail.style));
console.log(capture, definePanel, showContent, formatCases, storageCases, connectDrawer, openClipboard, insert, read, write);
console.log(csv, docx, html, htmlFragment, markdown, ods, odt, text, xlsx, DrawerHost, Words, openDrawer);
`;

it.each([
  ['nodenext', 'nodenext'],
  ['node16', 'node16'],
  ['esnext', 'bundler'],
])('has types that every TypeScript it serves checks, with modules as %s and found as %s', (module, resolution) => {
  writeFileSync(join(project, 'everything.ts'), everything);
  const options = ['--noEmit', '--strict', '--skipLibCheck', 'false', '--target', 'es2022', '--types', 'node'];
  options.push('--lib', 'es2022,dom,dom.iterable', '--module', module, '--moduleResolution', resolution);
  inProject(join(root, 'node_modules/.bin/tsc'), ...options, 'everything.ts');
  // The oldest knows one way less: node16 is its nodenext.
  if (module !== 'node16') inProject(join(project, 'node_modules/.bin/tsc'), ...options, 'everything.ts');
});

const inFrameworks = `
import type {} from 'drawer/react';
import type {} from 'drawer/svelte';
import type {} from 'drawer/vue';
import type { JSX } from 'react';
import type { SvelteHTMLElements } from 'svelte/elements';
import type { GlobalComponents } from 'vue';

const told = (event: CustomEvent): void => console.log(event.detail);
const react: JSX.IntrinsicElements['drawer-panel'] = { theme: 'dark', 'ondrawer-keep': told, style: { height: '40rem' } };
const svelte: SvelteHTMLElements['drawer-panel'] = { dense: true, 'ondrawer-paste': ({ detail }) => console.log(detail.style) };
const vue = {} as InstanceType<GlobalComponents['drawer-panel']>['$props'];
const theme: 'light' | 'dark' | undefined = vue.theme;
// @ts-expect-error there is no such theme
const wrong: JSX.IntrinsicElements['drawer-panel'] = { theme: 'blue' };
console.log(react, svelte, theme, wrong);
`;

it('has types for its element in React, Vue and Svelte', () => {
  writeFileSync(join(project, 'frameworks.ts'), inFrameworks);
  const options = [
    '--noEmit',
    '--strict',
    '--skipLibCheck',
    '--target',
    'es2022',
    '--module',
    'esnext',
    '--moduleResolution',
  ];
  inProject(join(root, 'node_modules/.bin/tsc'), ...options, 'bundler', '--types', 'node', 'frameworks.ts');
});
