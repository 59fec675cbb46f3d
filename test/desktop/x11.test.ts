import { plainText } from 'drawer';
import fc from 'fast-check';
import { followCopies } from '../../src/desktop/index.ts';
import { Connection } from '../../src/desktop/x11/connection.ts';
import { X11Clipboard } from '../../src/desktop/x11/x11-clipboard.ts';
import { runCommand, workplace } from '../support/cli.ts';
import { bringToFront, startXServer, type XServer } from '../support/x-server.ts';

let server: XServer;
let one: X11Clipboard;
let other: X11Clipboard;
beforeAll(async () => {
  server = await startXServer();
  [one, other] = [await X11Clipboard.open(server.display), await X11Clipboard.open(server.display)];
});
afterAll(async () => {
  await one.close();
  await other.close();
  await server.stop();
});

const bytes = (words: string): Uint8Array => new TextEncoder().encode(words);

it('has nothing until something is copied, and then every form of it', async () => {
  expect(await one.copied()).toBeUndefined();
  const forms = new Map([
    ['text/plain;charset=utf-8', bytes('Alder Bank')],
    ['text/html', bytes('<b>Alder Bank</b>')],
    ['image/png', Uint8Array.from([137, 80, 78, 71])],
  ]);
  const offer = await other.offer({ forms });
  const copied = await one.copied();
  expect(copied?.forms).toEqual([...forms.keys()]);
  for (const [form, held] of forms) expect(new Uint8Array((await copied?.read(form)) ?? [])).toEqual(held);
  expect(await copied?.read('text/rtf')).toBeUndefined();
  // Whoever copies next ends it.
  await one.offer({ forms: new Map([['UTF8_STRING', bytes('Tern Quay')]]) });
  await offer.gone;
  expect((await other.copied())?.forms).toEqual(['UTF8_STRING']);
});

it('carries contents of any size, whole', async () => {
  const piece = 128 * 1024;
  const sizes = fc.oneof(
    fc.constantFrom(0, 1, piece - 1, piece, piece + 1, 2 * piece),
    fc.integer({ min: 0, max: 400_000 }),
  );
  await fc.assert(
    fc.asyncProperty(sizes, fc.nat(255), async (size, seed) => {
      const held = Uint8Array.from({ length: size }, (_, at) => (at * 31 + seed) & 255);
      await one.offer({ forms: new Map([['application/octet-stream', held]]) });
      const read = await (await other.copied())?.read('application/octet-stream');
      expect(Buffer.compare(read ?? Buffer.from('nothing'), held)).toBe(0);
    }),
    { numRuns: 12 },
  );
  const large = Buffer.alloc(20 * 2 ** 20, 'ferry ');
  await one.offer({ forms: new Map([['text/html', large]]) });
  const copied = await other.copied();
  // Several ask at the same time.
  const read = await Promise.all([copied?.read('text/html'), copied?.read('text/html')]);
  expect(read.map((each) => large.equals(each ?? Buffer.alloc(0)))).toEqual([true, true]);
  await one.offer({ forms: new Map([['text/html', Buffer.alloc(65 * 2 ** 20)]]) });
  await expect((await other.copied())?.read('text/html')).rejects.toMatchObject({ reason: 'clipboard-large' });
});

it('is told of each copy in order, and of none of its own', async () => {
  const told: number[] = [];
  const stop = await one.watch(() => told.push(told.length + 1));
  for (let copy = 0; copy < 10; copy++) await other.offer({ forms: new Map([['UTF8_STRING', bytes(`copy ${copy}`)]]) });
  await one.copied();
  expect(told).toHaveLength(10);
  await one.offer({ forms: new Map([['UTF8_STRING', bytes('our own')]]) });
  await other.copied();
  expect(told).toHaveLength(10);
  stop();
  await other.offer({ forms: new Map([['UTF8_STRING', bytes('unheard')]]) });
  await one.copied();
  expect(told).toHaveLength(10);
});

it('waits for no program that does not answer, and goes on with the next', async () => {
  const mute = await Connection.open(server.display);
  const window = mute.window();
  mute.own(window, await mute.atom('CLIPBOARD'), await mute.time(window));
  await mute.settle();
  await expect(one.copied()).rejects.toMatchObject({ code: 'storage', reason: 'clipboard-mute' });
  // It ends, and what it had with it.
  mute.close();
  await other.offer({ forms: new Map([['UTF8_STRING', bytes('after it')]]) });
  expect(String(await (await one.copied())?.read('UTF8_STRING'))).toBe('after it');
});

it('leaves what it offered to a keeper of clipboards', async () => {
  const keeper = await Connection.open(server.display);
  const window = keeper.window();
  const [manager, clipboard, saves, form, answer] = (await Promise.all(
    ['CLIPBOARD_MANAGER', 'CLIPBOARD', 'SAVE_TARGETS', 'UTF8_STRING', 'ANSWER'].map((name) => keeper.atom(name)),
  )) as [number, number, number, number, number];
  let kept = '';
  keeper.hear((event) => {
    if (event.name === 'SelectionRequest' && event.target === saves)
      void (async () => {
        keeper.convert(window, clipboard, form, answer, event.time);
        await new Promise<void>((done) => {
          const stop = keeper.hear((told) => {
            if (told.name !== 'SelectionNotify' || told.requestor !== window) return;
            stop();
            done();
          });
        });
        kept = String((await keeper.takeProperty(window, answer)).data);
        const { type: _, ...asked } = event;
        keeper.send(event.requestor, { ...asked, name: 'SelectionNotify', selection: manager });
      })();
  });
  keeper.own(window, manager, await keeper.time(window));
  await keeper.settle();
  const leaving = await X11Clipboard.open(server.display);
  await leaving.offer({ forms: new Map([['UTF8_STRING', bytes('left behind')]]) });
  await leaving.close();
  expect(kept).toBe('left behind');
  keeper.close();
});

it('says where no server is', async () => {
  await expect(X11Clipboard.open(':4711')).rejects.toMatchObject({ reason: 'clipboard-not-reached' });
});

it('loses none of ten copies in haste without a word, and mixes none with another', async () => {
  const kept: string[] = [];
  let overtaken = 0;
  let settle: () => void = () => {};
  const all = new Promise<void>((done) => {
    settle = () => kept.length + overtaken === 10 && done();
  });
  const followed = await followCopies(one, {
    keep: async ({ content }) => {
      kept.push(plainText(content));
      settle();
    },
    passedOver: ({ reason, params }) => {
      expect(reason).toBe('clipboard-overtaken');
      overtaken += Number(params.count);
      settle();
    },
  });
  for (let copy = 0; copy < 10; copy++) await other.offer({ forms: new Map([['UTF8_STRING', bytes(`copy ${copy}`)]]) });
  await all;
  await followed.stop();
  expect(kept).toEqual([...new Set(kept)].sort());
  expect(kept.at(-1)).toBe('copy 9');
});

describe('what is offered', () => {
  const calc = {
    forms: new Map([['text/html', bytes('page')]]),
    forSpreadsheets: new Map([['sheet', bytes('cells')]]),
  };
  let desktop: Connection;
  beforeAll(async () => {
    desktop = await Connection.open(server.display);
  });
  afterAll(() => desktop.close());

  const formsComeTo = async (wanted: readonly string[]): Promise<void> => {
    for (;;) {
      const forms = (await other.copied())?.forms ?? [];
      if (JSON.stringify(forms) === JSON.stringify(wanted)) return;
      await desktop.settle();
    }
  };

  it('comes in the forms that suit the program in front, until another program copies', async () => {
    const offer = await one.offer(calc);
    let isGone = false;
    void offer.gone.then(() => {
      isGone = true;
    });
    expect((await other.copied())?.forms).toEqual(['text/html']);
    await bringToFront(desktop, 'office-calc', 'costs.ods');
    await formsComeTo(['sheet']);
    await bringToFront(desktop, 'office-writer', 'report.odt');
    await formsComeTo(['text/html']);
    expect(isGone).toBe(false);
    await other.offer({ forms: new Map([['UTF8_STRING', bytes('newer')]]) });
    await offer.gone;
    await bringToFront(desktop, 'office-calc', 'costs.ods');
    expect((await one.copied())?.forms).toEqual(['UTF8_STRING']);
  });

  it('tells the program and window where something was copied', async () => {
    // This process owns the clipboard and the window in front.
    await bringToFront(desktop, 'office-writer', 'report.odt – Überfahrten');
    await other.offer({ forms: new Map([['UTF8_STRING', bytes('x')]]) });
    expect((await one.copied())?.program).toEqual({ name: 'office-writer', title: 'report.odt – Überfahrten' });
  });

  it('hears that it was pasted, once for all the forms that were read for it', async () => {
    let pastes = 0;
    let hear: () => void = () => {};
    const heard = new Promise<void>((told) => {
      hear = told;
    });
    const forms = new Map([
      ['text/html', bytes('<b>x</b>')],
      ['UTF8_STRING', Buffer.alloc(300_000, 'x')],
    ]);
    await one.offer({ forms }, () => {
      pastes++;
      hear();
    });
    const copied = await other.copied();
    expect(pastes).toBe(0);
    await copied?.read('text/html');
    await copied?.read('UTF8_STRING');
    await heard;
    expect(pastes).toBe(1);
  });

  it('is taken off by whoever put it there', async () => {
    const offer = await one.offer({ forms: new Map([['UTF8_STRING', bytes('x')]]) });
    offer.end();
    await offer.gone;
    expect(await one.copied()).toBeUndefined();
  });
});

it('knows one server from another', async () => {
  const second = await startXServer();
  const there = await X11Clipboard.open(second.display);
  const place = workplace();
  try {
    await there.offer({ forms: new Map([['UTF8_STRING', bytes('at the other server')]]) });
    // Another process has asked the other server only.
    const environment = { cwd: place.folder, DRAWER: place.drawer, DISPLAY: second.display };
    expect((await runCommand(['outline', 'clipboard:'], environment)).out).toMatch(/UTF8_STRING +19 bytes/);
  } finally {
    await there.close();
    await second.stop();
    place.remove();
  }
});
