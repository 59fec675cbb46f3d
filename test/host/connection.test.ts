import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createDrawer, type Drawer, type DrawerChangeEvent, DrawerError, run, type SnippetInput } from 'drawer';
import { type ConnectOptions, connectDrawer } from 'drawer/connect';
import { DrawerHost } from 'drawer/host';
import fc from 'fast-check';
import { WebSocket, WebSocketServer } from 'ws';
import { Channel } from '../../src/host/connect/channel.ts';
import { decodeMessage, encodeMessage } from '../../src/host/connect/codec.ts';
import { blocks as anyContent } from '../support/arbitrary.ts';
import { countingTools } from '../support/storages.ts';

const words = (text: string): SnippetInput => ({ content: run(text), origin: { file: 'log.md' } });

/** A drawer behind a socket of this machine. */
interface Served {
  readonly url: string;
  /** Breaks every connection, as a network does. */
  cut(): void;
  stop(): Promise<void>;
}

const stops: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const stop of stops.splice(0).reverse()) await stop();
});

async function serve(host: DrawerHost, port = 0): Promise<Served> {
  const server: Server = createServer();
  const sockets = new WebSocketServer({ server });
  sockets.on('connection', (socket, request) => host.accept(socket, request.url ?? ''));
  await new Promise<void>((listening) => server.listen(port, '127.0.0.1', listening));
  const stop = async (): Promise<void> => {
    for (const client of sockets.clients) client.terminate();
    await new Promise((closed) => server.close(closed));
  };
  stops.push(stop);
  return {
    url: `ws://127.0.0.1:${(server.address() as AddressInfo).port}/`,
    cut: () => {
      for (const client of sockets.clients) client.terminate();
    },
    stop,
  };
}

async function connected(url: string, options: ConnectOptions = {}): Promise<Drawer> {
  const drawer = await connectDrawer(url, { WebSocket, ...options });
  stops.push(() => drawer.close());
  return drawer;
}

it('hands each message on once and in order, however often the connection breaks', () => {
  const step = fc.oneof(
    { weight: 3, arbitrary: fc.record({ kind: fc.constant('send' as const), from: fc.nat(1) }) },
    { weight: 3, arbitrary: fc.record({ kind: fc.constant('arrive' as const), from: fc.nat(1) }) },
    fc.record({ kind: fc.constant('break' as const), from: fc.nat(1) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      const got: number[][] = [[], []];
      const ends = [0, 1].map((side) => new Channel((message) => got[side]?.push(message as number)));
      // What is on its way to each end, over the connection of now; a broken one loses what it carries.
      let ways: Uint8Array[][] = [[], []];
      const connect = (): void => {
        const now: Uint8Array[][] = [[], []];
        ways = now;
        for (const [side, end] of ends.entries()) end.connect({ send: (frame) => now[1 - side]?.push(frame) });
      };
      connect();
      const sent: number[][] = [[], []];
      let next = 0;
      for (const { kind, from } of steps) {
        if (kind === 'break') connect();
        else if (kind === 'send') {
          sent[from]?.push(++next);
          ends[from]?.send(next);
        } else {
          const frame = ways[from]?.shift();
          if (frame) ends[from]?.receive(frame);
        }
      }
      connect();
      while (ways.some((way) => way.length > 0))
        for (const [side, way] of ways.entries()) {
          const frame = way.shift();
          if (frame) ends[side]?.receive(frame);
        }
      expect(got).toEqual([sent[1], sent[0]]);
    }),
  );
});

it('carries content, bytes, maps, errors and what is not there as they are', () => {
  fc.assert(
    fc.property(anyContent, fc.uint8Array(), fc.double(), (content, bytes, number) => {
      const message = {
        content,
        media: new Map([['picture', bytes]]),
        number,
        none: undefined,
        list: [undefined, null],
      };
      const arrived = decodeMessage(encodeMessage(message));
      expect(arrived).toEqual(message);
      expect(JSON.stringify(arrived)).toBe(JSON.stringify(message)); // and in the same order
    }),
  );
  const error = new DrawerError('not-found/section-unknown', { name: 'Hull' }, { where: 'survey.docx' });
  expect(decodeMessage(encodeMessage({ error }))).toEqual({ error });
  expect(decodeMessage(encodeMessage(new TypeError('a fault of ours')))).toMatchObject({
    code: 'storage',
    reason: 'connection-failed',
  });
});

/** Calls that a person's actions make on a drawer. */
const deeds: readonly ((drawer: Drawer, text: string, number: number) => Promise<unknown>)[] = [
  (drawer, text) => drawer.keep([words(text)]),
  (drawer, text) => drawer.append([words(text)], { join: 'space' }),
  async (drawer, _, number) => drawer.move([await idAt(drawer, number)], 1),
  async (drawer, text, number) => drawer.mark([await idAt(drawer, number)], { label: text }),
  async (drawer, _, number) => drawer.remove([await idAt(drawer, number)]),
  async (drawer, text, number) => drawer.edit(await idAt(drawer, number), run(text)),
  async (drawer, text, number) => drawer.renew({ id: await idAt(drawer, number), content: run(text) }),
  (drawer) => drawer.undo(),
  (drawer) => drawer.redo(),
  (drawer, text) => drawer.find([text]),
  async (drawer, _, number) => drawer.get(await idAt(drawer, number)),
];
const idAt = async (drawer: Drawer, number: number): Promise<string> =>
  (await drawer.list(number))[0]?.summary.id ?? 'none';

const outcome = (deed: Promise<unknown>): Promise<unknown> =>
  deed.catch((error) => (DrawerError.is(error) ? { problem: error.problem, params: error.params } : { error }));

it('answers as a drawer here does, through random changes', async () => {
  const { url } = await serve(new DrawerHost({ open: async () => createDrawer(countingTools()) }));
  const there = await connected(url);
  const here = createDrawer(countingTools());
  const plan = fc.sample(fc.tuple(fc.nat(deeds.length - 1), fc.constantFrom('oak', 'larch', 'elm'), fc.nat(8)), {
    numRuns: 150,
    seed: 7,
  });
  for (const [deed, text, number] of plan) {
    const [one, other] = [deeds[deed]?.(there, text, number + 1), deeds[deed]?.(here, text, number + 1)];
    expect(await outcome(Promise.resolve(one))).toEqual(await outcome(Promise.resolve(other)));
  }
  expect(await there.list(1, 1_000)).toEqual(await here.list(1, 1_000));
  expect(await there.history()).toEqual(await here.history());
  const ids = (await here.list(1, 1_000)).map(({ summary }) => summary.id);
  expect(await there.getMany(ids)).toEqual(await here.getMany(ids));
  const met: string[] = [];
  for await (const { id } of there.entries()) met.push(id);
  expect(met).toEqual(ids);
  expect(await there.check({ onProgress: () => {} })).toEqual(await here.check());
  expect([await there.isLocked(), await outcome(there.lock('a long passphrase'))]).toEqual([
    false,
    await outcome(here.lock('a long passphrase')),
  ]);
});

it('tells its listeners what changed, and sends no call that was stopped before', async () => {
  const { url } = await serve(new DrawerHost({ open: async () => createDrawer(countingTools()) }));
  const [one, other] = [await connected(url), await connected(url)];
  const told = new Promise<DrawerChangeEvent>((hear) => one.addEventListener('change', hear, { once: true }));
  await one.count();
  await other.keep(words('oak'));
  expect(await told).toMatchObject({ isAll: true, change: { action: { name: { kind: 'kept' } }, added: ['id-1'] } });
  const signal = AbortSignal.abort(new Error('enough'));
  await expect(one.keep(words('ash'), { signal })).rejects.toThrow('enough');
  await expect(one.check({ signal })).rejects.toThrow('enough');
  expect(await other.count()).toBe(1);
});

it('does each call once while connections break, and tells of losses and returns', async () => {
  const { url, cut } = await serve(new DrawerHost({ open: async () => createDrawer(countingTools()) }));
  const told: boolean[] = [];
  const drawer = await connected(url, { onConnection: (isConnected) => told.push(isConnected) });
  let changes = 0;
  drawer.watch(() => {
    changes++;
  });
  const numbers = Array.from({ length: 60 }, (_, index) => String(index));
  const keeping = numbers.map(async (number, index) => {
    const results = await drawer.keep([words(number)]);
    if (index % 7 === 0) cut();
    return results;
  });
  cut();
  await Promise.all(keeping);
  const listed = await drawer.list(1, 1_000);
  expect(listed.map(({ summary }) => summary.facts.preview)).toEqual(numbers);
  expect(told.slice(0, 3)).toEqual([true, false, true]);
  const before = told.length;
  await drawer.close();
  expect(await outcome(drawer.count())).toMatchObject({ problem: 'storage/drawer-closed' });
  expect(told).toHaveLength(before);
  expect(changes).toBeGreaterThan(0);
}, 120_000);

it('says that an answer was lost when the host was started anew, and goes on with the new one', async () => {
  const kept = createDrawer(countingTools());
  const slow: Drawer = { ...drawerWith(kept), keep: () => new Promise(() => {}) };
  const first = await serve(new DrawerHost({ open: async () => slow }));
  const port = Number(new URL(first.url).port);
  const drawer = await connected(first.url);
  await drawer.count();
  const lost = outcome(drawer.keep([words('one')]));
  await first.stop();
  await serve(new DrawerHost({ open: async () => kept }), port);
  expect(await lost).toEqual({ problem: 'storage/connection-lost', params: {} });
  await drawer.keep([words('two')]);
  expect(await kept.count()).toBe(1);
}, 120_000);

/** The calls of a drawer as an object of its own. */
const drawerWith = (drawer: Drawer): Drawer =>
  Object.fromEntries(
    Object.getOwnPropertyNames(Object.getPrototypeOf(drawer)).map((name) => [
      name,
      (...values: never[]) => (drawer[name as keyof Drawer] as (...values: never[]) => unknown).apply(drawer, values),
    ]),
  ) as unknown as Drawer;

it('asks for the passphrase until it is right, and keeps it nowhere', async () => {
  const asked: string[] = [];
  const host = new DrawerHost({
    open: async (passphrase) => {
      if (passphrase === 'a long passphrase') return createDrawer();
      throw new DrawerError(passphrase === undefined ? 'locked/drawer-locked' : 'locked/passphrase-wrong');
    },
  });
  const { url } = await serve(host);
  expect(await outcome(connectDrawer(url, { WebSocket }))).toMatchObject({ problem: 'locked/drawer-locked' });
  const drawer = await connected(url, {
    passphraseFor: async ({ reason }) => {
      asked.push(reason);
      return asked.length === 1 ? 'something else' : 'a long passphrase';
    },
  });
  expect(asked).toEqual(['drawer-locked', 'passphrase-wrong']);
  expect(await drawer.count()).toBe(0);
});

it('refuses where nobody answers, what is no call, and files where there are none', async () => {
  const { url } = await serve(new DrawerHost({ open: async () => createDrawer() }));
  const drawer = await connected(url);
  expect(await outcome(drawer.writeFiles({ name: 'x', files: [] }))).toMatchObject({
    problem: 'unsupported/files-not-here',
  });
  expect(await outcome(connectDrawer('ws://127.0.0.1:1/', { WebSocket }))).toMatchObject({
    problem: 'storage/connection-refused',
  });
  // A client of another make: a call that is none, and then no message at all.
  const socket = new WebSocket(`${url}?session=other`);
  await new Promise((open) => socket.on('open', open));
  const answers: unknown[] = [];
  socket.on('message', (data) => answers.push(decodeMessage(new Uint8Array(data as Buffer))));
  const closed = new Promise((told) => socket.on('close', told));
  socket.send(encodeMessage([1, 0, { t: 'q', i: 'a', m: 'call', a: ['close', []] }]));
  while (!answers.some((answer) => (answer as unknown[])[0] === 1)) await new Promise((next) => setTimeout(next, 5));
  expect(answers).toContainEqual([1, 1, { t: 's', i: 'a', e: expect.objectContaining({ reason: 'call-unknown' }) }]);
  socket.send(new Uint8Array([0xff, 0xff]));
  expect(await closed).toBe(1007);
  expect(await drawer.count()).toBe(0);
});
