import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { jest } from '@jest/globals';
import { doc, paragraph, plainText, run } from 'drawer';
import { mediaHash } from 'drawer/formats';
import { gatherersOf, openSyncing, type Syncing } from 'drawer/node';
import * as fc from 'fast-check';
import { SyncingDevice as Device, passphrase, reasons } from '../support/syncing-device.ts';

/** Drawers that meet in a folder, which programs carry from device to device in whatever way. */

const two = async (): Promise<[Device, Device]> => {
  const one = await new Device().open();
  return [one, await new Device(one.shared).open()];
};

it('brings what one has gathered to the other, with its pictures, and goes on from there', async () => {
  const [one, other] = await two();
  const bytes = new TextEncoder().encode('the bytes of a picture');
  const hash = await one.keepPicture(bytes);
  await one.keep('oak', 'elm');
  expect(await one.sync.sync()).toMatchObject({ sent: 3, added: 0, devices: 0, problems: [] });
  expect(await other.sync.sync()).toMatchObject({ sent: 0, added: 3, devices: 1, problems: [] });
  expect(await other.drawer.findMedia(hash)).toEqual(bytes);
  expect(await other.snippets()).toEqual(await one.snippets());
  await other.drawer.mark((await other.snippets())[1]?.id as string, { label: 'wood' });
  expect(await other.sync.sync()).toMatchObject({ sent: 1, added: 0 });
  expect(await one.sync.sync()).toMatchObject({ sent: 0, added: 0, changed: 1, removed: 0 });
  expect(await one.sync.sync()).toMatchObject({ sent: 0, changed: 0 });
  expect((await other.drawer.check()).faults).toEqual([]);
  for (const device of [one, other]) await device.close();
});

it('writes nothing that can be read, and nothing of a secret', async () => {
  const [one, other] = await two();
  const bytes = new TextEncoder().encode('a picture');
  const media = mediaHash(bytes);
  await one.keep('larch planks');
  const content = doc(paragraph('the pass word'), { type: 'picture', media, mediaType: 'image/png' });
  await one.drawer.keep({ content, origin: {}, media: new Map([[media, bytes]]) });
  const id = (await one.snippets())[1]?.id as string;
  await one.sync.sync();
  await other.sync.sync();
  await other.drawer.mark(id, { label: 'told by both' });
  await other.sync.sync();
  await one.sync.sync();
  await one.drawer.mark(id, { secret: true });
  const before = one.logs();
  await one.sync.sync();
  expect(await other.sync.sync()).toMatchObject({ removed: 1, problems: [] });
  await one.sync.sync();
  // Not even sealed: the logs that told of it are gone, and so is its picture.
  expect(one.logs().filter((name) => before.includes(name))).toEqual([]);
  expect(readdirSync(join(one.sealed, 'blobs'))).toEqual([]);
  expect(await other.words()).toEqual(['larch planks']);
  await other.keep('oak');
  await other.sync.sync();
  expect(await one.sync.sync()).toMatchObject({ added: 1, problems: [] });
  await one.close();
  await other.close();
  const files = readdirSync(one.shared, { recursive: true, encoding: 'utf8' }).filter((name) => /log|json/.test(name));
  expect(files.length).toBe(3);
  const all = files.map((name) => readFileSync(join(one.shared, name), 'latin1')).join();
  for (const words of ['larch', 'pass word', id]) expect(all).not.toContain(words);
  for (const name of readdirSync(other.root).filter((name) => name.startsWith('own')))
    expect(readFileSync(join(other.root, name), 'latin1')).not.toContain('pass word');
});

it('carries what is long apart from the log, once, and leaves none of it when it is a secret or long deleted', async () => {
  const [one, other] = await two();
  const long = 'A long sentence of the survey. '.repeat(10_000);
  await one.keep(long, 'oak', `${long} And another.`);
  await one.sync.sync();
  await other.sync.sync();
  expect(await other.snippets()).toEqual(await one.snippets());
  const blobs = join(one.sealed, 'blobs');
  const size = (): number => one.logs().reduce((sum, name) => sum + statSync(join(one.sealed, name)).size, 0);
  expect(readdirSync(blobs)).toHaveLength(2);
  const before = size();
  const [{ id = '' } = {}] = await other.snippets();
  await other.drawer.mark(id, { label: 'the survey' });
  await other.drawer.move(id, 3);
  await other.sync.sync();
  rmSync(blobs, { recursive: true });
  // Who has it already does not ask for it again.
  expect(await one.sync.sync()).toMatchObject({ changed: 1, problems: [] });
  expect(size() - before).toBeLessThan(5_000);
  expect(await one.snippets()).toEqual(await other.snippets());
  const late = await new Device(one.shared).open();
  expect(reasons(await late.sync.sync())).toEqual(['sync-blob-missing', 'sync-blob-missing']);
  await one.drawer.append({ content: run('more'), origin: {} }, { onto: id });
  await one.sync.sync();
  expect(readdirSync(blobs)).toHaveLength(1);
  await one.drawer.mark(id, { secret: true });
  for (const device of [one, other, one]) await device.sync.sync();
  expect(readdirSync(blobs)).toHaveLength(1);
  for (const device of [one, other, late]) await device.close();
});

it('takes a secret out of every folder it has told of it', async () => {
  const one = await new Device().open();
  const elsewhere = join(one.root, 'elsewhere');
  const second = await openSyncing(one.path, elsewhere, { passphrase, labelBeside: String });
  await one.keep('larch planks', 'the pass word');
  for (const sync of [one.sync, second]) expect(await sync.sync()).toMatchObject({ sent: 2 });
  await one.drawer.mark((await one.snippets())[1]?.id as string, { secret: true });
  const logsIn = (path: string): string[] => new Device(path).logs();
  const before = [one.shared, elsewhere].map(logsIn);
  for (const sync of [one.sync, second, one.sync]) await sync.sync();
  for (const [index, path] of [one.shared, elsewhere].entries()) {
    expect(logsIn(path)).toHaveLength(1);
    expect(logsIn(path)).not.toEqual(before[index]);
    const reader = await new Device(path).open();
    await reader.sync.sync();
    expect(await reader.words()).toEqual(['larch planks']);
    await reader.close();
  }
  const settled = [one.shared, elsewhere].map(logsIn);
  for (const sync of [one.sync, second]) expect(await sync.sync()).toMatchObject({ sent: 0 });
  expect([one.shared, elsewhere].map(logsIn)).toEqual(settled);
  await second.close();
  await one.close();
});

it('says what is wrong with a folder that cannot be used, and changes nothing', async () => {
  const one = await new Device().open();
  await one.close();
  const open = (shared: string): Promise<Syncing> => openSyncing(one.path, shared, { passphrase, labelBeside: String });
  await expect(open(one.path)).rejects.toMatchObject({ code: 'write-failed' });
  for (const text of ['', '{"format":1,"lo', '{"format":2,"lock":"{}"}', '{"format":1,"lock":"{}"}']) {
    writeFileSync(join(one.shared, 'drawer-sync.json'), text);
    await expect(open(one.shared)).rejects.toMatchObject({ reason: 'sync-lock-unreadable' });
  }
});

it('refuses a wrong passphrase, and one that is too short', async () => {
  const [one, other] = await two();
  await one.close();
  await other.close();
  const open = (shared: string, words: string): Promise<Syncing> =>
    openSyncing(one.path, shared, { passphrase: words, labelBeside: String });
  await expect(open(one.shared, 'steel river ferry')).rejects.toMatchObject({ reason: 'passphrase-wrong' });
  await expect(open(join(one.root, 'new'), 'short')).rejects.toMatchObject({ reason: 'passphrase-short' });
});

describe('a folder that is not as it should be', () => {
  let one: Device;
  let other: Device;
  let log: string;
  beforeEach(async () => {
    [one, other] = await two();
    await one.keep('oak');
    await one.sync.sync();
    log = join(one.sealed, one.logs()[0] as string);
  });
  afterEach(async () => {
    for (const device of [one, other]) await device.close();
  });

  it('half of a file, or room for it without bytes: reads what is there, and the rest once it has come', async () => {
    const before = readFileSync(log);
    await one.keep('elm');
    await one.sync.sync();
    const whole = readFileSync(log);
    for (const part of [whole.subarray(0, before.length + 3), whole.subarray(0, whole.length - 1)]) {
      writeFileSync(log, part);
      expect(reasons(await other.sync.sync())).toEqual([]);
      expect(await other.words()).toEqual(['oak']);
    }
    writeFileSync(log, Buffer.concat([before, Buffer.alloc(whole.length - before.length)]));
    expect(reasons(await other.sync.sync())).toEqual([]);
    writeFileSync(log, whole);
    await other.sync.sync();
    expect(await other.words()).toEqual(['oak', 'elm']);
  });

  it('frames swapped, changed, moved to another device, or taken back: none is read, and it is said', async () => {
    const lengths = [readFileSync(log).length];
    for (const words of ['elm', 'ash']) {
      await one.keep(words);
      await one.sync.sync();
      lengths.push(readFileSync(log).length);
    }
    const whole = readFileSync(log);
    const [first = 0, second = 0] = lengths;
    const swapped = Buffer.concat([whole.subarray(0, first), whole.subarray(second), whole.subarray(first, second)]);
    const changed = Buffer.from(whole);
    changed[first - 1] = (changed[first - 1] ?? 0) ^ 1;
    writeFileSync(log, swapped);
    expect(reasons(await other.sync.sync())).toEqual(['sync-log-unreadable']);
    expect(await other.words()).toEqual(['oak']);
    writeFileSync(log, whole);
    await other.sync.sync();
    expect(await other.words()).toEqual(['oak', 'elm', 'ash']);
    for (const bytes of [whole.subarray(0, second), changed.subarray(0, first)]) {
      writeFileSync(log, bytes);
      expect(reasons(await other.sync.sync())).toEqual(['sync-log-changed']);
    }
    const elsewhere = join(one.sealed, 'aaaaaaaaaaaa.log');
    writeFileSync(elsewhere, whole);
    writeFileSync(log, whole);
    expect(reasons(await other.sync.sync())).toEqual(['sync-log-unreadable']);
    rmSync(elsewhere);
    expect(await other.words()).toEqual(['oak', 'elm', 'ash']);
  });

  it('its own log taken back or gone: begins another, and nothing is lost or doubled', async () => {
    await other.sync.sync();
    const before = readFileSync(log);
    await one.keep('elm');
    await one.sync.sync();
    writeFileSync(log, before);
    await one.keep('ash');
    await one.sync.sync();
    await other.sync.sync();
    expect(await other.words()).toEqual(['oak', 'elm', 'ash']);
    for (const name of one.logs()) rmSync(join(one.sealed, name));
    await one.keep('yew');
    await one.sync.sync();
    await other.sync.sync();
    expect(await other.words()).toEqual(['oak', 'elm', 'ash', 'yew']);
    expect(await other.snippets()).toEqual(await one.snippets());
  });

  it('emptied while a device is at it: has it all again from those who sync', async () => {
    await one.keepPicture(new TextEncoder().encode('a picture'));
    await one.sync.sync();
    await other.sync.sync();
    const lock = readFileSync(join(one.shared, 'drawer-sync.json'));
    for (const name of readdirSync(one.shared)) rmSync(join(one.shared, name), { recursive: true });
    expect(await one.sync.sync()).toMatchObject({ sent: 2, problems: [] });
    writeFileSync(join(one.shared, 'drawer-sync.json'), lock);
    for (const device of [other, one, other]) expect(reasons(await device.sync.sync())).toEqual([]);
    const late = await new Device(one.shared).open();
    await late.sync.sync();
    for (const device of [other, late]) expect(await device.snippets()).toEqual(await one.snippets());
    await late.close();
  });

  it('files of others, copies with other names, and a frame that was not noted', async () => {
    for (const name of ['notes.txt', `${basename(log, '.log')} (1).log`, 'own.drawer', '.log'])
      copyFileSync(log, join(one.sealed, name));
    truncateSync(join(one.sealed, 'notes.txt'), 3);
    // As if the program had been killed between writing a frame and noting it.
    const half = readFileSync(log);
    await one.keep('elm');
    writeFileSync(log, Buffer.concat([half, Buffer.from([0, 0, 1, 0, 7, 7])]));
    await one.sync.sync();
    expect(await other.sync.sync()).toMatchObject({ added: 2, problems: [] });
  });

  it('a picture that has not come yet: waits for it', async () => {
    const bytes = new TextEncoder().encode('a picture');
    const hash = await one.keepPicture(bytes);
    await one.sync.sync();
    const [name = ''] = readdirSync(join(one.sealed, 'blobs'));
    const path = join(one.sealed, 'blobs', name);
    const sealed = readFileSync(path);
    rmSync(path);
    expect(reasons(await other.sync.sync())).toEqual(['sync-blob-missing']);
    expect(await other.words()).toEqual(['oak']);
    writeFileSync(path, sealed);
    expect(await other.sync.sync()).toMatchObject({ added: 1, problems: [] });
    expect(await other.drawer.findMedia(hash)).toEqual(bytes);
  });

  it('a copy of the drawer elsewhere: takes part under a name of its own', async () => {
    await one.drawer.close();
    await one.sync.close();
    const copy = new Device(one.shared);
    copyFileSync(one.path, copy.path);
    await copy.open();
    await one.open();
    for (const device of [copy, one]) {
      await device.keep(device === one ? 'elm' : 'ash');
      await device.sync.sync();
    }
    for (const device of [copy, one, other]) await device.sync.sync();
    expect((await other.words()).sort()).toEqual(['ash', 'elm', 'oak']);
    expect(await copy.snippets()).toEqual(await other.snippets());
    expect(one.logs().length).toBe(3);
    await copy.close();
  });
});

describe('another passphrase', () => {
  const next = 'steel river ferry';

  it('seals all that there is anew, and leaves nothing that the old one opens', async () => {
    const [one, other] = await two();
    const bytes = new TextEncoder().encode('a picture');
    const hash = await one.keepPicture(bytes);
    await one.keep('oak');
    await one.sync.sync();
    await other.keep('elm');
    await other.sync.sync();
    await other.keep('told of only afterwards');
    const before = readdirSync(one.sealed, { recursive: true, encoding: 'utf8' });
    expect(await one.sync.changePassphrase(next)).toMatchObject({ sent: 3, added: 1, devices: 1, problems: [] });
    expect(one.logs().filter((name) => before.includes(name))).toEqual([]);
    // Who had the old key is told, and writes nothing under it any more.
    await expect(other.sync.sync()).rejects.toMatchObject({ code: 'locked', reason: 'sync-passphrase-changed' });
    const late = await new Device(one.shared).open(next);
    expect(await late.sync.sync()).toMatchObject({ added: 3, problems: [] });
    expect(await late.drawer.findMedia(hash)).toEqual(bytes);
    await other.close();
    await expect(other.open()).rejects.toMatchObject({ reason: 'sync-passphrase-changed' });
    await other.open(next);
    expect(await other.sync.sync()).toMatchObject({ problems: [] });
    for (const device of [one, late, one]) expect(reasons(await device.sync.sync())).toEqual([]);
    expect((await one.words()).sort()).toEqual(['[picture]', 'elm', 'oak', 'told of only afterwards']);
    for (const device of [other, late]) expect(await device.snippets()).toEqual(await one.snippets());
    // Nothing is told over and over.
    for (const device of [one, other, late]) expect(await device.sync.sync()).toMatchObject({ sent: 0, changed: 0 });
    for (const device of [one, other, late]) await device.close();
  });

  it('ends in the same when the program is killed after the lock was changed, or two change it at once', async () => {
    const [one, other] = await two();
    await one.keep('oak');
    await one.sync.sync();
    await other.sync.sync();
    const old = one.sealed;
    // As if it had been killed before it could tell anything: the folder holds the new lock, and all under the old key.
    const kept = `${old}-kept`;
    cpSync(old, kept, { recursive: true });
    await one.close();
    const copy = readFileSync(one.path);
    await one.open();
    await one.sync.changePassphrase(next);
    await expect(other.sync.changePassphrase('iron river ferry')).rejects.toMatchObject({
      reason: 'sync-passphrase-changed',
    });
    for (const device of [one, other]) await device.close();
    writeFileSync(one.path, copy);
    rmSync(one.sealed, { recursive: true });
    renameSync(kept, old);
    await one.open(next);
    expect(await one.sync.sync()).toMatchObject({ sent: 1, problems: [] });
    expect(existsSync(old)).toBe(false);
    await other.open(next);
    await other.sync.sync();
    expect(await other.words()).toEqual(['oak']);
    for (const device of [one, other]) await device.close();
  });

  it('stays while something of another device cannot be read, or the new one is too short', async () => {
    const [one, other] = await two();
    await one.keep('oak');
    await one.sync.sync();
    const log = join(one.sealed, one.logs()[0] as string);
    const whole = readFileSync(log);
    await other.sync.sync();
    writeFileSync(log, whole.subarray(0, 40));
    await expect(other.sync.changePassphrase(next)).rejects.toMatchObject({ reason: 'sync-others-unread' });
    writeFileSync(log, whole);
    await expect(other.sync.changePassphrase('short')).rejects.toMatchObject({ reason: 'passphrase-short' });
    expect(await other.sync.sync()).toMatchObject({ sent: 0, problems: [] });
    expect(await one.sync.sync()).toMatchObject({ sent: 0, problems: [] });
    for (const device of [one, other]) await device.close();
  });
});

describe('an older copy of a drawer', () => {
  const put = (device: Device, bytes: Buffer): void => {
    for (const ending of ['-wal', '-shm']) rmSync(device.path + ending, { force: true });
    writeFileSync(device.path, bytes);
  };
  const copyOf = async (device: Device): Promise<Buffer> => {
    await device.close();
    const bytes = readFileSync(device.path);
    await device.open();
    return bytes;
  };
  let ahead = 0;
  const now = Date.now;
  beforeEach(() => {
    ahead = 0;
    jest.spyOn(Date, 'now').mockImplementation(() => now() + ahead);
  });
  afterEach(() => jest.restoreAllMocks());

  it('put back: gets all that it lacks, also what it had told itself', async () => {
    const [one, other] = await two();
    await one.keep('oak');
    await one.sync.sync();
    const old = await copyOf(one);
    await one.keep('elm');
    await one.sync.sync();
    await other.sync.sync();
    await one.close();
    put(one, old);
    await one.open();
    expect(await one.sync.sync()).toMatchObject({ added: 1, problems: [] });
    expect(await one.words()).toEqual(['oak', 'elm']);
    await one.keep('ash');
    await one.sync.sync();
    await other.sync.sync();
    expect(await other.snippets()).toEqual(await one.snippets());
    for (const device of [one, other]) await device.close();
  });

  it('does not wait for ever for a log that nobody can read: its device is away, and others replace it', async () => {
    const [one, other] = await two();
    await other.keep('elm');
    await other.sync.sync();
    await other.close();
    await one.keep('oak');
    await one.sync.sync();
    const third = await new Device(one.shared).open();
    for (const name of one.logs()) {
      const log = join(one.sealed, name);
      const whole = readFileSync(log);
      whole[whole.length - 5] = (whole.at(-5) ?? 0) ^ 1;
      writeFileSync(log, whole);
    }
    expect(reasons(await third.sync.sync()).length).toBe(2);
    ahead += 70 * 24 * 60 * 60_000;
    await third.keep('ash');
    await third.sync.sync();
    expect(reasons(await third.sync.sync())).toEqual([]);
    expect(third.logs()).toHaveLength(1);
    // Whose log it was tells all of it again.
    await other.open();
    for (const device of [one, other, one, third]) expect(reasons(await device.sync.sync())).toEqual([]);
    expect((await third.words()).sort()).toEqual(['ash', 'elm', 'oak']);
    for (const device of [one, other]) expect(await device.snippets()).toEqual(await third.snippets());
    for (const device of [one, other, third]) await device.close();
  });

  it('put back after months, or used elsewhere: does not bring back what was deleted long ago', async () => {
    const one = await new Device(undefined, 'One').open();
    const other = await new Device(one.shared, 'Other').open();
    await one.keep('oak', 'elm');
    const hash = await one.keepPicture(new TextEncoder().encode('a picture'));
    await one.sync.sync();
    await other.sync.sync();
    await other.keep('ash');
    await other.sync.sync();
    const old = await copyOf(other);
    await one.sync.sync();
    for (const { id, content } of await one.snippets())
      if (/elm|picture/.test(plainText(content))) await one.drawer.remove(id);
    const before = one.logs();
    for (let month = 0; month < 6; month++) {
      for (const device of [one, other, one]) expect(await device.sync.sync()).toMatchObject({ problems: [] });
      ahead += 31 * 24 * 60 * 60_000;
    }
    expect(one.logs().filter((name) => before.includes(name))).toEqual([]);
    expect(one.logs()).toHaveLength(2);
    expect(readdirSync(join(one.sealed, 'blobs'))).toEqual([]);
    expect(await one.drawer.findMedia(hash)).toBeDefined(); // undo may need it
    const elsewhere = new Device(one.shared, 'Other');
    put(elsewhere, old);
    await other.close();
    put(other, old);
    for (const device of [elsewhere, other]) {
      await device.open();
      await device.keep(`new ${device.path}`);
      expect(await device.sync.sync()).toMatchObject({ removed: 2, problems: [] });
    }
    for (const device of [one, other, elsewhere]) expect(await device.sync.sync()).toMatchObject({ problems: [] });
    expect((await one.words()).slice(0, 2)).toEqual(['oak', 'ash']);
    expect(await one.words()).toHaveLength(4);
    // Who has gathered what is still known, whatever the devices were called meanwhile.
    const ids = (await one.snippets()).map(({ id }) => id);
    const late = await new Device(one.shared).open();
    await late.sync.sync();
    expect([...(await gatherersOf(late.drawer, ids)).values()]).toEqual(['One', 'Other', 'Other', 'Other']);
    expect([...(await gatherersOf(one.drawer, ids)).values()]).toEqual(['Other', 'Other', 'Other']);
    await late.close();
    for (const device of [other, elsewhere]) {
      expect(await device.snippets()).toEqual(await one.snippets());
      expect((await device.drawer.check()).faults).toEqual([]);
    }
    for (const device of [one, other, elsewhere]) await device.close();
  });
});

it('ends alike on all devices, however late, doubled and cut off the files come', async () => {
  const step = fc.record({
    who: fc.nat(2),
    what: fc.constantFrom('keep', 'keep', 'edit', 'remove', 'move', 'undo', 'sync', 'sync', 'carry', 'carry', 'carry'),
    at: fc.double({ min: 0, max: 0.999, noNaN: true }),
  });
  /** Carries the files of one folder to another, as far as it gets. */
  const carry = (from: Device, to: Device, share: number): void => {
    const files = readdirSync(from.shared, { recursive: true, encoding: 'utf8' });
    for (const name of files.filter((each) => /\.(?:log|json)$/.test(each))) {
      const [source, target] = [join(from.shared, name), join(to.shared, name)];
      mkdirSync(dirname(target), { recursive: true });
      const bytes = readFileSync(source);
      // Programs that carry files do not put an older state over a newer one.
      if (existsSync(target) && readFileSync(target).length >= bytes.length) continue;
      writeFileSync(target, name.endsWith('.log') ? bytes.subarray(0, Math.ceil(bytes.length * share)) : bytes);
    }
  };
  let words = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 25, maxLength: 40, size: 'max' }), async (steps) => {
      const devices = [new Device(), new Device(), new Device()] as const;
      await devices[0].open();
      for (const device of devices.slice(1)) {
        carry(devices[0], device, 1);
        await device.open();
      }
      for (const { who, what, at } of steps) {
        const device = devices[who] as Device;
        const all = await device.snippets();
        const one = all[Math.floor(at * all.length)]?.id;
        if (what === 'keep') await device.keep(`words ${++words}`);
        else if (what === 'sync') await device.sync.sync();
        else if (what === 'carry')
          carry(device, devices[(who + 1 + Math.round(at)) % 3] as Device, at * 1.3 > 1 ? 1 : at);
        else if (what === 'undo') await device.drawer.undo().catch(() => undefined);
        else if (one === undefined) continue;
        else if (what === 'edit') await device.drawer.edit(one, run(`words ${++words}`));
        else if (what === 'remove') await device.drawer.remove(one);
        else await device.drawer.move(one, 1);
      }
      for (let round = 0; round < 3; round++) {
        for (const device of devices) await device.sync.sync();
        for (const from of devices) for (const to of devices) if (from !== to) carry(from, to, 1);
      }
      for (const device of devices) expect(reasons(await device.sync.sync())).toEqual([]);
      const [first, second, third] = await Promise.all(devices.map((device) => device.snippets()));
      expect(second).toEqual(first);
      expect(third).toEqual(first);
      for (const device of devices) await device.close();
    }),
    { numRuns: Number(process.env.RUNS ?? 3) },
  );
}, 300_000);
