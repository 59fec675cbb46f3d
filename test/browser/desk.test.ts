import { writeFileSync } from 'node:fs';
import { asBlocks, type Content, paragraph } from 'drawer';
import { formatNamed } from 'drawer/formats';
import { readFromFile, wholeOf } from 'drawer/node';
import type { Page } from 'playwright-core';
import { ar } from '../../examples/desk/src/words/ar.ts';
import { de } from '../../examples/desk/src/words/de.ts';
import { en } from '../../examples/desk/src/words/en.ts';
import { demoFiles } from '../support/cli.ts';
import { fromFile, keepPlace, visitDesk } from '../support/desk-page.ts';
import { fromMenu, heard, heardAfter, Site, selectElement, seriousFindings, slips } from '../support/site.ts';

const site = new Site('desk');
const visit = (profile?: string): Promise<Page> => visitDesk(site, profile);

beforeAll(() => site.start(), 120_000);
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
});
afterAll(() => site.stop());

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

it('is walked by keyboard alone, from a first visit to a saved document', async () => {
  const page = await visit();
  // A section of the survey, by its name.
  await tabTo(page, 'button', /Contents/);
  await page.keyboard.press('Enter');
  await page.keyboard.type('Hull condition');
  await page.keyboard.press('Enter');
  await heard(page, /^Kept as 1: section, 160 words, from survey\.docx, Hull condition/);
  // A range of the cost workbook.
  await page.getByRole('tab', { name: 'survey.docx' }).focus();
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
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('End');
  await page.keyboard.press('Space');
  await page.keyboard.press('Home');
  await page.keyboard.press('Space');
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 2 snippets into the draft/);
  // A word of one's own, and the file; the caret is in the draft.
  await page.keyboard.press('Control+End');
  await page.keyboard.type('And so we ask.');
  const download = page.waitForEvent('download');
  for (const back of ['the toolbar', 'Save']) {
    await page.keyboard.press('Shift+Tab');
    expect(await page.evaluate(() => document.activeElement?.id === 'save')).toBe(back === 'Save');
  }
  await page.keyboard.press('Enter');
  const file = site.path('story.docx');
  await (await download).saveAs(file);
  await heard(page, /^Saved as draft\.docx/);

  const { content, media } = await readFromFile(wholeOf(file));
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
  await page.getByRole('button', { name: 'Keep selection' }).click();
  await heard(page, /^Kept as 1: cell/);
  await page.locator('drawer-panel [role="option"]').first().click();
  await fromMenu(page, 'Paste all');
  await heard(page, /^Pasted 1/);
  expect(await ownFindings(page)).toEqual([]);
  await fromFile(page, 'New sheet');
  await page.getByRole('button', { name: 'Go on without saving' }).click();
  await page.locator('.draft-place .tabulator-cell').first().waitFor();
  expect(await ownFindings(page)).toEqual([]);
  await page.getByRole('button', { name: 'How it works' }).click();
  await page.getByRole('dialog').waitFor();
  expect(await ownFindings(page)).toEqual([]);
});

/** Findings but for those within the grid of the draft, which are its own. */
const ownFindings = async (page: Page): Promise<string[]> =>
  (await seriousFindings(page)).filter((finding) => !/tabulator/.test(finding));

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
  await keepPlace(page);
  await heard(page, /^Kept as 1/);
  await fromMenu(page, 'Paste all');
  await heard(page, /^Pasted 1/);
  await keepPlace(page, 'Engine');
  await heard(page, /^Kept as 2/);
  site.kill(profile);
  const again = await visit(profile);
  expect(await slips(again)).toHaveLength(2);
  await again.getByRole('textbox', { name: 'Draft' }).getByText('Survey of the ferry Marigold').waitFor();
  await again.getByRole('button', { name: 'Undo', exact: true }).click();
  await heard(again, /^Undone: Kept 1 snippet/);
  await again.waitForTimeout(200);
  expect(await slips(again)).toHaveLength(1);
});

it('opens one’s own files, and says in one line what it cannot open', async () => {
  const page = await visit();
  await page.locator('#open').setInputFiles(`${demoFiles}/application.docx`);
  await heard(page, /^Opened application\.docx/);
  await page.getByRole('heading', { name: 'Application for a heritage boat grant' }).waitFor();
  const broken = site.path('broken.docx');
  writeFileSync(broken, 'Dear Sir');
  await page.locator('#open').setInputFiles(broken);
  await heard(page, /named like a \.docx file, but is not one/);
  expect(await page.getByRole('tab').allInnerTexts()).toEqual([
    'survey.docx',
    'costs.xlsx',
    'letters.html',
    'application.docx',
  ]);
});

it('goes to a place of the outline, finds words, and marks in the margin what was kept', async () => {
  const page = await visit();
  await page.getByRole('button', { name: 'Contents' }).click();
  await page.keyboard.type('costs');
  const heading = page.locator('.sheet-of-paper').getByRole('heading', { name: 'Costs and order of work' });
  await page.waitForFunction(() => (document.querySelector('#page')?.scrollTop ?? 0) > 200);
  expect(await heading.evaluate((node) => node.getBoundingClientRect().top)).toBeLessThan(800);
  await page.keyboard.press('Enter');
  await heard(page, /^Kept as 1: section/);
  const mark = page.locator('.kept');
  expect(await mark.innerText()).toBe('1');
  const [at, beside] = [await mark.boundingBox(), await heading.boundingBox()];
  expect(Math.abs((at?.y ?? 0) - (beside?.y ?? 99))).toBeLessThan(30);
  // The number follows the snippet, and goes with it.
  await selectElement(page, '.sheet-of-paper h1');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2/);
  const marked = (numbers: string) =>
    page.waitForFunction(
      (wanted) => [...document.querySelectorAll('.kept')].map((each) => each.textContent).join() === wanted,
      numbers,
    );
  await marked('2,1');
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('Alt+Home');
  await marked('1,2');
  await page.keyboard.press('Delete');
  await page.waitForFunction(() => document.querySelectorAll('.kept').length === 1);
  await page.getByRole('searchbox', { name: 'Find in the file' }).fill('FRAMES');
  await page.getByText(/^1 of \d+$/).waitFor();
  await page.keyboard.press('Shift+Enter');
  await page.getByText(/^(?!1 )(\d+) of \1$/).waitFor();
  await page.getByRole('searchbox', { name: 'Find in the file' }).fill('nowhere to be found');
  await page.getByText('Not in this file').waitFor();
});

it('shows a sheet under its letters and numbers, finds words in it, and keeps cells from where they are', async () => {
  const page = await visit();
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  const grid = page.getByRole('grid', { name: 'Timber' });
  await grid.getByRole('columnheader', { name: 'D' }).waitFor();
  // Row 7 is hidden.
  expect(await grid.getByRole('rowheader').allInnerTexts()).toEqual(['1', '2', '3', '4', '5', '6', '8']);
  await grid.getByRole('gridcell', { name: '£75.00' }).click();
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1: cell, from costs\.xlsx, Timber!C8/);
  await grid.getByRole('rowheader', { name: '8 1' }).waitFor();
  // The arrows pass over what is hidden.
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: cell, from costs\.xlsx, Timber!C6/);
  await page.getByRole('searchbox', { name: 'Find in the file' }).fill('BRONZE bolts');
  await page.getByText('1 of 1').waitFor();
  expect(await page.getByRole('gridcell', { selected: true }).allInnerTexts()).toContain('Bronze bolts');
  expect(await page.evaluate(() => document.activeElement?.id)).toBe('find');
  // Letters and numbers stay in sight.
  await page.setViewportSize({ width: 1000, height: 420 });
  await page.locator('#page').evaluate((element) => element.scrollTo(150, 180));
  const [corner, summary] = await page.evaluate(() => {
    const at = (selector: string) => document.querySelector(selector)?.getBoundingClientRect().toJSON();
    return [at('#page'), at('[aria-label="Timber"] tbody tr:last-child th')];
  });
  expect(Math.abs(summary.left - corner.left)).toBeLessThan(3);
});

it('marks again what was kept, in another window and on another day', async () => {
  const page = await visit('marks');
  await keepPlace(page, 'Hull condition');
  await heard(page, /^Kept as 1/);
  await selectElement(page, '.sheet-of-paper img', true);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: picture/);
  /** The numbers, and whether each stands beside what was kept. */
  const marks = async (): Promise<unknown> => {
    await page.waitForFunction(() => document.querySelectorAll('.sheet-of-paper > .kept').length === 2);
    return page.evaluate(() => {
      const top = (element: Element | null | undefined): number => element?.getBoundingClientRect().top ?? Number.NaN;
      const headings = [...document.querySelectorAll('.sheet-of-paper :is(h1, h2)')];
      const heading = headings.find((each) => each.textContent === 'Hull condition');
      const beside = [heading, document.querySelector('.sheet-of-paper img')];
      return [...document.querySelectorAll('.sheet-of-paper > .kept')].map((mark, index) => [
        mark.textContent,
        Math.abs(top(mark) - top(beside[index])) < 30,
      ]);
    });
  };
  const before = [
    ['1', true],
    ['2', true],
  ];
  expect(await marks()).toEqual(before);
  await page.reload();
  await page.locator('.sheet-of-paper:not(:has(.reading-on))').waitFor();
  expect(await marks()).toEqual(before);
  // Another file in front takes nothing away.
  await page.getByRole('tab', { name: 'letters.html' }).click();
  await page.getByText('I was six').waitFor();
  expect(await page.locator('.sheet-of-paper > .kept').count()).toBe(0);
  await page.getByRole('tab', { name: 'survey.docx' }).click();
  expect(await marks()).toEqual(before);
});

it('has a menu of each snippet by button, right click and keys, and narrows the drawer down by kind and source', async () => {
  const page = await visit();
  await keepPlace(page, 'Engine');
  await heard(page, /^Kept as 1/);
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await keepPlace(page);
  await heard(page, /^Kept as 2/);
  const list = page.locator('drawer-panel [role="listbox"]');
  const menu = page.getByRole('menu', { name: 'With the snippets chosen, or the one at hand' });
  await list.getByRole('option').nth(1).click({ button: 'right' });
  await menu.waitFor();
  expect(await seriousFindings(page)).toEqual([]);
  await page.keyboard.press('h');
  await page.keyboard.press('Enter');
  await heard(page, /^Held 1 snippet/);
  await menu.waitFor({ state: 'hidden' });
  await list.getByRole('option').nth(0).locator('.dots').click();
  await menu.getByRole('menuitem', { name: 'Move to the end' }).click();
  await heard(page, /^Moved/);
  expect((await slips(page))[1]).toContain('Engine');
  await list.focus();
  await page.keyboard.press('Shift+F10');
  await menu.waitFor();
  await page.keyboard.press('ArrowUp');
  expect(
    await page.evaluate(() => document.querySelector('drawer-panel')?.shadowRoot?.activeElement?.textContent?.trim()),
  ).toMatch(/^Delete/);
  await page.keyboard.press('Escape');
  await menu.waitFor({ state: 'hidden' });
  await list.and(page.locator(':focus')).waitFor();
  await heardAfter(page, /^Undone: Moved 1 snippet/, () => page.keyboard.press('Control+z'));
  await list.getByRole('option').first().filter({ hasText: 'Engine' }).waitFor();
  await heardAfter(page, /Moved 1 snippet/, () => page.keyboard.press('Control+Shift+z'));
  await list.getByRole('option').nth(1).filter({ hasText: 'Engine' }).waitFor();
  // Little of each, so that more are seen.
  const height = (): Promise<number> =>
    list
      .getByRole('option')
      .first()
      .evaluate((node) => node.clientHeight);
  const roomy = await height();
  await fromMenu(page, 'Show less of each');
  await page.waitForFunction(
    (before) =>
      (document.querySelector('drawer-panel')?.shadowRoot?.querySelector('[role="option"]')?.clientHeight ?? before) <
      before,
    roomy,
  );
  await fromMenu(page, 'Show more of each');
  await page.getByRole('button', { name: 'Tables', pressed: false }).click();
  await heard(page, /^1 snippet found/);
  expect(await slips(page)).toEqual([expect.stringContaining('costs.xlsx')]);
  await page.getByRole('button', { name: 'survey.docx', pressed: false }).click();
  await heard(page, /^Nothing found/);
  await page.getByRole('button', { name: 'Tables', pressed: true }).click();
  await heard(page, /^1 snippet found/);
  expect(await slips(page)).toEqual([expect.stringContaining('survey.docx')]);
});

it.each([
  ['de-DE', 'ltr', 'Der Schreibtisch', /^Aufbewahrt als 1: /],
  ['ar', 'rtl', 'مكتب الكتابة', /حُفظت? برقم/],
])('speaks the language of the person: %s', async (locale, direction, title, kept) => {
  const page = await site.visit(undefined, '', { locale });
  await page.locator('.reading:not([inert])').waitFor();
  await page.keyboard.press('Enter'); // the welcome
  await page.locator('.sheet-of-paper:not(:has(.reading-on))').waitFor();
  expect(await page.title()).toBe(title);
  expect(await page.evaluate(() => document.documentElement.dir)).toBe(direction);
  await selectElement(page, '.sheet-of-paper h1');
  await page.keyboard.press('Control+c');
  await heard(page, kept);
  expect(await seriousFindings(page)).toEqual([]);
  const tabs = page.getByRole('tab');
  await tabs.first().focus();
  await page.keyboard.press(direction === 'rtl' ? 'ArrowLeft' : 'ArrowRight');
  expect(await tabs.nth(1).getAttribute('aria-selected')).toBe('true');
  await page.keyboard.press(direction === 'rtl' ? 'ArrowRight' : 'ArrowLeft');
  expect(await tabs.first().getAttribute('aria-selected')).toBe('true');
  // No phrase is left in English.
  const own = locale === 'ar' ? ar : de;
  const phrases = new Set<unknown>(
    Object.entries(en).flatMap(([name, phrase]) => (own[name as 'title'] === phrase ? [] : [phrase])),
  );
  const shown = await page.locator('button, h1, h2, label, option, [role="option"] small').allInnerTexts();
  expect(shown.filter((words) => phrases.has(words.trim()))).toEqual([]);
});

it.each([360, 820, 2560])('lays itself out at %i px, by touch, with nothing running off the page', async (width) => {
  const page = await site.visit(undefined, '', { viewport: { width, height: 900 }, hasTouch: true });
  await page.locator('.reading:not([inert])').waitFor();
  await page.getByRole('button', { name: 'Begin' }).tap();
  await page.locator('.sheet-of-paper:not(:has(.reading-on))').waitFor();
  const runsOff = (): Promise<boolean> => page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
  const part = async (name: string): Promise<void> => {
    if (width < 900) await page.getByRole('button', { name, exact: true }).tap();
  };
  await page.getByRole('button', { name: 'Contents' }).tap();
  await page.getByRole('option', { name: 'Engine' }).first().tap();
  await page.getByRole('button', { name: 'Keep this place' }).tap();
  expect(await runsOff()).toBe(false);
  await part('Drawer');
  await page.locator('drawer-panel [role="option"]').first().tap();
  expect(await runsOff()).toBe(false);
  await page.getByRole('button', { name: 'Paste 1', exact: true }).tap();
  await heard(page, /^Pasted 1 snippet into the draft/);
  await part('Writing');
  await page.getByRole('textbox', { name: 'Draft' }).getByRole('heading', { name: 'Engine' }).waitFor();
  expect(await runsOff()).toBe(false);
  expect(await seriousFindings(page)).toEqual([]);
});

it('keeps what is pointed at, and works without a network once it was visited', async () => {
  const page = await visit('offline');
  await page.getByRole('tab', { name: 'letters.html' }).click();
  await page.locator('.sheet-of-paper table').first().hover();
  await page.getByRole('button', { name: 'Keep this table' }).click();
  await heard(page, /^Kept as 1: table, 3 × 3, from letters\.html/);
  await page.evaluate(async () => void (await navigator.serviceWorker.ready));
  await page.waitForFunction(async () => (await caches.keys()).length > 0);
  await page.waitForTimeout(1_500);
  await page.context().setOffline(true);
  await page.reload();
  await heard(page, /Select something in a file/);
  expect(await slips(page)).toHaveLength(1);
});

it('leaves a file that somebody opens in front while its own are still on their way', async () => {
  const page = await site.visit(undefined, '', { serviceWorkers: 'block' });
  let letThrough = (): void => {};
  const isOpened = new Promise<void>((opened) => {
    letThrough = opened;
  });
  await page.route('**/*.docx', async (route) => {
    await isOpened;
    await route.continue();
  });
  await page.reload();
  await page.getByRole('dialog').getByRole('button', { name: 'Begin' }).click();
  await page.locator('#open').setInputFiles(`${demoFiles}/log.md`);
  await heard(page, /^Opened log\.md$/);
  letThrough();
  await page.getByRole('tab', { name: 'letters.html' }).waitFor();
  await page.waitForFunction(() => !document.querySelector('progress'));
  expect(await page.getByRole('tab', { selected: true }).textContent()).toBe('log.md');
  await heard(page, /^Opened log\.md$/);
});

it('shows a long document before all of it has been read, and a long sheet row by row', async () => {
  const page = await visit();
  const long = site.path('long.docx');
  const paragraphs = Array.from(
    { length: 10_000 },
    (_, number) => `Paragraph ${number + 1} of the log, in which the ferry crosses.`,
  );
  writeFileSync(
    long,
    await writeFormat('docx', { shape: 'blocks', blocks: paragraphs.map((words) => paragraph(words)) }),
  );
  const sheet = site.path('long.xlsx');
  const rows = Array.from({ length: 20_000 }, (_, row) =>
    ['a', 'b', 'c'].map((letter) => ({ type: 'text', value: `${letter}${row + 1}` }) as const),
  );
  writeFileSync(sheet, await writeFormat('xlsx', { shape: 'cells', rows }));
  await page.locator('#open').setInputFiles(long);
  await page.getByText('Paragraph 1 of the log').waitFor();
  // The rest is still being read; it can be stopped.
  expect(await page.getByRole('button', { name: 'Stop' }).isVisible()).toBe(true);
  await page.getByText('Paragraph 10000 of the log').waitFor();
  await page.locator('#open').setInputFiles(sheet);
  const grid = page.getByRole('grid');
  await grid.getByRole('gridcell', { name: 'a1', exact: true }).waitFor();
  expect(await grid.getByRole('gridcell').count()).toBeLessThan(3_000);
  await page.locator('#page').evaluate((element) => element.scrollTo(0, element.scrollHeight));
  await grid.getByRole('gridcell', { name: 'c20000', exact: true }).waitFor();
  expect(await grid.getByRole('gridcell').count()).toBeLessThan(3_000);
});

async function writeFormat(name: 'docx' | 'xlsx', content: Content): Promise<Uint8Array> {
  const { write, create } = await formatNamed(name).load();
  const media = new Map<string, Uint8Array>();
  const bytes =
    (await write?.(content, { media })) ??
    (await create?.({ kind: 'cells' }, { content, media, style: 'original', spread: 'range' }))?.bytes;
  if (!bytes) throw new Error(`no ${name} was written`);
  return bytes;
}
