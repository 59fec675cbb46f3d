import type { Listed } from 'drawer';
import type { Page } from 'playwright-core';
import { changesAtRandom, outcomeOf } from '../support/at-random.ts';
import { heard, Site } from '../support/site.ts';

const site = new Site('editors');
beforeAll(() => site.start(), 120_000);
afterAll(() => site.stop());
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
});

/** The panel's drawer, for a script in a page. */
const drawerOf = "document.querySelector('drawer-panel').drawer";

const isOpen = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => (document.querySelector('drawer-panel') as { drawer?: unknown } | null)?.drawer);

/** Another window of the same browser. */
async function windowBeside(page: Page): Promise<Page> {
  const other = await page.context().newPage();
  site.watch(other);
  return other;
}

const textsOf = (page: Page): Promise<string[]> =>
  page.evaluate(`${drawerOf}.list(1, 10_000).then((listed) => listed.map(({ summary }) => summary.facts.preview))`);

/** Runs a script in a window with its `drawer`, `keep(text)` and `say(line)`; gives what it says, and what stopped it. */
async function running(page: Page, script: string): Promise<{ readonly lines: string[]; readonly faults: string[] }> {
  const [lines, faults]: [string[], string[]] = [[], []];
  await isOpen(page);
  await page.exposeFunction('say', (line: string) => void lines.push(line));
  const content = "{ shape: 'run', inlines: [{ type: 'text', text }] }";
  const ended = page.evaluate(`(async () => {
    const { drawer } = document.querySelector('drawer-panel');
    const keep = (text) => drawer.keep([{ content: ${content}, origin: {} }]);
    ${script}
  })()`);
  ended.catch(({ message }: Error) => {
    if (!/closed|crashed/i.test(message)) faults.push(message); // what is said of a window that was killed
  });
  return { lines, faults };
}

it('lose and mix up nothing while they change one drawer at once, and the browser is killed at any moment', async () => {
  const rounds = Number(process.env.RUNS ?? 2);
  let acknowledged = 0;
  for (let round = 0; round < rounds; round++) {
    const profile = `at-once-${round}`;
    const first = await site.visit(profile);
    const second = await windowBeside(first);
    await second.goto(site.address);
    const both = await Promise.all([running(first, changesAtRandom('a')), running(second, changesAtRandom('b'))]);
    const isEnough = (): boolean =>
      both.every(({ lines }) => lines.length > 40 + round * 9) || both.some(({ faults }) => faults.length > 0);
    while (!isEnough()) await first.waitForTimeout(5);
    expect(both.flatMap(({ faults }) => faults)).toEqual([]);
    site.kill(profile);
    const again = await site.visit(profile);
    await isOpen(again);
    expect(await again.evaluate(`${drawerOf}.check().then(({ faults }) => faults)`)).toEqual([]);
    const all = await textsOf(again);
    for (const [at, { lines }] of both.entries()) {
      const outcome = outcomeOf(lines);
      expect(outcome.possible).toContain(all.filter((words) => words.startsWith('ab'.charAt(at))).join(' '));
      acknowledged += outcome.acknowledged;
    }
  }
  expect(acknowledged).toBeGreaterThan(rounds * 30);
});

it('show no other drawer in the place of one that a newer program made, and say so', async () => {
  const page = await site.visit();
  await isOpen(page);
  const opened = await page.evaluate(async () => {
    await new Promise((done) => {
      indexedDB.open('later', 999).onsuccess = ({ target }) => {
        (target as IDBOpenDBRequest).result.close();
        done(undefined);
      };
    });
    const panel = document.querySelector('drawer-panel') as unknown as { openDrawer(name: string): Promise<unknown> };
    return panel.openDrawer('later').catch(({ code }: { code: string }) => code);
  });
  expect(opened).toBe('newer');
  await heard(page, /^The drawer belongs to a newer version of Drawer\. Load the page again/);
});

it('open new drawers at the same moment, and each finds what the other kept', async () => {
  const first = await site.visit();
  const second = await windowBeside(first);
  await second.goto(site.address);
  const start = Date.now() + 1_000;
  const script = (name: string): string => `
    const panel = document.querySelector('drawer-panel');
    for (let number = 0; number < 20; number++) {
      while (Date.now() < ${start} + number * 100) await new Promise((wait) => setTimeout(wait, 0));
      const shared = await panel.openDrawer('moment-' + number);
      const content = { shape: 'run', inlines: [{ type: 'text', text: '${name}' }] };
      await shared.keep([{ content, origin: {} }]);
    }
    await say('done');`;
  const both = await Promise.all([running(first, script('a')), running(second, script('b'))]);
  while (both.some(({ lines, faults }) => lines.length + faults.length === 0)) await first.waitForTimeout(20);
  expect(both.flatMap(({ faults }) => faults)).toEqual([]);
  for (let number = 0; number < 20; number++) {
    const listed = await first.evaluate(
      `document.querySelector('drawer-panel').openDrawer('moment-${number}').then((drawer) => drawer.list())`,
    );
    expect((listed as Listed[]).map(({ summary }) => summary.facts.preview).sort()).toEqual(['a', 'b']);
  }
});
