import { jetstream, jetstreamManager } from '@nats-io/jetstream';
import { connect, type NatsConnection } from '@nats-io/transport-node';
import { DrawerError, doc, paragraph, run } from 'drawer';
import { mediaHash } from 'drawer/formats';
import { openSyncing, type Syncing, type SyncResult } from 'drawer/node';
import * as fc from 'fast-check';
import { NatsServers } from '../support/nats-server.ts';
import { SyncingDevice as Device, passphrase, reasons } from '../support/syncing-device.ts';

/** Drawers that meet on a NATS server. */

let servers: NatsServers;
beforeAll(async () => {
  servers = await NatsServers.start();
});
afterAll(() => servers.stop());

let named = 0;
const two = async (): Promise<[Device, Device, string]> => {
  const name = `drawer-${++named}`;
  const [one, other] = [new Device(servers.address(name)), new Device(servers.address(name))];
  return [await one.open(), await other.open(), name];
};
const close = async (...devices: Device[]): Promise<void> => {
  for (const device of devices) await device.close();
};

/** Bytes that do not get smaller, more than a message of the server may hold. */
const large = (seed: number): Uint8Array => {
  let state = seed;
  return Uint8Array.from({ length: 2_500_000 }, () => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    return state >>> 24;
  });
};

/** Looks at what the server has, without a drawer. */
async function looking<T>(work: (connection: NatsConnection) => Promise<T>): Promise<T> {
  const connection = await connect({ servers: `127.0.0.1:${servers.ports[0]}` });
  try {
    return await work(connection);
  } finally {
    await connection.close();
  }
}

/** The messages of a drawer, each by its subject. */
const messages = (name: string): Promise<{ subject: string; data: Uint8Array }[]> =>
  looking(async (connection) => {
    const manager = await jetstreamManager(connection);
    const { state } = await manager.streams.info(`drawer-${name}`, { subjects_filter: '>', deleted_details: true });
    const gone = new Set(state.deleted);
    const all: { subject: string; data: Uint8Array }[] = [];
    for (let seq = state.first_seq; seq <= state.last_seq; seq++) {
      const message = gone.has(seq) ? null : await manager.streams.getMessage(`drawer-${name}`, { seq });
      if (message) all.push({ subject: message.subject, data: message.data });
    }
    return all;
  });

it('brings what one has gathered to the other, with pictures and words larger than a message may be', async () => {
  const [one, other, name] = await two();
  const bytes = large(7);
  const hash = await one.keepPicture(bytes);
  await one.keep('oak', Buffer.from(large(8)).toString('base64'));
  expect(await one.sync.sync()).toMatchObject({ sent: 3, added: 0, devices: 0, problems: [] });
  expect((await messages(name)).length).toBeGreaterThan(6);
  expect(await other.sync.sync()).toMatchObject({ sent: 0, added: 3, devices: 1, problems: [] });
  expect(Buffer.compare((await other.drawer.findMedia(hash)) as Uint8Array, bytes)).toBe(0);
  expect(await other.snippets()).toEqual(await one.snippets());
  await other.drawer.mark((await other.snippets())[1]?.id as string, { label: 'wood' });
  expect(await other.sync.sync()).toMatchObject({ sent: 1, added: 0 });
  expect(await one.sync.sync()).toMatchObject({ sent: 0, added: 0, changed: 1, removed: 0 });
  expect(await one.sync.sync()).toMatchObject({ sent: 0, changed: 0 });
  await close(one, other);
});

it('shows the server no words, and leaves it nothing of a secret, not even sealed', async () => {
  const [one, other, name] = await two();
  const bytes = new TextEncoder().encode('the bytes of a picture');
  const media = mediaHash(bytes);
  await one.keep('larch planks');
  const content = doc(paragraph('the pass word'), { type: 'picture', media, mediaType: 'image/png' });
  await one.drawer.keep({ content, origin: {}, media: new Map([[media, bytes]]) });
  const id = (await one.snippets())[1]?.id as string;
  await one.sync.sync();
  const before = (await messages(name)).filter(({ subject }) => /log|blob/.test(subject));
  expect(before.length).toBe(3);
  await other.sync.sync();
  for (const { data } of before) expect(servers.disk()).toContain(Buffer.from(data).toString('latin1'));
  await one.drawer.mark(id, { secret: true });
  await one.sync.sync();
  expect(await other.sync.sync()).toMatchObject({ removed: 1, problems: [] });
  await one.sync.sync();
  expect(await other.words()).toEqual(['larch planks']);
  await close(one, other);
  const disk = servers.disk();
  for (const { data } of before) expect(disk).not.toContain(Buffer.from(data).toString('latin1'));
  for (const words of ['larch', 'pass word', id, media]) expect(disk).not.toContain(words);
});

it('leaves the server nothing under the old passphrase once somebody has chosen another, and tells who follows', async () => {
  const [one, other, name] = await two();
  await one.keepPicture(large(9));
  await one.keep('oak');
  await one.sync.sync();
  const before = await messages(name);
  const told = expect(other.sync.follow({ signal: new AbortController().signal })).rejects.toMatchObject({
    reason: 'sync-passphrase-changed',
  });
  while ((await other.words()).length < 2) await new Promise((done) => setTimeout(done, 20));
  expect(await one.sync.changePassphrase('steel river ferry')).toMatchObject({ sent: 2, problems: [] });
  await told;
  await one.keep('elm');
  await one.sync.sync();
  await other.close();
  await other.open('steel river ferry');
  expect(await other.sync.sync()).toMatchObject({ added: 1, problems: [] });
  expect(await other.snippets()).toEqual(await one.snippets());
  await close(one, other);
  const disk = servers.disk();
  for (const { data } of before) expect(disk).not.toContain(Buffer.from(data).toString('latin1'));
});

it('reads what is whole, whatever else is written between', async () => {
  const [one, other, name] = await two();
  await one.keep('oak');
  await one.sync.sync();
  await other.sync.sync();
  await looking(async (connection) => {
    const own = (await messages(name)).find(({ subject }) => subject.includes('.log.'));
    const stream = jetstream(connection);
    // As if the program had been killed between two pieces of a frame; and what is no frame at all.
    const { headers } = await import('@nats-io/transport-node');
    const half = headers();
    for (const [key, value] of [
      ['Drawer-Frame', 'x'],
      ['Drawer-Piece', '1'],
      ['Drawer-Pieces', '2'],
    ] as const)
      half.set(key, value);
    await stream.publish(own?.subject as string, Buffer.from('half'), { headers: half });
    await stream.publish(own?.subject as string, Buffer.from('nothing of ours'));
  });
  await one.keep('elm');
  expect(await one.sync.sync()).toMatchObject({ sent: 1, problems: [] });
  expect(await other.sync.sync()).toMatchObject({ added: 1, problems: [] });
  expect(await other.words()).toEqual(['oak', 'elm']);
  await close(one, other);
});

it('begins another log where its own was taken away, and says where another’s was put back', async () => {
  const [one, other, name] = await two();
  await one.keep('oak');
  await one.sync.sync();
  await other.sync.sync();
  await looking(async (connection) => (await jetstreamManager(connection)).streams.delete(`drawer-${name}`));
  await one.close();
  await other.close();
  // A server without the drawer begins it anew: all devices tell it everything.
  await one.open();
  await one.keep('elm');
  await one.sync.sync();
  await other.open();
  expect(await other.sync.sync()).toMatchObject({ added: 1, problems: [] });
  expect(await other.words()).toEqual(['oak', 'elm']);
  const subject = (await messages(name)).find(({ subject: each }) => each.includes('.log.'))?.subject as string;
  await looking(async (connection) =>
    (await jetstreamManager(connection)).streams.purge(`drawer-${name}`, { filter: subject }),
  );
  await looking((connection) => jetstream(connection).publish(subject, Buffer.from('older')));
  expect(reasons(await other.sync.sync())).toEqual(['sync-log-changed']);
  await one.keep('ash');
  await one.sync.sync();
  await other.sync.sync();
  expect(await other.words()).toEqual(['oak', 'elm', 'ash']);
  expect(await other.snippets()).toEqual(await one.snippets());
  await close(one, other);
});

it('says why a server cannot be used, and changes nothing', async () => {
  const one = await new Device(servers.address('said')).open();
  await one.close();
  const open = (address: string, words = passphrase): Promise<Syncing> =>
    openSyncing(one.path, address, { passphrase: words, labelBeside: String });
  for (const address of ['nats://localhost', 'nats://localhost/a b', 'nats:///drawer', 'https://localhost/drawer'])
    await expect(open(address)).rejects.toMatchObject({ reason: 'sync-address-invalid' });
  await expect(open('nats://token@localhost/')).rejects.toMatchObject({ where: 'nats://localhost/' });
  await expect(open(servers.address('said'), 'steel river ferry')).rejects.toMatchObject({
    reason: 'passphrase-wrong',
  });
  await expect(open(servers.address('new'), 'short')).rejects.toMatchObject({ reason: 'passphrase-short' });
  await expect(open('nats://no-such-host.invalid/ferry')).rejects.toMatchObject({ reason: 'sync-server-unreachable' });
  await expect(open(servers.address('said').replace('nats:', 'tls:'))).rejects.toMatchObject({ code: 'storage' });
  await servers.kill();
  await expect(open(servers.address('said'))).rejects.toMatchObject({ reason: 'sync-server-unreachable' });
  await servers.restart();
});

it('lets in who has the token, and that one to this drawer alone', async () => {
  const may = (name: string): string => {
    const calls = ['STREAM.INFO', 'STREAM.CREATE', 'STREAM.MSG.GET', 'STREAM.MSG.DELETE'];
    const own = calls.map((call) => `"$JS.API.${call}.drawer-${name}"`);
    const publish = [`"drawer.${name}.>"`, ...own];
    return `{ publish: [${publish}], subscribe: ["drawer.${name}.>", "_INBOX.${name}.>"] }`;
  };
  const user = (name: string): string => `{ user: ${name}, password: "${name}-words", permissions: ${may(name)} }`;
  const closed = await NatsServers.start(1, `authorization { users: [${user('ferry')}, ${user('pier')}] }`);
  const device = new Device(closed.address('ferry', 0, 'ferry:ferry-words@'));
  await device.open();
  await device.keep('oak');
  expect(await device.sync.sync()).toMatchObject({ sent: 1, problems: [] });
  const second = await new Device(device.shared).open();
  expect(await second.sync.sync()).toMatchObject({ added: 1, problems: [] });
  for (const access of ['', 'ferry:wrong@', 'token@', 'pier:pier-words@'])
    await expect(
      openSyncing(device.path, closed.address('ferry', 0, access), { passphrase, labelBeside: String }),
    ).rejects.toMatchObject({ reason: 'sync-server-refused' });
  const third = await openSyncing(device.path, closed.address('ferry', 0, 'ferry@'), {
    passphrase,
    token: 'ferry-words',
    labelBeside: String,
  });
  expect(await third.sync()).toMatchObject({ sent: 0, problems: [] });
  await third.close();
  await close(device, second);
  await closed.stop();
});

/** What a sync has done; `undefined` if the server was away. */
const synced = (device: Device): Promise<SyncResult | undefined> =>
  device.sync.sync().catch((error: unknown) => {
    if (DrawerError.is(error) && error.reason === 'sync-server-unreachable') return undefined;
    throw error;
  });

it('ends alike on all devices, whenever the server is killed', async () => {
  const step = fc.record({
    who: fc.nat(2),
    what: fc.constantFrom('keep', 'keep', 'edit', 'remove', 'move', 'undo', 'sync', 'sync', 'sync', 'fail'),
    at: fc.double({ min: 0, max: 0.999, noNaN: true }),
  });
  let words = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 25, maxLength: 40, size: 'max' }), async (steps) => {
      const address = servers.address(`walk-${++named}`);
      const devices = await Promise.all([1, 2, 3].map(() => new Device(address).open()));
      for (const { who, what, at } of steps) {
        const device = devices[who] as Device;
        const all = await device.snippets();
        const one = all[Math.floor(at * all.length)]?.id;
        if (what === 'keep') await device.keep(`words ${++words}`);
        else if (what === 'sync') await synced(device);
        else if (what === 'fail') {
          // Killed in the midst of a sync, which goes on when it is back, or says so.
          const syncing = synced(device);
          await servers.kill();
          await servers.restart();
          await syncing;
        } else if (what === 'undo') await device.drawer.undo().catch(() => undefined);
        else if (one === undefined) continue;
        else if (what === 'edit') await device.drawer.edit(one, run(`words ${++words}`));
        else if (what === 'remove') await device.drawer.remove(one);
        else await device.drawer.move(one, 1);
      }
      for (let round = 0; round < 4; round++)
        for (const device of devices) {
          let result: SyncResult | undefined;
          while (!result) result = await synced(device);
          if (round === 3) expect(reasons(result)).toEqual([]);
        }
      const [first, second, third] = await Promise.all(devices.map((device) => device.snippets()));
      expect(second).toEqual(first);
      expect(third).toEqual(first);
      await close(...devices);
    }),
    // What has failed once is not looked into by more runs, which take long.
    { numRuns: Number(process.env.RUNS ?? 3), endOnFailure: true },
  );
}, 300_000);

it('loses nothing when the leader of three servers is killed while it sends', async () => {
  const cluster = await NatsServers.start(3);
  const sender = await new Device(cluster.address('ferry', 0)).open();
  for (let portion = 0; portion < 4; portion++)
    await sender.keep(...Array.from({ length: 200 }, (_, index) => `words ${portion} ${index}`));
  const connection = await connect({ servers: cluster.ports.map((port) => `127.0.0.1:${port}`) });
  const { cluster: places } = await (await jetstreamManager(connection)).streams.info('drawer-ferry');
  await connection.close();
  const leader = Number(places?.leader?.slice(1));
  const sending = sender.sync.sync().catch((error: { reason: string }) => error.reason);
  await cluster.kill(leader);
  await sending;
  // It goes on with the two that are left, and with all three afterwards.
  await cluster.restart(leader);
  await sender.sync.sync();
  const reader = await new Device(cluster.address('ferry', (leader + 1) % 3)).open();
  // A server that leads from now on may not know at once all that the others have.
  for (let added = 0; added < 800; ) {
    const result = await reader.sync.sync();
    expect(reasons(result)).toEqual([]);
    added += result.added;
  }
  expect(await reader.snippets()).toEqual(await sender.snippets());
  await close(sender, reader);
  await cluster.stop();
}, 300_000);
