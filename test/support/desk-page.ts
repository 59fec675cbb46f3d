import { readFileSync, writeFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { demoFiles } from './cli.ts';
import { heard, type Site } from './site.ts';

/** The desk after its first visit's explanation. */
export async function visitDesk(site: Site, profile?: string): Promise<Page> {
  const page = await site.visit(profile);
  await heard(page, /Select something in a file/);
  if (await page.getByRole('dialog').isVisible()) await page.keyboard.press('Enter');
  await page.locator('.sheet-of-paper:not(:has(.reading-on))').waitFor();
  return page;
}

/** Keeps a place by its name in the outline, or the first. */
export async function keepPlace(page: Page, name?: string): Promise<void> {
  const places = page.getByRole('listbox', { name: 'Places in the file' });
  if (!(await places.isVisible())) await page.getByRole('button', { name: 'Contents' }).click();
  if (name !== undefined) await places.getByRole('option', { name }).first().click();
  await page.getByRole('button', { name: 'Keep this place' }).click();
}

/** Does what the menu of the draft offers. */
export async function fromFile(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await page.getByRole('button', { name }).click();
}

/** Puts a file where the browser's own store lies, and lets the next choice of a file choose it: a picker cannot be driven. */
export async function letChoose(page: Page, name: string, path = `${demoFiles}/${name}`): Promise<void> {
  const bytes = [...readFileSync(path)];
  await page.evaluate(
    async ([called, content]) => {
      const folder = await navigator.storage.getDirectory();
      const handle = await folder.getFileHandle(called as string, { create: true });
      const writer = await handle.createWritable();
      await writer.write(new Uint8Array(content as number[]));
      await writer.close();
      (window as unknown as { showOpenFilePicker: unknown }).showOpenFilePicker = async () => [handle];
    },
    [name, bytes] as const,
  );
}

/** What that file holds now. */
export async function stored(site: Site, page: Page, name: string): Promise<string> {
  const bytes = await page.evaluate(async (called) => {
    const handle = await (await navigator.storage.getDirectory()).getFileHandle(called);
    return [...new Uint8Array(await (await handle.getFile()).arrayBuffer())];
  }, name);
  const file = site.path(name);
  writeFileSync(file, Uint8Array.from(bytes));
  return file;
}

/** Opens a file of one's own to write in: a demo file, or one at a path. */
export async function openOwn(page: Page, name: string, path?: string): Promise<void> {
  await letChoose(page, name, path);
  await fromFile(page, 'Open your own');
  await heard(page, new RegExp(`^Opened ${name.replaceAll('.', '\\.')} to write in`));
}

/** Brings the caret of the draft to its end. */
export async function toEndOfDraft(page: Page): Promise<void> {
  await page.getByRole('textbox', { name: 'Draft' }).focus();
  // 20 ms after it got the focus the editor puts the caret where it last was, and it hears of a move a moment after the key:
  // nobody's fingers are so fast.
  await page.evaluate(() => new Promise((done) => setTimeout(done, 30)));
  await page.keyboard.press('Control+End');
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
}
