import { DrawerError } from 'drawer';
import { mediaHash } from 'drawer/formats';
import type { SyncResult } from 'drawer/node';
import * as fc from 'fast-check';
import type { Page } from 'playwright-core';
import { act, acts, snippetsOf } from '../support/acts.ts';
import { NatsServers } from '../support/nats-server.ts';
import { Site } from '../support/site.ts';
import { SyncingDevice as Device, passphrase } from '../support/syncing-device.ts';
import { TestPage } from '../support/test-page.ts';

/** A drawer in a page and one in a file, which meet on a NATS server. */

const served = new TestPage('synced');
const site = new Site('form'); // only for its browsers
let servers: NatsServers;
let named = 0;
const newName = (): string => `page-${++named}`;

beforeAll(async () => {
  servers = await NatsServers.start();
  await served.start();
}, 60_000);
afterEach(async () => {
  // The browser itself tells of a server that is away.
  expect((await site.closeAll()).filter((fault) => !/WebSocket connection/.test(fault))).toEqual([]);
});
afterAll(async () => {
  served.stop();
  await site.stop();
  await servers.stop();
});

async function visit(name: string): Promise<Page> {
  site.address = served.address;
  const page = await site.visit();
  await open(page, name);
  return page;
}

async function open(page: Page, name: string): Promise<void> {
  await page.locator('html[data-ready]').waitFor();
  await page.evaluate(
    ([address, words]) => window.shared.open(address as string, words as string),
    [servers.pageAddress(name), passphrase],
  );
}

const syncedIn = (page: Page): Promise<SyncResult | string> => page.evaluate(() => window.shared.sync());

it('bring together what each has gathered, with pictures, and what both have written offline', async () => {
  const name = newName();
  const device = await new Device(servers.address(name)).open();
  const page = await visit(name);
  const bytes = Uint8Array.from({ length: 1_500_000 }, (_, index) => (index * index) >> 3);
  const hash = await device.keepPicture(bytes);
  await device.keep('oak', 'elm');
  await page.evaluate(() => window.shared.act({ what: 'keep', at: 0, words: 'of the page' }));
  await page.evaluate(() => window.shared.secret('wordless key'));
  await page.evaluate(
    ([hash]) => window.shared.picture([1, 2, 3], hash as string),
    [mediaHash(Uint8Array.of(1, 2, 3))],
  );
  await device.sync.sync();
  expect(await syncedIn(page)).toMatchObject({ added: 3, sent: 2, devices: 1, problems: [] });
  expect(await device.sync.sync()).toMatchObject({ added: 2, devices: 1, problems: [] });
  expect(await page.evaluate((media) => window.shared.hashOfPicture(media), hash)).toBe(hash);
  const own = mediaHash(Uint8Array.of(1, 2, 3));
  expect([...((await device.drawer.findMedia(own)) ?? [])]).toEqual([1, 2, 3]);
  expect(servers.disk()).not.toContain('wordless');
  expect((await device.words()).join()).not.toContain('wordless');
  // Both write while they are apart: to one, at its end, and over each other.
  const there = await device.snippets();
  const [oak, elm] = ['oak', 'elm'].map((words) => there.find(({ facts }) => facts.preview === words));
  const river = { shape: 'run', inlines: [{ type: 'text', text: 'by the river' }] } as const;
  await device.drawer.append({ content: river, origin: {} }, { onto: oak?.id as string });
  await device.drawer.edit(elm?.id as string, { shape: 'run', inlines: [{ type: 'text', text: 'wych elm' }] });
  const shown = await page.evaluate(() => window.shared.snippets());
  const at = (id: string | undefined): number => (shown.findIndex((each) => each.id === id) + 0.5) / shown.length;
  await page.evaluate((place) => window.shared.act({ what: 'append', at: place, words: 'in the hills' }), at(oak?.id));
  await page.evaluate((place) => window.shared.act({ what: 'edit', at: place, words: 'field elm' }), at(elm?.id));
  // Somebody comes back another day: nothing but what syncing needs is loaded.
  await page.reload();
  await open(page, name);
  for (let round = 0; round < 2; round++) {
    expect(await device.sync.sync()).toMatchObject({ problems: [] });
    expect(await syncedIn(page)).toMatchObject({ problems: [] });
  }
  const words = await device.words();
  expect(words.find((each) => each.startsWith('oak'))).toMatch(
    /^oak\n\n(by the river\n\nin the hills|in the hills\n\nby the river)$/,
  );
  expect(words).toEqual(expect.arrayContaining(['wych elm', 'field elm']));
  const inPage = await page.evaluate(() => window.shared.snippets());
  expect(inPage.filter(({ secret }) => !secret)).toEqual(await device.snippets());
  // Marking it as secret in the page removes it from the other device, and from the history there.
  await page.evaluate(() => window.shared.hide('field elm'));
  await syncedIn(page);
  await device.sync.sync();
  expect(await device.words()).not.toContain('field elm');
  expect(JSON.stringify(await device.drawer.history())).not.toContain('field elm');
  await device.close();
});

it('keep in step while the page follows, also when the server was away', async () => {
  const name = newName();
  const page = await visit(name);
  const device = await new Device(servers.address(name)).open();
  await page.evaluate(() => window.shared.follow());
  const shows = async (words: string): Promise<void> => {
    for (let is = false; !is; )
      is = (await page.evaluate(() => window.shared.snippets())).some(({ facts }) => facts.preview === words);
  };
  await device.keep('oak');
  await device.sync.sync();
  await shows('oak');
  await servers.kill();
  await page.evaluate(() => window.shared.act({ what: 'edit', at: 0, words: 'holm oak' }));
  await page.waitForFunction(() => window.shared.problems > 0);
  await servers.restart();
  for (let words: readonly string[] = []; words.join() !== 'holm oak'; words = await device.words())
    await device.sync.sync().catch(unlessAway);
  await device.keep('elm');
  await device.sync.sync();
  await shows('elm');
  await device.close();
});

const unlessAway = (error: unknown): void => {
  if (!DrawerError.is(error) || error.reason !== 'sync-server-unreachable') throw error;
};

it('end alike whatever each does, from a program and from a page', async () => {
  const step = fc.record({
    inPage: fc.boolean(),
    what: fc.constantFrom(...acts, 'keep', 'sync', 'sync'),
    at: fc.double({ min: 0, max: 0.999, noNaN: true }),
  });
  let words = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 30, maxLength: 50, size: 'max' }), async (steps) => {
      const name = newName();
      const page = await visit(name);
      const device = await new Device(servers.address(name)).open();
      for (const { inPage, what, at } of steps)
        if (what === 'sync') await (inPage ? syncedIn(page) : device.sync.sync());
        else {
          const given = { what, at, words: `words ${++words}` };
          await (inPage ? page.evaluate((each) => window.shared.act(each), given) : act(device.drawer, given));
        }
      for (let round = 0; round < 3; round++) {
        expect(await device.sync.sync()).toMatchObject({ problems: [] });
        expect(await syncedIn(page)).toMatchObject({ problems: [] });
      }
      expect(await page.evaluate(() => window.shared.snippets())).toEqual(await snippetsOf(device.drawer));
      expect(await page.evaluate(() => window.shared.check())).toEqual([]);
      expect((await device.drawer.check()).faults).toEqual([]);
      await device.close();
      await page.close();
    }),
    { numRuns: Number(process.env.RUNS ?? 3), endOnFailure: true },
  );
}, 300_000);

it('keep another out, and say so', async () => {
  const name = newName();
  await visit(name);
  site.address = served.address;
  const other = await site.visit();
  await other.locator('html[data-ready]').waitFor();
  const refused = (address: string, words: string): Promise<string> =>
    other.evaluate(
      ([where, passphrase]) =>
        window.shared.open(where as string, passphrase as string, 'other').then(
          () => 'opened',
          (error: { reason?: string; message: string }) => error.reason ?? error.message,
        ),
      [address, words],
    );
  expect(await refused(servers.pageAddress(name), 'another passphrase')).toBe('passphrase-wrong');
  expect(await refused(servers.address(name), passphrase)).toBe('sync-address-invalid');
  expect(await refused('ws://127.0.0.1:9/ferry', passphrase)).toBe('sync-server-unreachable');
});
