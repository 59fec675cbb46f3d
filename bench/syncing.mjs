// Several devices: a drawer told to a folder or a NATS server, and read from it, beside the least that must be done for that.

import { spawn } from 'node:child_process';
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { closeSync, fsyncSync, mkdtempSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { jetstream, jetstreamManager } from '@nats-io/jetstream';
import { connect } from '@nats-io/transport-node';
import { gatherings } from './generate.mjs';

const node = () => import('../dist/node/index.js');
const options = { passphrase: 'a passphrase for figures', labelBeside: (preview) => preview };
const key = Buffer.alloc(32, 7);
const portion = 200;

/** A folder of its own that is gone when the program ends. */
function scratch() {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-bench-sync-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  return folder;
}

/** A NATS server of its own that ends with the program; gives where it answers. */
async function natsServer() {
  const probe = createServer().listen(0, '127.0.0.1');
  await new Promise((ready) => probe.once('listening', ready));
  const { port } = probe.address();
  await new Promise((closed) => probe.close(closed));
  const server = spawn('nats-server', ['-a', '127.0.0.1', '-p', String(port), '-js', '-sd', scratch()], {
    stdio: 'ignore',
  });
  process.once('exit', () => server.kill());
  server.unref();
  const servers = `127.0.0.1:${port}`;
  for (;;) {
    const connection = await connect({ servers }).catch(() => pause(50));
    if (connection) return connection.close().then(() => servers);
  }
}

/** Two devices that see one folder or server; the first has gathered. */
async function devices(count, isServed = false) {
  const { openDrawer, openSyncing } = await node();
  const folder = scratch();
  const paths = ['one', 'other'].map((name) => join(folder, `${name}.drawer`));
  const drawer = await openDrawer(paths[0]);
  await drawer.changeSettings({ capacity: 10 * count, size: 1e12 });
  await drawer.keep(gatherings(count));
  await drawer.close(); // with all its words in the index
  const address = isServed ? `nats://${await natsServer()}/bench` : join(folder, 'shared');
  const [one, other] = await Promise.all(paths.map((path) => openSyncing(path, address, options)));
  return { drawer: await openDrawer(paths[0]), one, other };
}

/** A log as plain statements write it: portions as JSON, deflated, sealed, each on disk before the next. */
function writeLog(path, all) {
  const file = openSync(path, 'w');
  for (let from = 0; from < all.length; from += portion) {
    const iv = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', key, iv);
    const bytes = cipher.update(deflateRawSync(JSON.stringify(all.slice(from, from + portion)), { level: 1 }));
    const sealed = Buffer.concat([iv, bytes, cipher.final(), cipher.getAuthTag()]);
    const length = Buffer.alloc(4);
    length.writeUInt32BE(sealed.length);
    writeSync(file, Buffer.concat([length, sealed]));
    fsyncSync(file);
  }
  closeSync(file);
}

function* readLog(path) {
  const bytes = readFileSync(path);
  for (let at = 0; at < bytes.length; ) {
    const sealed = bytes.subarray(at + 4, at + 4 + bytes.readUInt32BE(at));
    at += 4 + sealed.length;
    const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, 12)).setAuthTag(sealed.subarray(-16));
    const open = Buffer.concat([decipher.update(sealed.subarray(12, -16)), decipher.final()]);
    yield JSON.parse(inflateRawSync(open).toString());
  }
}

const telling = (count, isServed) => ({
  prepare: async () => {
    const { one } = await devices(count, isServed);
    return async () => (await one.sync()).sent;
  },
  expected: count,
});

const getting = (count, isServed) => ({
  prepare: async () => {
    const { one, other } = await devices(count, isServed);
    await one.sync();
    return async () => (await other.sync()).added;
  },
  expected: count,
});

/** A stream with each snippet as a message, as plain calls put them there: so many wait for their answers. */
async function publishAll(count) {
  const connection = await connect({ servers: await natsServer() });
  const manager = await jetstreamManager(connection);
  await manager.streams.add({ name: 'bare', subjects: ['bare.>'] });
  const client = jetstream(connection);
  const messages = gatherings(count).map((each) => Buffer.from(JSON.stringify(each)));
  const publish = async () => {
    for (let from = 0; from < messages.length; from += portion)
      await Promise.all(
        messages.slice(from, from + portion).map((data, index) => client.publish(`bare.${from + index}`, data)),
      );
  };
  return { connection, client, publish };
}

const bareServer = (count) => ({
  prepare: async () => {
    const { connection, publish } = await publishAll(count);
    return async () => {
      await publish();
      await connection.close();
      return count;
    };
  },
  expected: count,
});

const bareServerKept = (count) => ({
  prepare: async () => {
    const { connection, client, publish } = await publishAll(count);
    await publish();
    const drawer = await (await node()).openDrawer(join(scratch(), 'one.drawer'));
    await drawer.changeSettings({ capacity: 10 * count, size: 1e12 });
    return async () => {
      const consumer = await client.consumers.get('bare');
      let records = [];
      let kept = 0;
      for await (const message of await consumer.consume()) {
        records.push(message.json());
        const isLast = message.info.pending === 0;
        if (records.length < portion && !isLast) continue;
        kept += (await drawer.keep(records)).length;
        records = [];
        if (isLast) break;
      }
      await connection.close();
      return kept;
    };
  },
  expected: count,
});

const bareLog = (count) => ({
  prepare: async () => {
    const all = gatherings(count);
    const path = join(scratch(), 'log');
    return () => {
      writeLog(path, all);
      return all.length;
    };
  },
  expected: count,
});

const bareKeep = (count) => ({
  prepare: async () => {
    const folder = scratch();
    const path = join(folder, 'log');
    writeLog(path, gatherings(count));
    const drawer = await (await node()).openDrawer(join(folder, 'one.drawer'));
    await drawer.changeSettings({ capacity: 10 * count, size: 1e12 });
    return async () => {
      let kept = 0;
      for (const records of readLog(path)) kept += (await drawer.keep(records)).length;
      return kept;
    };
  },
  expected: count,
});

/** The median time of many changes. */
const changes = (work, isServed) => ({
  prepare: async () => {
    const { drawer, one, other } = await devices(10_000, isServed);
    await one.sync();
    await other.sync();
    return async () => {
      const times = [];
      for (const gathered of gatherings(60)) {
        const start = performance.now();
        await work({ drawer, one, other, gathered });
        times.push(performance.now() - start);
      }
      return { result: 1, milliseconds: times.sort((a, b) => a - b)[30] };
    };
  },
  expected: 1,
});

async function toElsewhere({ drawer, one, other, gathered }) {
  await drawer.keep([gathered]);
  await one.sync();
  await other.sync();
}

export const syncingTasks = {
  'tell 10,000': telling(10_000),
  'tell 100,000': telling(100_000),
  'bare log of 10,000': bareLog(10_000),
  'bare log of 100,000': bareLog(100_000),
  'get 10,000': getting(10_000),
  'get 100,000': getting(100_000),
  'bare log kept, 10,000': bareKeep(10_000),
  'bare log kept, 100,000': bareKeep(100_000),
  'a change elsewhere': changes(toElsewhere),
  'a change elsewhere, over a server': changes(toElsewhere, true),
  'tell a server 10,000': telling(10_000, true),
  'tell a server 100,000': telling(100_000, true),
  'bare server of 10,000': bareServer(10_000),
  'bare server of 100,000': bareServer(100_000),
  'get 10,000 from a server': getting(10_000, true),
  'get 100,000 from a server': getting(100_000, true),
  'bare server kept, 10,000': bareServerKept(10_000),
  'bare server kept, 100,000': bareServerKept(100_000),
  'a change here': changes(({ drawer, gathered }) => drawer.keep([gathered])),
};

export const syncingRows = [
  {
    what: 'sync: tell a folder of 10,000 snippets',
    task: 'tell 10,000',
    floor: 'bare log of 10,000',
    floorSays: 'the same as JSON, deflated, sealed and on disk, 200 at a time',
  },
  {
    what: 'sync: 100,000',
    task: 'tell 100,000',
    floor: 'bare log of 100,000',
    floorSays: 'the same',
    mostRounds: 1,
  },
  {
    what: 'sync: get 10,000 snippets from a folder into an empty drawer',
    task: 'get 10,000',
    floor: 'bare log kept, 10,000',
    floorSays: 'the same opened, inflated, parsed and kept, 200 at a time',
    goal: 2,
  },
  {
    what: 'sync: 100,000',
    task: 'get 100,000',
    floor: 'bare log kept, 100,000',
    floorSays: 'the same',
    goal: 2,
    mostRounds: 1,
  },
  {
    what: 'sync: one more of 10,000, until it can be read elsewhere; median',
    task: 'a change elsewhere',
    floor: 'a change here',
    floorSays: 'it is kept on the first device',
    mostMilliseconds: 50,
  },
  {
    what: 'sync: tell a NATS server of 10,000 snippets',
    task: 'tell a server 10,000',
    floor: 'bare server of 10,000',
    floorSays: 'the same in the clear, a message each, 200 at a time',
    goal: 2,
  },
  {
    what: 'sync: 100,000',
    task: 'tell a server 100,000',
    floor: 'bare server of 100,000',
    floorSays: 'the same',
    goal: 2,
    mostRounds: 1,
  },
  {
    what: 'sync: get 10,000 snippets from a NATS server into an empty drawer',
    task: 'get 10,000 from a server',
    floor: 'bare server kept, 10,000',
    floorSays: 'the same read, parsed and kept, 200 at a time',
    goal: 2,
  },
  {
    what: 'sync: 100,000',
    task: 'get 100,000 from a server',
    floor: 'bare server kept, 100,000',
    floorSays: 'the same',
    goal: 2,
    mostRounds: 1,
  },
  {
    what: 'sync: one more of 10,000 over a NATS server, until it can be read elsewhere; median',
    task: 'a change elsewhere, over a server',
    floor: 'a change here',
    floorSays: 'it is kept on the first device',
    mostMilliseconds: 50,
  },
];
