import { execFileSync, spawn } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { asBlocks } from 'drawer';
import { takeFromFile, wholeOf } from 'drawer/node';
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

/** The oldest TypeScript that is served, and what the pages are built with. */
const others = ['vite@^8.3.0', 'typescript@~5.6.3', '@types/node@20'];

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
    const { content } = await takeFromFile(wholeOf(join(project, 'draft.docx')));
    expect(asBlocks(content).filter(({ type }) => type === 'table').length).toBeGreaterThanOrEqual(tables);
    expect(inProject('npx', 'drawer', 'undo', '--list', '--drawer', 'application.drawer')).toContain(
      'Pasted into draft.docx',
    );
  }
});

it('works in a new Vite project, written as the guide says', async () => {
  const guide = 'docs/embedding.md';
  writeFileSync(join(project, 'index.html'), blockWith(guide, 'html', '<!doctype html>'));
  writeFileSync(join(project, 'main.js'), blockWith(guide, 'js', 'capture(document, drawer'));
  const site = new Site('form'); // only for its browser
  const server = spawn('npx', ['vite', '--port', '0'], {
    cwd: project,
    env: { ...process.env, NODE_ENV: 'development' },
    detached: true,
  });
  try {
    site.address = await servedAt(server);
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
    expect(await site.closeAll()).toEqual([]);
  } finally {
    if (server.pid !== undefined) process.kill(-server.pid);
    await site.stop();
  }
  inProject('npx', 'vite', 'build', '--logLevel', 'error');
  expect(readdirSync(join(project, 'dist/assets')).length).toBeGreaterThan(1);
});

it.each(['What a drawer does', 'Reading and writing files'])('runs the code under “%s”', (heading) => {
  const [, section = ''] = readFileSync(join(root, 'docs/embedding.md'), 'utf8').split(`## ${heading}\n`);
  const [, code = ''] = /```js\n(.*?)```/s.exec(section) ?? [];
  copyFileSync(join(demoFiles, 'survey.docx'), join(project, 'survey.docx'));
  writeFileSync(join(project, 'documented.mjs'), code);
  expect(inProject(process.execPath, 'documented.mjs')).toMatch(/kept \[|^\d+\n$/);
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
  for (const compiler of [join(project, 'node_modules/.bin/tsc'), join(root, 'node_modules/.bin/tsc')])
    inProject(compiler, ...options, 'everything.ts');
});
