import { copyFileSync } from 'node:fs';
import { asBlocks } from 'drawer';
import { readFromFile, wholeOf } from 'drawer/node';
import type { BrowserContextOptions, Locator, Page } from 'playwright-core';
import { type Workplace, workplace } from '../support/cli.ts';
import { type RunningDesk, startDesk, Windows } from '../support/served-desk.ts';
import { heard, heardAfter, seriousFindings } from '../support/site.ts';

// The main job at the served desk: gather from a survey, a workbook and a letter; merge; paste; save.

const windows = new Windows();
afterAll(() => windows.close());

let place: Workplace;
let desk: RunningDesk;
beforeEach(async () => {
  place = workplace();
  const files = ['survey.docx', 'costs.xlsx', 'letters.html'];
  for (const name of files) copyFileSync(place.demo(name), place.path(name));
  desk = await startDesk(files, { cwd: place.folder, DRAWER: place.drawer });
});
afterEach(async () => {
  expect(await windows.closeAll()).toEqual([]);
  desk.child.kill('SIGKILL');
  await desk.ended;
  place.remove();
});

async function open(options?: BrowserContextOptions): Promise<Page> {
  const page = await windows.open(desk.address, options);
  await page.locator('.sheet-of-paper:not(:has(.reading-on)) h1').first().waitFor();
  await page.getByRole('tab', { name: 'letters.html' }).waitFor();
  return page;
}

/** What everybody has in the end: the section, the range and the list, merged in that order, in a file of the folder. */
async function checkReport(): Promise<void> {
  const blocks = asBlocks((await readFromFile(wholeOf(place.path('draft.docx')))).content);
  const words = JSON.stringify(blocks);
  for (const part of ['Hull condition', 'Larch planks, 35 mm', 'a cart and one horse']) expect(words).toContain(part);
  expect(words.indexOf('Hull condition')).toBeLessThan(words.indexOf('Larch planks'));
  expect(words.indexOf('Larch planks')).toBeLessThan(words.indexOf('a cart and one horse'));
  expect(blocks.filter(({ type }) => type === 'table').length).toBeGreaterThanOrEqual(1);
  expect((await place.run('list')).out.trim().split('\n').slice(1)).toHaveLength(3);
}

const slip = (page: Page, number: number): Locator => page.locator('drawer-panel [role="option"]').nth(number - 1);
const sheet = (page: Page): Locator => page.locator('drawer-panel .sheet');

it('is done by mouse alone', async () => {
  const page = await open();
  const keepPointed = async (at: Locator, name: string, told: RegExp): Promise<void> => {
    await at.scrollIntoViewIfNeeded();
    await at.hover();
    await heardAfter(page, told, () => page.getByRole('button', { name }).click());
  };
  const heading = page.locator('.sheet-of-paper').getByRole('heading', { name: 'Hull condition' });
  await keepPointed(heading, 'Keep this section', /^Kept as 1: section, 160 words/);
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  const grid = page.getByRole('grid', { name: 'Timber' });
  await grid.getByRole('gridcell', { name: 'Item' }).hover();
  await page.mouse.down();
  await grid.getByRole('gridcell', { name: '£864.40' }).hover();
  await page.mouse.up();
  await page.getByRole('button', { name: 'Keep selection' }).click();
  await heard(page, /^Kept as 2: table, 3 × 3, from costs\.xlsx, Timber!A1:C3/);
  await page.getByRole('tab', { name: 'letters.html' }).click();
  const item = page.locator('.sheet-of-paper > ul > li').first();
  await keepPointed(item, 'Keep this list', /^Kept as 3: list/);
  for (const number of [1, 2, 3]) await slip(page, number).click({ position: { x: 40, y: 10 } });
  await page.getByRole('button', { name: 'Merge' }).click();
  await heardAfter(page, /^Pasted/, () => sheet(page).getByRole('button', { name: 'Paste it' }).click());
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await heard(page, /^Saved as draft\.docx/);
  await checkReport();
});

it('is done by keyboard alone', async () => {
  const page = await open();
  const key = (name: string): Promise<void> => page.keyboard.press(name);
  const tabTo = async (wanted: string): Promise<void> => {
    for (let step = 0; step < 80; step++) {
      const at = await page.evaluate(() => {
        let active = document.activeElement;
        while (active?.shadowRoot?.activeElement) active = active.shadowRoot.activeElement;
        return active?.getAttribute('aria-label') ?? active?.textContent?.trim() ?? '';
      });
      if (at === wanted) return;
      await key('Tab');
    }
    throw new Error(`Tab never came to ${wanted}`);
  };
  await tabTo('survey.docx');
  await tabTo('Contents');
  await key('Enter');
  await page.keyboard.type('hull');
  await heardAfter(page, /^Kept as 1: section/, () => key('Enter'));
  await key('Escape');
  const toTab = async (name: string, steps: number): Promise<void> => {
    await key('Shift+Tab');
    await key('Shift+Tab');
    for (let step = 0; step < steps; step++) await key('ArrowRight');
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe(name);
  };
  await toTab('costs.xlsx', 1);
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await tabTo('Item');
  for (const step of ['Shift+ArrowRight', 'Shift+ArrowRight', 'Shift+ArrowDown', 'Shift+ArrowDown']) await key(step);
  await heardAfter(page, /^Kept as 2: table, 3 × 3, from costs\.xlsx, Timber!A1:C3/, () => key('Control+c'));
  for (let step = 0; step < 80; step++) {
    await key('Shift+Tab');
    if ((await page.evaluate(() => document.activeElement?.textContent)) === 'costs.xlsx') break;
  }
  await key('ArrowRight');
  await page.getByText('I was six').waitFor();
  await tabTo('Contents');
  await key('Enter');
  await page.getByRole('listbox', { name: 'Places in the file' }).and(page.locator(':focus')).waitFor();
  await page.keyboard.type('a cart');
  await heardAfter(page, /^Kept as 3: list/, () => key('Enter'));
  await key('Alt+Shift+P');
  await key('Home');
  for (const each of ['Space', 'ArrowDown', 'Space', 'ArrowDown', 'Space', 'm']) await key(each);
  await sheet(page).waitFor();
  await tabTo('Paste it');
  await heardAfter(page, /^Pasted/, () => key('Enter'));
  await tabTo('Save');
  await key('Enter');
  await page.getByLabel('Name of the file').waitFor();
  await key('Enter');
  await heard(page, /^Saved as draft\.docx/);
  await checkReport();
});

it('is done by touch alone, on a narrow screen', async () => {
  const page = await open({ viewport: { width: 390, height: 800 }, hasTouch: true, isMobile: true });
  const part = (name: string): Promise<void> => page.getByRole('button', { name, exact: true }).tap();
  const keepPlace = async (name: string, told: RegExp): Promise<void> => {
    await page.getByRole('button', { name: 'Contents' }).tap();
    await page.getByRole('listbox', { name: 'Places in the file' }).getByRole('option', { name }).first().tap();
    await heardAfter(page, told, () => page.getByRole('button', { name: 'Keep this place' }).tap());
    await page.getByRole('button', { name: 'Contents' }).tap();
  };
  await keepPlace('Hull condition', /^Kept as 1: section/);
  await page.getByRole('tab', { name: 'costs.xlsx' }).tap();
  await keepPlace('Timber', /^Kept as 2: table/);
  await page.getByRole('tab', { name: 'letters.html' }).tap();
  await keepPlace('a cart', /^Kept as 3: list/);
  await part('Drawer');
  for (const number of [1, 2, 3]) {
    await slip(page, number).scrollIntoViewIfNeeded();
    await slip(page, number).tap({ position: { x: 40, y: 10 } });
  }
  await page.getByRole('button', { name: 'Merge' }).tap();
  await heardAfter(page, /^Pasted/, () => sheet(page).getByRole('button', { name: 'Paste it' }).tap());
  await part('Writing');
  await page.getByRole('button', { name: 'Save', exact: true }).tap();
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).tap();
  await heard(page, /^Saved as draft\.docx/);
  expect(await page.evaluate(() => document.documentElement.scrollWidth > innerWidth)).toBe(false);
  await checkReport();
});

it('shows everything in forced colours and at 200 %, without motion, with no scrolling to the side', async () => {
  const page = await open({
    viewport: { width: 640, height: 400 },
    deviceScaleFactor: 2,
    forcedColors: 'active',
    reducedMotion: 'reduce',
  });
  const runsOff = (): Promise<boolean> => page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  const cell = page.getByRole('grid', { name: 'Timber' }).getByRole('gridcell', { name: 'Item' });
  await cell.click();
  // What is chosen shows without a background.
  const outline = await cell.evaluate((each) => getComputedStyle(each).outlineStyle);
  expect(outline).toBe('solid');
  await page.getByRole('button', { name: 'Keep selection' }).click();
  await heard(page, /^Kept as 1/);
  for (const [name, shown] of [
    ['Drawer', page.getByRole('button', { name: 'Paste', exact: true })],
    ['Writing', page.getByRole('button', { name: 'Save', exact: true })],
    ['Reading', page.getByRole('button', { name: 'Open files', exact: true })],
  ] as const) {
    await page.getByRole('button', { name, exact: true }).click();
    await shown.scrollIntoViewIfNeeded();
    expect(await shown.isVisible()).toBe(true);
    expect(await runsOff()).toBe(false);
    expect(await seriousFindings(page)).toEqual([]);
  }
});
