import { type Content, plainText } from 'drawer';
import type { FrameLocator, Page } from 'playwright-core';
import { Site } from '../support/site.ts';
import { TestPage } from '../support/test-page.ts';

const served = new TestPage('frames');
const site = new Site('form'); // only for its browsers

beforeAll(() => served.start(), 60_000);
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
});
afterAll(() => {
  served.stop();
  return site.stop();
});

async function visit(): Promise<Page> {
  site.address = served.address;
  const page = await site.visit();
  await page.locator('html[data-ready]').waitFor();
  return page;
}

const kept = (page: Page): Promise<Content[]> =>
  page.evaluate(async () =>
    Promise.all((await window.drawer.list()).map(async ({ summary }) => (await window.drawer.get(summary.id)).content)),
  );

async function until(page: Page, isSo: () => Promise<boolean>): Promise<void> {
  for (let turn = 0; turn < 600; turn++) {
    if (await isSo()) return;
    await page.waitForTimeout(50);
  }
  throw new Error('it never came to be so');
}

/** Selects an element's insides in a frame and copies, and waits for what is kept. */
async function copy(page: Page, frame: FrameLocator, selector: string): Promise<Content | undefined> {
  const before = (await kept(page)).length;
  await frame.locator(selector).evaluate((element) => {
    element.ownerDocument.defaultView?.focus();
    element.ownerDocument.getSelection()?.selectAllChildren(element);
  });
  await page.keyboard.press('Control+c');
  await until(page, async () => (await kept(page)).length > before);
  return (await kept(page)).at(-1);
}

/** Delivers to where the caret is, after the focus has gone to the panel. */
async function deliver(page: Page, words: string): Promise<string> {
  await page.keyboard.press('Alt+Shift+P');
  return page.evaluate(async (said) => {
    const { deliver: put, run } = window.tools;
    return put(run(said)).then(
      ({ name }) => `into ${name}`,
      (error: { code: string; reason: string; params: object }) =>
        `${error.code}: ${error.reason} ${JSON.stringify(error.params)}`,
    );
  }, words);
}

it('gathers what is copied in frames, however deep, and says what page it is from', async () => {
  const page = await visit();
  expect(await copy(page, page.frameLocator('#form'), '#note')).toEqual({
    shape: 'run',
    inlines: [
      { type: 'text', text: 'Read ' },
      { type: 'text', text: 'this', marks: { italic: true } },
      { type: 'text', text: '.' },
    ],
  });
  const deep = await copy(page, page.frameLocator('#outer').frameLocator('#inner'), '#deep');
  expect(deep && plainText(deep)).toBe('Deep words.');
  const [first] = await page.evaluate(() => window.drawer.list());
  expect(first?.summary.origin).toMatchObject({ title: 'Letters with frames', url: served.address });
});

it('keeps private what is in a private frame, or private in a frame', async () => {
  const page = await visit();
  for (const [frame, selector] of [
    ['#safe', '#inside'],
    ['#form', '#hidden'],
  ] as const) {
    await page
      .frameLocator(frame)
      .locator(selector)
      .evaluate((element) => {
        element.ownerDocument.defaultView?.focus();
        element.ownerDocument.getSelection()?.selectAllChildren(element);
      });
    await page.keyboard.press('Control+c');
    expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(/471\d/);
  }
  await copy(page, page.frameLocator('#form'), '#note');
  expect(await kept(page)).toHaveLength(1);
});

it('delivers to the caret in a frame: a part that is edited, a whole page, a field, a frame within a frame', async () => {
  const page = await visit();
  const letter = page.frameLocator('#letter').locator('body');
  await letter.click();
  await page.keyboard.press('Control+End');
  expect(await deliver(page, ' and all')).toBe('into Letter');
  expect(await letter.innerText()).toBe('Dear crew, and all');
  await letter.click();
  await page.keyboard.press('Control+z');
  expect(await letter.innerText()).toBe('Dear crew,');

  const whole = page.frameLocator('#whole').locator('body');
  await whole.click();
  await page.keyboard.press('Control+Home');
  expect(await deliver(page, 'It is ')).toBe('into Whole page');
  expect(await whole.innerText()).toBe('It is Edited as a whole.');

  const name = page.frameLocator('#form').getByLabel('Name');
  await name.click();
  await page.keyboard.press('End');
  expect(await deliver(page, ' II')).toBe('into Name');
  expect(await name.inputValue()).toBe('Marigold II');

  const deep = page.frameLocator('#outer').frameLocator('#inner').getByLabel('Deep');
  await deep.click();
  expect(await deliver(page, 'far in')).toBe('into Deep');
  expect(await deep.inputValue()).toBe('far in');
});

it('gathers from and delivers to an editor that works in a frame', async () => {
  const page = await visit();
  const editor = page.frameLocator('.jodit-wysiwyg_iframe').locator('body');
  await editor.click();
  await page.keyboard.type('Keel and stem');
  const words = await copy(page, page.frameLocator('.jodit-wysiwyg_iframe'), 'p');
  expect(words && plainText(words)).toBe('Keel and stem');
  await editor.click();
  await page.keyboard.press('Control+End');
  expect(await deliver(page, ' of oak')).toMatch(/^into /);
  await until(page, async () => (await editor.innerText()).includes('Keel and stem of oak'));
  // The editor writes to its field when it has time.
  await until(page, async () => /Keel and stem.* of oak/.test(await page.locator('#jodit').inputValue()));
});

it('says that a frame of another site is out of reach', async () => {
  const page = await visit();
  await page.frameLocator('#letter').locator('body').click();
  await page.frameLocator('#foreign').locator('#words').click();
  expect(await deliver(page, 'lost')).toMatch(/^refused: frame-out-of-reach .*Elsewhere/);
});

it('follows frames that are added, loaded again and taken away', async () => {
  const page = await visit();
  await page.evaluate(() => {
    const frame = document.createElement('iframe');
    frame.id = 'late';
    frame.srcdoc = '<textarea aria-label="Late"></textarea>';
    const host = document.createElement('div');
    document.querySelector('main')?.prepend(host);
    host.attachShadow({ mode: 'open' }).append(frame);
  });
  const late = page.frameLocator('#late').getByLabel('Late');
  await late.click();
  expect(await deliver(page, 'once')).toBe('into Late');
  await page.locator('#late').evaluate(async (frame: HTMLIFrameElement) => {
    const loaded = new Promise((done) => frame.addEventListener('load', done, { once: true }));
    frame.srcdoc = '<textarea aria-label="Again"></textarea>';
    await loaded;
  });
  const again = page.frameLocator('#late').getByLabel('Again');
  await again.click();
  expect(await deliver(page, 'twice')).toBe('into Again');
  expect(await again.inputValue()).toBe('twice');
  await page.locator('#late').evaluate((frame) => frame.remove());
  await page.frameLocator('#letter').locator('body').click();
  expect(await deliver(page, 'more')).toBe('into Letter');
});
