// Draws the examples in the browser on the demo data, for docs/screenshots.
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium } from 'playwright-core';
import { browserArguments, findChromium } from './chromium.mjs';

const scratch = mkdtempSync(join(tmpdir(), 'drawer-pages-'));
const out = resolve('docs/screenshots');
const vite = resolve('node_modules/vite/bin/vite.js');
const servers = [];

async function serve(example) {
  const cwd = resolve('examples', example);
  const site = join(scratch, example);
  execFileSync(process.execPath, [vite, 'build', '--outDir', site, '--logLevel', 'error'], { cwd, stdio: 'inherit' });
  const server = spawn(process.execPath, [vite, 'preview', '--outDir', site, '--port', '0'], { cwd });
  servers.push(server);
  return new Promise((found) => {
    let said = '';
    server.stdout.on('data', (chunk) => {
      said += chunk;
      const [address] = /http:\/\/localhost:\d+\//.exec(said.replace(/\u001b\[\d+m/g, '')) ?? [];
      if (address) found(address);
    });
  });
}

const heard = (tab, words) => tab.getByRole('status').filter({ hasText: words }).first().waitFor();

async function copy(tab, selector, said, itself = false) {
  await tab.evaluate(
    ([of, whole]) => {
      const element = document.querySelector(of);
      const range = document.createRange();
      if (whole) range.selectNode(element);
      else range.selectNodeContents(element);
      document.getSelection().removeAllRanges();
      document.getSelection().addRange(range);
    },
    [selector, itself],
  );
  await tab.keyboard.press('Control+c');
  await heard(tab, said);
}

async function desk(browser) {
  const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await tab.goto(await serve('desk'));
  await heard(tab, /Select something/);
  await tab.getByRole('button', { name: 'Begin' }).click();
  await tab.getByRole('button', { name: 'Contents' }).click();
  await tab.keyboard.type('hull');
  await tab.keyboard.press('Enter');
  await heard(tab, /Kept as 1/);
  await tab.getByRole('button', { name: 'Contents' }).click();
  await tab.getByRole('tab', { name: 'costs.xlsx' }).click();
  await tab.getByRole('grid', { name: 'Timber' }).getByRole('gridcell', { name: 'Item' }).click();
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight', ...Array(5).fill('ArrowDown')])
    await tab.keyboard.press(`Shift+${key}`);
  await tab.keyboard.press('Control+c');
  await heard(tab, /Kept as 2/);
  await tab.getByRole('tab', { name: 'letters.html' }).click();
  await tab.getByText('I was six').click({ clickCount: 3 });
  await tab.keyboard.press('Control+c');
  await heard(tab, /Kept as 3/);
  await tab.keyboard.press('Alt+Shift+P');
  await tab.keyboard.press('End');
  await tab.keyboard.press('Space');
  await tab.keyboard.press('Home');
  await tab.keyboard.press('Space');
  await tab.getByRole('tab', { name: 'survey.docx' }).click();
  await tab.screenshot({ path: join(out, 'desk.png') });
  await tab.getByRole('tab', { name: 'costs.xlsx' }).click();
  await tab.getByRole('button', { name: 'File', exact: true }).click();
  await tab.getByRole('button', { name: 'New sheet' }).click();
  await tab.locator('.draft-place .tabulator-row').nth(1).locator('.tabulator-cell').nth(1).click();
  await tab.keyboard.press('Alt+Shift+P');
  await tab.keyboard.press('Control+Shift+A');
  await tab.keyboard.press('ArrowDown');
  await tab.keyboard.press('Enter');
  await heard(tab, /Pasted 1/);
  // How the next one would look there.
  await tab.keyboard.press('v');
  await tab.getByRole('radio', { checked: true }).waitFor();
  await tab.screenshot({ path: join(out, 'desk-sheet.png') });
  await tab.keyboard.press('Escape');
  // On a telephone: the drawer, with the menu of a snippet.
  await tab.setViewportSize({ width: 390, height: 800 });
  await tab.getByRole('button', { name: 'Drawer', exact: true }).click();
  await tab.locator('drawer-panel .dots').nth(1).click();
  await tab.getByRole('menu').waitFor();
  await tab.screenshot({ path: join(out, 'desk-narrow.png') });
}

async function editors(browser, address, { dark = false } = {}) {
  const tab = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: dark ? 'dark' : 'light' });
  await tab.goto(address);
  await tab.locator('drawer-panel .empty').waitFor();
  await tab.locator('.reading h2').click();
  if (dark)
    await tab.evaluate(() => {
      document.documentElement.dir = 'rtl';
      document.querySelector('drawer-panel').lang = 'ar';
    });
  const said = dark ? /حُفظت برقم/ : /^Kept as/;
  await copy(tab, '.reading p', said);
  await copy(tab, '.reading ul', dark ? /قائمة/ : /^Kept as 2/);
  await copy(tab, '.reading table', dark ? /جدول/ : /^Kept as 3/, true);
  await copy(tab, '.reading img', dark ? /صورة/ : /^Kept as 4/, true);
  await tab.locator('#tiptap [role="textbox"]').click();
  await tab.keyboard.press('Alt+Shift+P');
  await tab.keyboard.press('Home');
  for (let step = 0; step < 3; step++) {
    await tab.keyboard.press('Space');
    await tab.keyboard.press('ArrowDown');
  }
  if (dark) {
    await tab.locator('drawer-panel .head button').last().click();
    await tab.locator('drawer-panel .menu').waitFor();
    await tab.screenshot({ path: join(out, 'right-to-left.png') });
    return;
  }
  await tab.keyboard.press('Enter');
  await heard(tab, /^Pasted 3/);
  await tab.keyboard.press('Alt+Shift+P');
  await tab.keyboard.press('Home');
  for (let step = 0; step < 3; step++) {
    await tab.keyboard.press('Space');
    await tab.keyboard.press('ArrowDown');
  }
  await tab.keyboard.press('m');
  await tab.getByLabel('Join with').selectOption('checks');
  await tab.getByLabel('Name sources').selectOption('list');
  await tab.waitForTimeout(300);
  await tab.screenshot({ path: join(out, 'editors.png') });
}

async function form(browser) {
  const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await tab.goto(await serve('form'));
  await tab.getByRole('heading', { name: 'Letters about the ferry' }).waitFor();
  await tab.getByRole('button', { name: 'log.md' }).waitFor();
  await copy(tab, '#page p:nth-of-type(2) em', /^Kept as 1/);
  await tab.evaluate(async () => {
    const words = (text) => ({ shape: 'run', inlines: [{ type: 'text', text }] });
    await document.querySelector('drawer-panel').drawer.keep([
      { content: words('£1,250.00'), origin: { file: 'costs.xlsx', place: 'Timber!C2' } },
      { content: words('3 May 2026'), origin: { file: 'costs.xlsx', place: 'Timber!D2' } },
      { content: words('The ferry trust'), origin: { file: 'history.odt' }, label: 'Claimant' },
    ]);
  });
  await tab.getByRole('button', { name: 'Fill by label and kind' }).click();
  await heard(tab, /^Filled 3/);
  await tab.screenshot({ path: join(out, 'form.png') });
}

const browser = await chromium.launch({
  executablePath: findChromium(),
  args: browserArguments,
});
try {
  await desk(browser);
  const address = await serve('editors');
  await editors(browser, address);
  await editors(browser, address, { dark: true });
  await form(browser);
} finally {
  await browser.close();
  for (const server of servers) server.kill();
  rmSync(scratch, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
}
