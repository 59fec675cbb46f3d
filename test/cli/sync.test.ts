import { spawn } from 'node:child_process';
import { EventEmitter, once } from 'node:events';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { command, type Workplace, workplace } from '../support/cli.ts';
import { NatsServers } from '../support/nats-server.ts';

/** Two people at two computers, and a folder between them. */

let one: Workplace;
let other: Workplace;
let shared: string;
beforeEach(() => {
  [one, other] = [workplace(), workplace()];
  shared = one.path('shared');
  process.env.DRAWER_SYNC_PASSPHRASE = 'wooden river ferry';
});
afterEach(() => {
  delete process.env.DRAWER_SYNC_PASSPHRASE;
  for (const place of [one, other]) place.remove();
});

const list = async (place: Workplace): Promise<string[]> =>
  JSON.parse((await place.run('list', '--json')).out).snippets.map(
    ({ facts }: { facts: { preview: string } }) => facts.preview,
  );

it('brings together what each has gathered, and says what came', async () => {
  await one.run('copy', one.demo('survey.docx'), '--text', 'oak');
  expect((await one.run('sync', shared, '--name', 'Office')).out).toBe(
    'Sent 2. No other device is there yet. Nothing new was there.\n',
  );
  await other.run('copy', '--text', 'elm');
  const { out, err, code } = await other.run('sync', shared);
  expect([out, err, code]).toEqual(['Sent 1 to 1 other device. Received 2 new, 0 changed and 0 deleted.\n', '', 0]);
  await one.run('sync', shared);
  expect(await list(one)).toEqual(await list(other));
  expect((await list(one)).length).toBe(3);
  const { snippets } = JSON.parse((await other.run('list', '--json')).out);
  expect(snippets.map(({ gatheredBy }: { gatheredBy?: string }) => gatheredBy)).toEqual(
    snippets.map(({ facts }: { facts: { preview: string } }) => (facts.preview === 'elm' ? undefined : 'Office')),
  );
  expect((await other.run('list')).out.match(/by Office/g)).toHaveLength(2);
});

it('keeps what two have appended to one snippet in it, and both words where they have edited it', async () => {
  await one.run('copy', '--text', 'oak');
  await one.run('sync', shared);
  await other.run('sync', shared);
  await one.run('append', '--text', 'of the hull');
  await other.run('append', '--text', 'of the deck');
  await one.run('sync', shared);
  expect((await other.run('sync', shared)).out).toBe(
    'Sent 1 to 1 other device. Received 0 new, 1 changed and 0 deleted.\n',
  );
  await one.run('sync', shared);
  for (const place of [one, other]) {
    const { out } = await place.run('show', '1');
    expect(out).toMatch(/oak\s+of the hull\s+of the deck/);
  }
  // Undo does not take away what the other has appended.
  const refused = await one.run('undo');
  expect(refused.err).toContain('“Appended to 1 snippet” cannot be undone');
  expect((await one.run('show', '1')).out).toContain('of the deck');
  for (const [place, words] of [
    [one, 'larch'],
    [other, 'elm'],
  ] as const) {
    const editor = place.path('editor');
    writeFileSync(editor, `#!/bin/sh\necho ${words} > "$1"\n`, { mode: 0o755 });
    process.env.EDITOR = editor;
    await place.run('edit', '1');
    delete process.env.EDITOR;
  }
  await one.run('sync', shared);
  expect((await other.run('sync', shared)).out).toContain('1 snippet was edited in two places at once');
  await one.run('sync', shared);
  expect(await list(one)).toEqual(['elm', 'larch']);
  expect(await list(other)).toEqual(['elm', 'larch']);
  await other.run('delete', 'all', '--yes');
  await other.run('sync', shared);
  await one.run('sync', shared);
  expect(await list(one)).toEqual([]);
  const { out, err } = await one.run('undo');
  expect(out + err).toContain('changed, deleted or put back elsewhere');
});

it('says with whom it is shared, and what waits to be sent', async () => {
  expect((await one.run('sync')).out).toContain('shared with no other device');
  await one.run('copy', '--text', 'oak');
  await one.run('sync', shared, '--name', 'Office');
  expect((await one.run('sync')).out).toBe('No other device has told of anything yet. Nothing waits to be sent.\n');
  await other.run('copy', '--text', 'elm');
  await other.run('sync', shared, '--name', 'Pier');
  await other.run('copy', '--text', 'ash', '--text', 'yew');
  expect((await other.run('sync')).out).toBe('Shared with Office. 2 snippets wait to be sent.\n');
  expect(JSON.parse((await other.run('sync', '--json')).out)).toEqual({ devices: ['Office'], waiting: 2 });
  expect(await other.run('sync', '--follow')).toMatchObject({ code: 2, err: expect.stringContaining('An address is') });
});

it('refuses a wrong passphrase, and says how to give one where nobody can be asked', async () => {
  await one.run('sync', shared);
  process.env.DRAWER_SYNC_PASSPHRASE = 'steel river ferry';
  expect((await other.run('sync', shared)).err).toMatch(/passphrase/i);
  delete process.env.DRAWER_SYNC_PASSPHRASE;
  expect(await other.run('sync', shared)).toMatchObject({
    code: 2,
    err: expect.stringContaining('DRAWER_SYNC_PASSPHRASE'),
  });
});

it('chooses another passphrase for all devices, and says so to those that have the old one', async () => {
  await one.run('copy', '--text', 'oak');
  await one.run('sync', shared);
  await other.run('sync', shared);
  expect(await one.run('sync', shared, '--new-passphrase')).toMatchObject({
    code: 2,
    err: expect.stringContaining('DRAWER_SYNC_NEW_PASSPHRASE'),
  });
  process.env.DRAWER_SYNC_NEW_PASSPHRASE = 'steel river ferry';
  const { out, err } = await one.run('sync', shared, '--new-passphrase');
  expect([out, err]).toEqual([
    'Sent 1 to 1 other device. Nothing new was there.\n' +
      'The passphrase is changed. The other devices need the new one from now on; whoever has only the old one can read nothing new.\n',
    '',
  ]);
  expect((await other.run('sync', shared)).err).toMatch(/somebody has changed it.*sync again with the new one/i);
  process.env.DRAWER_SYNC_PASSPHRASE = 'steel river ferry';
  await other.run('copy', '--text', 'elm');
  await other.run('sync', shared);
  await one.run('sync', shared);
  expect(await list(one)).toEqual(['oak', 'elm']);
  await other.run('sync', shared, '--name', 'Pier');
  await one.run('sync', shared, '--name', 'Office');
  await other.run('sync', shared);
  expect((await one.run('sync')).out).toBe('Shared with Pier. Nothing waits to be sent.\n');
  expect((await other.run('sync')).out).toBe('Shared with Office. Nothing waits to be sent.\n');
  delete process.env.DRAWER_SYNC_NEW_PASSPHRASE;
});

it('takes a locked drawer along while it is open, and writes no word of it anywhere', async () => {
  await one.run('copy', '--text', 'larch planks');
  process.env.DRAWER_PASSPHRASE = 'oak and larch';
  try {
    await one.run('rules', '--lock');
    await one.run('sync', shared);
  } finally {
    delete process.env.DRAWER_PASSPHRASE;
  }
  expect((await one.run('sync', shared)).code).not.toBe(0);
  await other.run('sync', shared);
  expect(await list(other)).toEqual(['larch planks']);
  for (const place of [one.folder, shared])
    for (const name of readdirSync(place, { recursive: true, encoding: 'utf8' }).filter((each) => /\.\w+$/.test(each)))
      expect(readFileSync(join(place, name), 'latin1')).not.toContain('larch');
});

/** `drawer sync --follow` of a device, and what it says. */
function follow(place: Workplace, address: string) {
  const child = spawn(process.execPath, [command, 'sync', address, '--follow'], {
    cwd: place.folder,
    env: { ...process.env, DRAWER: place.drawer },
  });
  const output = new EventEmitter();
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => {
      said += chunk;
      output.emit('more');
    });
  const ended = new Promise<number | null>((end) => child.on('close', end));
  return {
    /** Waits until it has said these words. */
    async heard(words: string): Promise<void> {
      while (!said.includes(words)) await once(output, 'more');
      said = '';
    },
    stop: async (): Promise<number | null> => {
      child.kill('SIGINT');
      return ended;
    },
  };
}

it('keeps in step while it follows', async () => {
  await other.run('copy', '--text', 'elm');
  const following = follow(one, shared);
  await following.heard('Sent 0');
  await other.run('sync', shared);
  await following.heard('Received 1 new');
  await one.run('copy', '--text', 'oak');
  await following.heard('Sent 1 to 1 other device');
  expect(await following.stop()).toBe(0);
  await other.run('sync', shared);
  expect((await list(other)).sort()).toEqual(['elm', 'oak']);
});

it('keeps in step over a server, also when that was away, and shows its token to nobody', async () => {
  const servers = await NatsServers.start(1, 'authorization { token: "a-token-of-ours" }');
  const address = servers.address('ferry');
  expect((await one.run('sync', address)).err).toMatch(/does not let this device in/);
  const second = follow(other, servers.address('ferry', 0, 'a-token-of-ours@'));
  process.env.DRAWER_SYNC_TOKEN = 'a-token-of-ours';
  try {
    const first = follow(one, address);
    await Promise.all([first, second].map((each) => each.heard('In step until')));
    await one.run('copy', '--text', 'oak');
    await second.heard('Received 1 new');
    await servers.kill();
    await other.run('copy', '--text', 'elm');
    await second.heard('The server cannot be reached');
    await servers.restart();
    await first.heard('Received 1 new');
    expect([await first.stop(), await second.stop()]).toEqual([0, 0]);
    await servers.kill();
    const refused = await other.run('sync', servers.address('ferry', 0, 'a-token-of-ours@'));
    expect(refused.err).toContain('cannot be reached');
    expect(refused.err).not.toContain('a-token-of-ours');
  } finally {
    delete process.env.DRAWER_SYNC_TOKEN;
    await servers.stop();
  }
  expect(await list(one)).toEqual(['oak', 'elm']);
  expect(await list(other)).toEqual(['oak', 'elm']);
});

it.each([{ options: [] }, { options: ['--new-passphrase'] }])(
  'loses and doubles nothing when it is killed at any moment $options',
  async ({ options }) => {
    const many = Array.from({ length: 40 }, (_, number) => ['--text', `plank ${number}`]).flat();
    await one.run('copy', ...many);
    let known = 'wooden river ferry';
    let chosen = known;
    /** Syncs with the passphrase that is in use: a killed program may have changed it, or not. */
    const synced = async (place: Workplace): Promise<void> => {
      for (const words of [chosen, known]) {
        process.env.DRAWER_SYNC_PASSPHRASE = words;
        const { code, err } = await place.run('sync', shared);
        if (code === 0) known = words;
        if (code === 0) return expect(err).toBe('');
      }
      throw new Error('No passphrase opens it');
    };
    for (let round = 0; round < 8; round++) {
      const place = round % 2 ? other : one;
      if (options.length > 0) await synced(place);
      await place.run('copy', '--text', `round ${round}`);
      if (options.length > 0) chosen = `steel river ferry ${round}`;
      const child = spawn(process.execPath, [command, 'sync', shared, ...options], {
        cwd: place.folder,
        env: { ...process.env, DRAWER: place.drawer, DRAWER_SYNC_NEW_PASSPHRASE: chosen },
      });
      const timer = setTimeout(() => child.kill('SIGKILL'), (options.length > 0 ? 700 : 350) + 60 * round);
      await new Promise((end) => child.on('close', end));
      clearTimeout(timer);
    }
    for (const place of [one, other, one, other]) await synced(place);
    const words = await list(one);
    expect(words).toEqual(await list(other));
    expect(new Set(words).size).toBe(words.length);
    expect(words.length).toBe(48);
    expect((await one.run('check')).out).toContain('all is well');
  },
);
