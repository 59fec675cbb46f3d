import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { asBlocks, type Block } from 'drawer';
import { takeFromFile, wholeOf } from 'drawer/node';
import type { BrowserContext, Page } from 'playwright-core';
import { demoFiles } from './support/cli.ts';
import { DeskServer } from './support/desk.ts';

const server = new DeskServer();
const axe = createRequire(import.meta.url).resolve('axe-core');
let contexts: BrowserContext[] = [];
let profiles = 0;

beforeAll(() => server.start(), 120_000);
afterEach(async () => {
  for (const context of contexts) await context.close().catch(() => {});
  contexts = [];
});
afterAll(() => server.stop());

async function visit(profile = `profile-${++profiles}`): Promise<Page> {
  const context = await server.open(profile);
  contexts.push(context);
  const page = context.pages()[0] ?? (await context.newPage());
  page.on('pageerror', (error) => {
    throw error;
  });
  await page.goto(server.address);
  await heard(page, /Select something in a file/);
  return page;
}

/** Waits until the live region says it. */
const heard = (page: Page, words: RegExp): Promise<void> =>
  page.getByRole('status').filter({ hasText: words }).waitFor({ timeout: 15_000 });

const slips = (page: Page): Promise<string[]> => page.locator('.slip').allInnerTexts();

/** Goes on by Tab until the element of that name has the focus. */
async function tabTo(page: Page, role: string, name: RegExp): Promise<void> {
  for (let step = 0; step < 60; step++) {
    await page.keyboard.press('Tab');
    const found = await page.evaluate(() => {
      const active = document.activeElement as HTMLElement;
      const label =
        active.getAttribute('aria-label') ??
        (active as HTMLInputElement).labels?.[0]?.textContent ??
        active.textContent ??
        '';
      return `${active.getAttribute('role') ?? active.tagName.toLowerCase()} ${label.trim()}`;
    });
    if (found.startsWith(`${role} `) && name.test(found.slice(role.length + 1))) return;
  }
  throw new Error(`Tab never came to the ${role} ${name}`);
}

async function seriousFindings(page: Page): Promise<string[]> {
  await page.addScriptTag({ path: axe });
  return page.evaluate(async () => {
    const { violations } = await (
      globalThis as unknown as {
        axe: { run(): Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }> };
      }
    ).axe.run();
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
  });
}

it('is walked by keyboard alone, from a first visit to a saved document', async () => {
  const page = await visit();
  // A section of the survey, by its name.
  await tabTo(page, 'select', /A place in it/);
  await page.keyboard.type('Hull condition');
  await tabTo(page, 'button', /Keep this place/);
  await page.keyboard.press('Enter');
  await heard(page, /^Kept as 1: section, 176 words, from survey\.docx, Hull condition/);
  // A range of the cost workbook.
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('ArrowRight');
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await tabTo(page, 'gridcell', /Item/);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowDown', 'ArrowDown'])
    await page.keyboard.press(`Shift+${key}`);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: table, 3 × 4, from costs\.xlsx, Timber!A1:D3/);
  // In the drawer: the second, then the first.
  await tabTo(page, 'listbox', /Slips/);
  await page.keyboard.press('End');
  await page.keyboard.press('Space');
  await page.keyboard.press('Home');
  await page.keyboard.press('Space');
  await tabTo(page, 'button', /Paste chosen/);
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 2 snippets into the draft/);
  // A word of one's own, and the file.
  await tabTo(page, 'textbox', /Draft/);
  await page.keyboard.press('Control+End');
  await page.keyboard.type('And so we ask.');
  const download = page.waitForEvent('download');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Enter');
  const file = server.path('story.docx');
  await (await download).saveAs(file);
  await heard(page, /^Saved as draft\.docx/);

  const { content, media } = await takeFromFile(wholeOf(file));
  const blocks = asBlocks(content);
  expect(blocks.map(({ type }) => type).slice(0, 3)).toEqual(['table', 'heading', 'paragraph']);
  expect(JSON.stringify(blocks)).toMatch(
    /£1,250\.00.*Hull condition.*footnote.*The builder’s note of 1911.*And so we ask/,
  );
  expect(media.size).toBe(1);
});

it('has no serious accessibility finding, empty, with a sheet, and with slips chosen', async () => {
  const page = await visit();
  expect(await seriousFindings(page)).toEqual([]);
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  await page.getByRole('grid', { name: 'Timber' }).getByRole('gridcell').nth(4).click();
  await page.getByRole('button', { name: 'Keep what is selected' }).click();
  await heard(page, /^Kept as 1: cell/);
  await page.locator('.slip').first().click();
  await page.getByRole('button', { name: 'Paste all' }).click();
  await heard(page, /^Pasted 1/);
  expect(await seriousFindings(page)).toEqual([]);
});

it.each<[string, (page: Page) => Promise<void>, RegExp]>([
  [
    'words within a paragraph',
    (page) => select(page, '.sheet-of-paper p:nth-of-type(2)', 2, 25),
    /^Kept as 1: 5 words, from letters\.html, From Alder Bank/,
  ],
  [
    'items of a list',
    (page) => selectAcross(page, '.sheet-of-paper > ul > li:first-child', '.sheet-of-paper ol li:last-child'),
    /^Kept as 1: list, 2 items, from letters\.html, From Tern Quay/,
  ],
  [
    'rows of a table',
    (page) =>
      selectAcross(
        page,
        '.sheet-of-paper tbody tr:first-child td',
        '.sheet-of-paper tbody tr:last-child td:last-child',
      ),
    /^Kept as 1: table, 2 × 3/,
  ],
  [
    'several paragraphs',
    (page) => selectAcross(page, '.sheet-of-paper p:nth-of-type(2)', '.sheet-of-paper p:nth-of-type(3)'),
    /^Kept as 1: 2 paragraphs/,
  ],
])('keeps %s as such when they are copied', async (_, choose, words) => {
  const page = await visit();
  await page.getByRole('tab', { name: 'letters.html' }).click();
  await page.getByText('I was six').waitFor();
  await choose(page);
  await page.keyboard.press('Control+c');
  await heard(page, words);
});

const select = (page: Page, selector: string, from: number, to: number): Promise<void> =>
  page.locator(selector).evaluate(
    (node, [start, end]) => {
      (node.closest('.page') as HTMLElement).focus();
      document
        .getSelection()
        ?.setBaseAndExtent(node.firstChild as Node, start as number, node.firstChild as Node, end as number);
    },
    [from, to],
  );

const selectAcross = (page: Page, first: string, last: string): Promise<void> =>
  page.evaluate(
    ([from, to]) => {
      const [start, end] = [from, to].map((selector) => document.querySelector(selector as string) as Element);
      start?.closest<HTMLElement>('.page')?.focus();
      if (start && end) document.getSelection()?.setBaseAndExtent(start, 0, end, end.childNodes.length);
    },
    [first, last],
  );

it('loses nothing when the browser is killed, and undoes afterwards', async () => {
  const profile = 'killed';
  const page = await visit(profile);
  await page.getByRole('button', { name: 'Keep this place' }).click();
  await heard(page, /^Kept as 1/);
  await page.getByRole('button', { name: 'Paste all' }).click();
  await heard(page, /^Pasted 1/);
  await page.getByLabel('A place in it').selectOption('section=Engine');
  await page.getByRole('button', { name: 'Keep this place' }).click();
  await heard(page, /^Kept as 2/);
  server.kill(profile);
  const again = await visit(profile);
  expect(await slips(again)).toHaveLength(2);
  await again.getByRole('textbox', { name: 'Draft' }).getByText('Survey of the ferry Marigold').waitFor();
  await again.getByRole('button', { name: 'Undo' }).click();
  await heard(again, /^Undone: Kept 1 snippet/);
  expect(await slips(again)).toHaveLength(1);
});

it('opens one’s own files, and says in one line what it cannot open', async () => {
  const page = await visit();
  await page.locator('#open').setInputFiles(`${demoFiles}/application.docx`);
  await heard(page, /^Opened application\.docx/);
  await page.getByRole('heading', { name: 'Application for a heritage boat grant' }).waitFor();
  const broken = server.path('broken.docx');
  writeFileSync(broken, 'Dear Sir');
  await page.locator('#open').setInputFiles(broken);
  await heard(page, /named like a Word-processing document.*but is not one/);
  expect(await page.getByRole('tab').allInnerTexts()).toEqual([
    'survey.docx',
    'costs.xlsx',
    'letters.html',
    'application.docx',
  ]);
});

it.each(['html', 'markdown'])('saves the draft as %s too', async (format) => {
  const page = await visit();
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await page.getByRole('button', { name: 'Keep this place' }).click();
  await heard(page, /^Kept as 1/);
  await page.getByRole('button', { name: 'Paste all' }).click();
  await heard(page, /^Pasted 1/);
  await page.getByLabel('Save as').selectOption(format);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const file = server.path(`saved.${format}`);
  await (await download).saveAs(file);
  const text = readFileSync(file, 'utf8');
  expect(text).toContain('£1,250.00');
  if (format === 'html') {
    const blocks: readonly Block[] = asBlocks((await takeFromFile(wholeOf(file))).content);
    expect(blocks[0]).toMatchObject({ type: 'table', headerRows: 1 });
  } else expect(text).toMatch(/^\| Item +\| +Length, m \|/);
});
