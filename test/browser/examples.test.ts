import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { demoFiles } from '../support/cli.ts';
import { heard, Site } from '../support/site.ts';

/** Each example as README starts it, and the desk's page by its development server too. */
describe.each<[string, readonly string[], (page: Page) => Promise<void>]>([
  ['desk', ['desk', '--', '--no-open'], readsEveryFile],
  ['desk', ['dev', '--workspace', 'examples/desk'], beginsAndReadsEveryFile],
  ['form', ['form'], keepsFromADocument],
  ['editors', ['editors'], keepsFromThePage],
])('the %s by npm run %j', (example, words, usesIt) => {
  const site = new Site(example);

  beforeAll(() => site.startFromSources(words), 120_000);
  afterAll(() => site.stop());

  it('works, with no error in the page or its workers', async () => {
    const page = await site.visit();
    await usesIt(page);
    expect(await site.closeAll()).toEqual([]);
  }, 180_000);
});

/** The desk reads each demo file in a worker, and keeps the whole of it. */
async function readsEveryFile(page: Page): Promise<void> {
  await page.locator('.reading:not([inert])').waitFor();
  const files = readdirSync(demoFiles).filter((name) => /\.(docx|odt|xlsx|ods|html|md|csv|txt)$/.test(name));
  expect(files.length).toBeGreaterThan(6);
  for (const name of files) {
    await page.locator('#open').setInputFiles(join(demoFiles, name));
    await heard(page, new RegExp(`^Opened ${name.replace('.', '\\.')}$`));
    await page.locator('#page').locator('p:not(.reading-on), table, [role=grid]').first().waitFor();
  }
}

async function beginsAndReadsEveryFile(page: Page): Promise<void> {
  await page.getByRole('dialog').getByRole('button', { name: 'Begin' }).click();
  await readsEveryFile(page);
}

async function keepsFromADocument(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'log.md' }).click();
  await page.locator('#page').getByRole('heading').first().waitFor();
  await copyElement(page, '#page p');
}

async function keepsFromThePage(page: Page): Promise<void> {
  await page.locator('#tiptap .ProseMirror').waitFor();
  await page.locator('#lexical [contenteditable]').waitFor();
  await page.locator('#quill .ql-editor').waitFor();
  await copyElement(page, 'article.reading p');
}

async function copyElement(page: Page, selector: string): Promise<void> {
  await page.evaluate((wanted) => {
    getSelection()?.selectAllChildren(document.querySelector(wanted) as Element);
  }, selector);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1/);
}
