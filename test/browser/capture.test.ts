import type { Content, Snippet } from 'drawer';
import type { Page } from 'playwright-core';
import { heard, Site, selectElement } from '../support/site.ts';
import { strictPolicy, TestPage } from '../support/test-page.ts';

const strict = new TestPage('strict', strictPolicy);
const site = new Site('form'); // only for its browsers
const violations: string[] = [];

beforeAll(() => strict.start(), 60_000);
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
  expect(violations.splice(0)).toEqual([]);
});
afterAll(() => {
  strict.stop();
  return site.stop();
});

async function visit(): Promise<Page> {
  site.address = strict.address;
  const page = await site.visit();
  // What the policy forbids is told on the console.
  page.on('console', (message) => {
    if (/Content Security Policy|Trusted/i.test(message.text())) violations.push(message.text());
  });
  await page.locator('html[data-ready]').waitFor();
  return page;
}

const snippets = (page: Page): Promise<Snippet[]> =>
  page.evaluate(async () =>
    Promise.all((await window.drawer.list()).map(({ summary }) => window.drawer.get(summary.id))),
  );

const last = async (page: Page): Promise<Snippet | undefined> => (await snippets(page)).at(-1);

async function copy(page: Page, selector: string, itself = false): Promise<Snippet | undefined> {
  await selectElement(page, selector, itself);
  const before = (await snippets(page)).length;
  await page.keyboard.press('Control+c');
  for (let turn = 0; turn < 100; turn++) {
    const now = await snippets(page);
    if (now.length > before) return now.at(-1);
    await page.waitForTimeout(50);
  }
  throw new Error(`nothing was kept of ${selector}`);
}

const bare = (words: string) => ({ type: 'text', text: words });

it('takes the look that style sheets give, without what is hidden, and says where it is from', async () => {
  const page = await visit();
  const styled = await copy(page, '#styled');
  expect(styled?.content).toEqual({
    shape: 'run',
    inlines: [
      bare('Plain, '),
      { type: 'text', text: 'heavy', marks: { bold: true } },
      bare(', '),
      { type: 'text', text: 'red', marks: { colour: '#c80000' } },
      bare(' and words.'),
    ],
  });
  expect(styled?.origin).toEqual({ title: 'The ferry’s page', url: strict.address, place: 'The ferry' });
  // A tag that a style sheet makes light again is not bold.
  const fares = await copy(page, '#fares');
  expect(fares?.content).toEqual({ shape: 'run', inlines: [bare('Adults pay two pence.')] });
  expect(fares?.origin.place).toBe('Fares');
});

it('gathers from pages that say nothing of themselves, or nonsense', async () => {
  const page = await visit();
  await page.evaluate(() => {
    window.stop();
    const panel = document.querySelector('drawer-panel');
    const nothing = { title: '', place: undefined } as unknown as Record<string, string>;
    if (panel) window.tools.capture(document, window.drawer, { report: panel.report, origin: () => nothing });
  });
  for (const language of ['en_US', '__proto__', '']) {
    await page.evaluate((tag) => {
      document.documentElement.lang = tag;
    }, language);
    const kept = await copy(page, '#fares');
    expect([kept?.facts.words, kept?.origin]).toEqual([4, {}]);
  }
});

it.each<[string, string, boolean, Content]>([
  [
    'paragraphs',
    '#looks-like-a-list',
    false,
    {
      shape: 'blocks',
      blocks: [
        { type: 'paragraph', inlines: [{ type: 'text', text: 'First' }] },
        { type: 'paragraph', inlines: [{ type: 'text', text: 'Second' }] },
      ],
    },
  ],
  [
    'code',
    '#code',
    true,
    { shape: 'blocks', blocks: [{ type: 'code', text: 'const boat = 1;\nconst crew = 4;', syntax: 'ts' }] },
  ],
  [
    'a list within a list',
    '#list',
    true,
    {
      shape: 'blocks',
      blocks: [
        {
          type: 'list',
          ordered: false,
          items: [
            { blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text: 'oak' }] }] },
            {
              blocks: [
                { type: 'paragraph', inlines: [{ type: 'text', text: 'larch' }] },
                {
                  type: 'list',
                  ordered: false,
                  items: [{ blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text: 'planks' }] }] }],
                },
              ],
            },
            { blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text: 'elm' }] }] },
          ],
        },
      ],
    },
  ],
])('takes %s as such', async (_, selector, itself, content) => {
  const page = await visit();
  expect((await copy(page, selector, itself))?.content).toEqual(content);
});

it('makes relative links whole, and takes words out of a shadow root', async () => {
  const page = await visit();
  expect((await copy(page, '#link'))?.content).toEqual({
    shape: 'run',
    inlines: [{ type: 'text', text: 'Times', marks: { link: { href: `${strict.address}times?day=1#top` } } }],
  });
  await page.evaluate(() => {
    const words = document.getElementById('host')?.shadowRoot?.querySelector('p');
    if (words) document.getSelection()?.setBaseAndExtent(words, 0, words, 1);
    else throw new Error('no shadow');
  });
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: 4 words/);
});

it('never takes passwords, one-time codes, private parts and what holds nothing', async () => {
  const page = await visit();
  for (const field of ['#password', '#code-field']) {
    await page.locator(field).click();
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Control+c');
  }
  await selectElement(page, '#secret');
  await page.keyboard.press('Control+c');
  await selectElement(page, '#blank');
  await page.keyboard.press('Control+c');
  await heard(page, /^Not kept, since there is nothing in it/);
  expect(await snippets(page)).toEqual([]);
  const around = await copy(page, '#around');
  expect(JSON.stringify(around?.content)).not.toContain('Hidden part');
  expect(around?.facts.preview).toBe('Before. After.');
});

it('keeps as a secret what the page marks so', async () => {
  const page = await visit();
  await selectElement(page, '#told');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1: secret/);
  await page.locator('#token').click();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: secret/);
  await selectElement(page, '#fares');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 3: 4 words/);
  expect((await snippets(page)).map(({ secret, facts }) => [secret, facts.preview])).toEqual([
    [true, '••••••'],
    [true, '••••••'],
    [undefined, 'Adults pay two pence.'],
  ]);
});

it('takes the whole line where nothing is selected in a field, and what is marked where something is', async () => {
  const page = await visit();
  await page.locator('#lines').click();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1: 2 words/);
  expect((await last(page))?.content).toEqual({ shape: 'run', inlines: [bare('second line')] });
  await page.locator('#words').click();
  await page.keyboard.press('Home');
  await page.keyboard.press('Control+Shift+ArrowRight');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: 1 word/);
});

it('appends to the newest and sends on by keys, keeps the order of quick copies, and stops without trace', async () => {
  const page = await visit();
  await selectElement(page, '#fares');
  await page.keyboard.press('Control+c');
  await selectElement(page, '#table', true);
  await page.keyboard.press('Control+c');
  await selectElement(page, '#link');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 3/);
  expect((await snippets(page)).map(({ facts }) => facts.what.kind)).toEqual(['words', 'table', 'words']);
  await selectElement(page, '#fares');
  await page.keyboard.press('Alt+Shift+K');
  await heard(page, /^Appended to 3, now/);
  expect((await last(page))?.parts).toHaveLength(2);
  await selectElement(page, '#styled');
  await page.keyboard.press('Alt+Shift+S');
  await heard(page, /^Kept as 4/);
  await page.waitForFunction(() => window.sent.length === 1);
  await page.evaluate(() => window.stop());
  await selectElement(page, '#styled');
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Alt+Shift+K');
  await page.waitForTimeout(400);
  expect(await snippets(page)).toHaveLength(4);
});

// --- Delivery -----------------------------------------------------------------------------------------------------------

const deliver = (page: Page, selector: string, words: string): Promise<string> =>
  page.evaluate(
    async ([of, typed]) => {
      const field = document.querySelector<HTMLElement>(of as string);
      field?.focus();
      try {
        await window.tools.deliver(window.tools.run(typed as string), { language: 'en-GB' });
      } catch (error) {
        const { reason, params } = error as { reason: string; params: object };
        return `${reason} ${JSON.stringify(params)}`;
      }
      if (field instanceof HTMLInputElement && field.type === 'checkbox') return String(field.checked);
      return field && 'value' in field ? String(field.value) : (field?.innerHTML ?? '');
    },
    [selector, words] as const,
  );

it.each([
  ['a day', '#day', '3 May 2026', '2026-05-03'],
  ['a month', '#month', '3 May 2026', '2026-05'],
  ['a week', '#week', '3 May 2026', '2026-W18'],
  ['a moment', '#moment', '3 May 2026', '2026-05-03T00:00'],
  ['an amount', '#amount', '£1,250.50', '1250.5'],
  ['an address', '#mail', ' yard@example.org ', 'yard@example.org'],
  ['a box', '#tick', 'yes', 'true'],
  ['a choice by its words', '#wood', 'larch', 'l'],
  ['words at the caret', '#words', 'and ', 'one two threeand '],
])('gives %s its own form', async (_, selector, words, value) => {
  const page = await visit();
  if (selector === '#words') await page.locator(selector).press('End');
  expect(await deliver(page, selector, words)).toBe(value);
});

it.each([
  ['#day', 'next to the pier', /^field-value-refused .*"field":"Day"/],
  ['#amount', 'plenty', /^field-value-refused .*"field":"Amount"/],
  ['#mail', 'not an address', /^field-value-refused .*"field":"Mail"/],
  ['#wood', 'teak', /^field-value-refused .*"field":"Wood"/],
  ['#short', 'far too long', /^field-too-short .*"field":"Short","most":5/],
  ['#fixed', 'new', /^field-refused .*"Fixed"/],
])('says what %s does not take, and changes nothing', async (selector, words, said) => {
  const page = await visit();
  const before = await page.locator(selector).inputValue();
  expect(await deliver(page, selector, words)).toMatch(said);
  expect(await page.locator(selector).inputValue()).toBe(before);
});

it('ticks the one of a group that is named', async () => {
  const page = await visit();
  await deliver(page, 'input[name="way"]', 'By road');
  expect(await page.locator('input[name="way"]:checked').inputValue()).toBe('2');
});

it('lands where the caret was, though the panel has the focus, and the browser’s own undo takes it back', async () => {
  const page = await visit();
  await copy(page, '#styled');
  await page.locator('#words').click();
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into Words/);
  expect(await page.locator('#words').inputValue()).toBe('Plain, heavy, red and words.one two three');
  await page.keyboard.press('Control+z');
  expect(await page.locator('#words').inputValue()).toBe('one two three');
  await page.locator('#rich').click();
  await page.keyboard.press('Alt+Shift+N');
  await heard(page, /^Pasted 1 snippet into Rich\. Nothing is left in the sequence/);
  expect(await page.locator('#rich').innerHTML()).toContain('<strong>heavy</strong>');
});

it('tells the page what it keeps, chooses, pastes and says, and pastes nothing that the page cancels', async () => {
  const page = await visit();
  await page.evaluate(() => {
    const panel = document.querySelector('drawer-panel') as HTMLElementTagNameMap['drawer-panel'];
    const told: string[] = [];
    Object.assign(window, { told, cancels: true });
    panel.addEventListener('drawer-keep', ({ detail }) => told.push(`keep ${detail.kind}`));
    panel.addEventListener('drawer-selectionchange', ({ detail }) => told.push(`chosen ${detail.length}`));
    panel.addEventListener('drawer-say', ({ detail }) => told.push(`say ${detail.slice(0, 6)}`));
    panel.addEventListener('drawer-error', ({ detail }) => told.push(`error ${(detail as { reason: string }).reason}`));
    document.addEventListener('drawer-paste', (event) => {
      const { detail } = event as HTMLElementEventMap['drawer-paste'];
      told.push(`paste ${detail.content.shape} ${detail.style}`);
      if ((window as unknown as { cancels: boolean }).cancels) event.preventDefault();
    });
  });
  const told = (): Promise<string[]> => page.evaluate(() => (window as unknown as { told: string[] }).told);
  const toldOf = (fact: string): Promise<unknown> =>
    page.waitForFunction((sought) => (window as unknown as { told: string[] }).told.includes(sought), fact);
  await copy(page, '#styled');
  await toldOf('say Kept a');
  await page.locator('#words').fill('');
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Space');
  await toldOf('chosen 1');
  await page.keyboard.press('Enter');
  await toldOf('paste run local');
  await page.evaluate(() => Object.assign(window, { cancels: false }));
  await page.keyboard.press('Enter');
  await toldOf('say Pasted');
  expect(await page.locator('#words').inputValue()).toBe('Plain, heavy, red and words.');
  expect((await told()).filter((each) => !each.startsWith('chosen'))).toEqual([
    'keep kept',
    'say Kept a',
    'paste run local',
    'paste run local',
    'say Pasted',
  ]);
  await page.evaluate(() => window.drawer.changeSettings({ capacity: 1, full: 'refuse' }));
  await selectElement(page, '#fares');
  await page.keyboard.press('Control+c');
  await toldOf('error drawer-full');
});

it('may be had by several names on one page', async () => {
  const page = await visit();
  const have = await page.evaluate(() => {
    const { definePanel } = window.tools;
    for (const name of ['drawer-panel', 'other-panel', 'other-panel']) definePanel(name);
    return ['drawer-panel', 'other-panel'].map((name) => 'openDrawer' in document.createElement(name));
  });
  expect(have).toEqual([true, true]);
});

it('pastes what comes next once for each time it is asked, however fast', async () => {
  const page = await visit();
  await page.evaluate(() =>
    window.drawer.keep(
      ['oak', 'larch', 'elm'].map((text) => ({
        content: { shape: 'run', inlines: [{ type: 'text', text }] },
        origin: {},
      })),
    ),
  );
  await page.locator('#words').fill('');
  await Promise.all([1, 2, 3].map(() => page.keyboard.press('Alt+Shift+N')));
  await heard(page, /Nothing is left in the sequence/);
  expect(await page.locator('#words').inputValue()).toBe('oaklarchelm');
});

it('lays out the snippets in sight and no others, of thousands, and goes to the last by one key', async () => {
  const page = await visit();
  await page.evaluate(() =>
    window.drawer.keep(
      Array.from({ length: 3_000 }, (_, index) => ({
        content: { shape: 'run', inlines: [{ type: 'text', text: `Plank ${index + 1}` }] },
        origin: {},
      })),
    ),
  );
  await page.reload();
  const rows = page.locator('drawer-panel [role="option"]');
  await rows.filter({ hasText: 'Plank 1' }).first().waitFor();
  expect(await rows.count()).toBeLessThan(40);
  // A row that were taken for nothing while it is rendered would have been followed by all the others.
  const height = await page.locator('drawer-panel .slips').evaluate((list) => list.scrollHeight);
  expect(height).toBeGreaterThan(200_000);
  await page.locator('drawer-panel .slips').focus();
  await page.keyboard.press('End');
  await rows.filter({ hasText: 'Plank 3000' }).waitFor();
  expect(await rows.count()).toBeLessThan(40);
});

it('puts every flavour on the clipboard, which the panel takes back whole', async () => {
  const page = await visit();
  await copy(page, '#table', true);
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Control+c');
  await heard(page, /^Copied 1 snippet/);
  const flavours = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    return { types: [...(item?.types ?? [])], words: await (await item?.getType('text/plain'))?.text() };
  });
  expect(flavours.types).toEqual(
    expect.arrayContaining(['text/plain', 'text/html', 'web application/vnd.drawer.content+json']),
  );
  expect(flavours.words).toBe('a\tb\nc\td');
  await page.keyboard.press('Control+v');
  await heard(page, /^Kept as 2: table, 2 × 2/);
});

// --- Hostile content ----------------------------------------------------------------------------------------------------

/** The kinds of script injection that public lists gather (OWASP: XSS filter evasion), each telling if it ever ran. */
const hostile = [
  '<script>window.ran = 1</script>words',
  '<img src=x onerror="window.ran = 2">words',
  '<svg onload="window.ran = 3"><text>words</text></svg>words',
  '<a href="javascript:window.ran = 4">words</a>',
  '<a href=" &#x6a;avascript:window.ran = 5">words</a>',
  '<iframe src="javascript:window.ran = 6"></iframe>words',
  '<iframe srcdoc="<script>parent.ran = 7</script>"></iframe>words',
  '<details open ontoggle="window.ran = 8">words</details>',
  '<style>* { display: none } body { background: url(/fetched-style) }</style>words',
  '<div style="background: url(/fetched-ground)">words</div>',
  '<img src="/fetched-picture" srcset="/fetched-set 2x">words',
  '<link rel="stylesheet" href="/fetched-link">words',
  '<base href="//evil.example/"><a href="x">words</a>',
  '<form action="/fetched-form"><input autofocus onfocus="window.ran = 9"><button formaction="javascript:window.ran = 10">go</button></form>words',
  '<math><mtext><table><mglyph><style><img src=x onerror="window.ran = 11"></style></mglyph></table></mtext></math>words',
  '<noscript><p title="</noscript><img src=x onerror=window.ran=12>">words</p></noscript>words',
  '<template><img src=x onerror="window.ran = 13"></template>words',
  '<object data="javascript:window.ran = 14"></object><embed src="javascript:window.ran = 15">words',
  '<video><source onerror="window.ran = 16"></video><audio src=x onerror="window.ran = 17"></audio>words',
  '<meta http-equiv="refresh" content="0;url=/fetched-refresh">words',
  '<p data-x="&quot;><img src=x onerror=window.ran=18>">words</p>',
  '<table background="/fetched-table"><tr><td onclick="window.ran = 19">words</td></tr></table>',
  '<drawer-panel onclick="window.ran = 20">words</drawer-panel>',
] as const;

it('lets nothing that is hostile run, load or restyle anything, captured, dropped in, shown, merged or delivered', async () => {
  const page = await visit();
  const asked = (): string[] => strict.asked.filter((url) => url.includes('fetched'));
  strict.asked.splice(0);
  for (const markup of hostile)
    await page.evaluate(async (pasted) => {
      const taken = await window.tools.readMarkup(pasted);
      await window.drawer.keep([
        {
          content: taken.content,
          media: taken.media,
          origin: { title: '<img src=x onerror="window.ran = 21">' },
          label: '<svg onload=window.ran=22>',
        },
      ]);
    }, markup);
  expect(await page.evaluate(() => window.drawer.count())).toBe(hostile.length);
  await page.locator('drawer-panel [role="option"]').nth(3).waitFor();
  await page.locator('#rich').click();
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('m');
  await page.getByRole('button', { name: 'Paste it' }).waitFor();
  await page.getByRole('button', { name: 'Paste it' }).click();
  await heard(page, new RegExp(`^Pasted ${hostile.length} snippets into Rich`));
  const rich = await page.locator('#rich').innerHTML();
  expect(rich.match(/words/g)?.length).toBeGreaterThanOrEqual(hostile.length - 2);
  expect(rich).not.toMatch(/<script|<iframe|<style|<link|<object|<embed|\son\w+=|javascript:|fetched/i);
  expect(await page.evaluate(() => (window as { ran?: number }).ran)).toBeUndefined();
  expect(asked()).toEqual([]);
  expect(await page.evaluate(() => getComputedStyle(document.body).display)).toBe('block');
});
