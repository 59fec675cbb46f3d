import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { heard, Site, seriousFindings } from '../support/site.ts';

const site = new Site('form');

beforeAll(() => site.start(), 120_000);
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
});
afterAll(() => site.stop());

async function visit(): Promise<Page> {
  const page = await site.visit();
  await page.getByRole('heading', { name: 'Letters about the ferry' }).waitFor();
  await page.getByRole('button', { name: 'log.md' }).waitFor();
  return page;
}

/** Selects words of the document, as a caret that is moved with Shift does, and copies them. */
async function keep(page: Page, words: string): Promise<void> {
  await page.locator('#page').focus();
  await page.evaluate((wanted) => {
    const walker = document.createTreeWalker(document.querySelector('#page') as Node, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) {
      const node = walker.currentNode as Text;
      const at = node.data.indexOf(wanted);
      if (at < 0) continue;
      document.getSelection()?.setBaseAndExtent(node, at, node, at + wanted.length);
      return;
    }
    throw new Error(`the document does not say “${wanted}”`);
  }, words);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as/);
}

it('is walked by keyboard alone, from the documents to a saved claim, with what is left said on the way', async () => {
  const page = await visit();
  const left = page.locator('#left');
  expect(await left.innerText()).toBe(
    'Left to fill: Claimant, Date, Amount claimed, in pounds, E-mail, Work done, Part of the boat, Paid by, Receipts are enclosed',
  );
  await page.keyboard.press('Tab');
  await keep(page, 'the whole school went down to see it');
  // One by one: the caret goes to its field, and the next slip lands there.
  await page.getByLabel('Work done').focus();
  await page.keyboard.press('Alt+Shift+N');
  await heard(page, /^Pasted 1 snippet into Work done\. Nothing is left in the sequence/);
  expect(await page.getByLabel('Work done').inputValue()).toBe('the whole school went down to see it');
  // By label and kind: an amount, a day and an address find their fields by what they are; a label finds the rest.
  await page.evaluate(async () => {
    const drawer = document.querySelector('drawer-panel')?.drawer;
    const words = (text: string) => ({ shape: 'run', inlines: [{ type: 'text', text }] }) as const;
    const kept = [
      ['£1,250.50'],
      ['3 May 2026'],
      ['yard@example.org'],
      ['Deck', 'Part of the boat'],
      ['The ferry trust', 'Claimant'],
      ['yes', 'Receipts are enclosed'],
      ['Bank transfer', 'Paid by'],
    ] as const;
    await drawer?.keep(kept.map(([text, label]) => ({ content: words(text), origin: {}, ...(label && { label }) })));
  });
  await page.getByRole('button', { name: 'Fill by label and kind' }).focus();
  await page.keyboard.press('Enter');
  await heard(page, /^Filled 7: /);
  expect(await left.innerText()).toBe('Nothing is left to fill');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the claim' }).focus();
  await page.keyboard.press('Enter');
  const file = site.path('claim.json');
  await (await download).saveAs(file);
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual({
    claimant: 'The ferry trust',
    date: '2026-05-03',
    amount: '1250.5',
    email: 'yard@example.org',
    work: 'the whole school went down to see it',
    part: 'Deck',
    paid: 'bank',
    receipts: 'on',
  });
  // What was filled in is there after the page was closed.
  await page.reload();
  await page.getByRole('heading', { name: 'Letters about the ferry' }).waitFor();
  expect(await page.getByLabel('Date').inputValue()).toBe('2026-05-03');
});

it('fills nothing where two would fit, and says so', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const words = (text: string) => ({ shape: 'run', inlines: [{ type: 'text', text }] }) as const;
    const drawer = document.querySelector('drawer-panel')?.drawer;
    await drawer?.keep(['3 May 2026', '4 June 2026'].map((text) => ({ content: words(text), origin: {} })));
  });
  await page.getByRole('button', { name: 'Fill by label and kind' }).click();
  await heard(page, /^Filled 0: none\. Left for you to decide: Date \(2 snippets fit\)/);
  expect(await page.getByLabel('Date').inputValue()).toBe('');
});

it('fills in turn from the drawer, each field in its own form, and stops where one does not take the next', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const words = (text: string) => ({ shape: 'run', inlines: [{ type: 'text', text }] }) as const;
    const drawer = document.querySelector('drawer-panel')?.drawer;
    await drawer?.keep(
      ['The ferry trust', '3 May 2026', 'about a lot'].map((text) => ({ content: words(text), origin: {} })),
    );
  });
  await page.getByRole('button', { name: 'Fill in turn from the drawer' }).click();
  await heard(page, /Amount claimed, in pounds does not accept “about a lot”/);
  expect(await page.getByLabel('Claimant').inputValue()).toBe('The ferry trust');
  expect(await page.getByLabel('Date').inputValue()).toBe('2026-05-03');
  expect(await page.getByLabel('Amount').inputValue()).toBe('');
});

it('has no serious accessibility finding, empty and half filled', async () => {
  const page = await visit();
  expect(await seriousFindings(page)).toEqual([]);
  await keep(page, 'the whole school');
  await page.getByLabel('Claimant').fill('The ferry trust');
  expect(await seriousFindings(page)).toEqual([]);
});
