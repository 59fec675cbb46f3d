import { type Browser, chromium, type Page } from 'playwright-core';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';
import { browserArguments, executablePath } from '../support/site.ts';
import { startXServer, type XServer } from '../support/x-server.ts';

const own = 'application/vnd.drawer.content+json';

let server: XServer;
let browser: Browser;
let page: Page;
let place: Workplace;
beforeAll(async () => {
  server = await startXServer();
  place = workplace();
  browser = await chromium.launch({
    executablePath,
    headless: false,
    args: [...browserArguments, '--ozone-platform=x11'],
    env: { ...process.env, DISPLAY: server.display } as Record<string, string>,
  });
  const context = await browser.newContext({ permissions: ['clipboard-read', 'clipboard-write'] });
  page = await context.newPage();
  const body = '<p id="words">The <b>ferry</b> waits.</p><textarea></textarea>';
  // Only a page of a secure origin has the asynchronous clipboard.
  await page.route('https://page.example/', (route) => route.fulfill({ contentType: 'text/html', body }));
  await page.goto('https://page.example/');
});
afterAll(async () => {
  await browser.close();
  await server.stop();
  place.remove();
});

const drawer = async (...words: string[]): Promise<string> => {
  const ran = await runCommand(words, { cwd: place.folder, DRAWER: place.drawer, DISPLAY: server.display });
  expect(ran).toMatchObject({ code: 0 });
  return ran.out;
};
const contentOf = async (reference: string): Promise<string> =>
  JSON.stringify(JSON.parse(await drawer('paste', reference, '--as', 'json')).snippets[0].content);

it('pastes what the command put on the clipboard, in each form and without loss in our own', async () => {
  await drawer('copy', place.demo('costs.xlsx#Timber!A1:G6'));
  await drawer('paste', '1', '--into', 'clipboard:');
  const pasted = page.evaluate(
    () =>
      new Promise<Record<string, string>>((done) =>
        document.addEventListener('paste', ({ clipboardData }) =>
          done(
            Object.fromEntries(
              [...(clipboardData?.types ?? [])].map((type) => [type, clipboardData?.getData(type) ?? '']),
            ),
          ),
        ),
      ),
  );
  await page.locator('textarea').press('Control+V');
  const forms = await pasted;
  expect(forms[own]).toBe(await contentOf('1'));
  expect(forms['text/html']).toContain('sdval="1250"');
  expect(forms['text/plain']).toMatch(/^Item\tLength, m/);
});

it('is copied from by the command: a page’s words as they look, and without loss what a page copies in our own form', async () => {
  await page.evaluate(() => {
    const words = document.querySelector('#words') as Element;
    document.getSelection()?.selectAllChildren(words);
  });
  await page.keyboard.press('Control+C');
  await drawer('copy', 'clipboard:');
  expect(await drawer('paste', 'last', '--as', 'markdown')).toBe('The **ferry** waits.\n');
  const content = await contentOf('1');
  // As a page copies by an event, and by the asynchronous way.
  await page.evaluate((held) => {
    document.addEventListener(
      'copy',
      (event) => {
        event.preventDefault();
        event.clipboardData?.setData('text/plain', 'plain');
        event.clipboardData?.setData('application/vnd.drawer.content+json', held);
      },
      { once: true },
    );
  }, content);
  await page.keyboard.press('Control+C');
  await drawer('copy', 'clipboard:');
  expect(await contentOf('last')).toBe(content);
  await page.evaluate(async (held) => {
    const type = 'web application/vnd.drawer.content+json';
    await navigator.clipboard.write([
      new ClipboardItem({
        'text/plain': new Blob(['plain'], { type: 'text/plain' }),
        [type]: new Blob([held], { type: type.slice(4) }),
      }),
    ]);
  }, content);
  await drawer('copy', 'clipboard:');
  expect(await contentOf('last')).toBe(content);
});
