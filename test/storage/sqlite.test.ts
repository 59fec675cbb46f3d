import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type Drawer, run } from 'drawer';
import { openDrawer } from 'drawer/node';
import Database from 'libsql';
import { changesAtRandom, outcomeOf } from '../support/at-random.ts';
import { indexedCount } from '../support/index-reach.ts';
import { inProcess } from '../support/processes.ts';
import { did } from '../support/said.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-sqlite-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const texts = async (path: string): Promise<string[]> => {
  const drawer = await openDrawer(path);
  const listed = await drawer.list(1, 10_000);
  await drawer.close();
  return listed.map(({ summary }) => summary.facts.preview);
};

describe.each([1, 2, 3, 4, 5, 7, 8, 9])('a drawer of version %i', (version) => {
  const fixture = resolve(import.meta.dirname, `../fixtures/version-${version}.drawer`);

  it('is brought up when it is opened, with all it holds, and a copy stays', async () => {
    const path = join(folder, `was-${version}.drawer`);
    copyFileSync(fixture, path);
    writeFileSync(`${path}.version-${version}.part`, 'what a program left that was killed while it copied');
    const drawer = await openDrawer(path);
    expect(existsSync(`${path}.version-${version}.part`)).toBe(false);
    expect((await drawer.list()).map(({ summary }) => summary.facts.what)).toEqual([
      { kind: 'section' },
      { kind: 'table', params: { rows: 6, columns: 4 } },
      { kind: 'picture', params: { width: 480, height: 300 } },
      { kind: 'words' },
      { kind: 'section' },
    ]);
    expect(await drawer.check()).toMatchObject({ snippets: 5, pictures: 2, faults: [] });
    const found = async (...words: string[]) => (await drawer.find(words)).map(({ position }) => position);
    expect([await found('larch'), await found('from:costs', 'is:table'), await found('label:both')]).toEqual([
      [5, 4, 2, 1],
      [2],
      [5],
    ]);
    expect(did(await drawer.undo())).toBe('Merged 2 snippets');
    expect(did(await drawer.undo())).toBe('Appended to 1 snippet');
    expect(await found('larch')).toEqual([2, 1]);
    expect([did(await drawer.redo()), await found('larch')]).toEqual(['Appended to 1 snippet', [4, 2, 1]]);
    expect(await repeatOf(drawer, 4)).toMatchObject({ position: 5, sameAs: 4 });
    await drawer.close();
    expect(versionIn(`${path}.version-${version}`)).toBe(version);
    const copy = new Database(`${path}.version-${version}`);
    expect(copy.prepare('SELECT count(*) AS count FROM snippet').get()).toMatchObject({ count: 5 });
    copy.close();
  });
});

it.each([4, 7, 8, 9])('a locked drawer of version %i is brought up as it is sealed', async (version) => {
  const path = join(folder, `was-${version}-locked.drawer`);
  copyFileSync(resolve(import.meta.dirname, `../fixtures/version-${version}-locked.drawer`), path);
  await expect(openDrawer(path)).rejects.toMatchObject({ code: 'locked' });
  const drawer = await openDrawer(path, { passphrase: 'larch and oak' });
  expect(await drawer.check()).toMatchObject({ snippets: 5, pictures: 2, faults: [] });
  expect(await repeatOf(drawer, 4)).toMatchObject({ position: 6, sameAs: 4 });
  await drawer.unlock();
  expect(await repeatOf(drawer, 2)).toMatchObject({ position: 7, sameAs: 2 });
  await drawer.close();
});

/** What becomes of the same once more. */
async function repeatOf(drawer: Drawer, position: number) {
  const [listed] = await drawer.list(position, 1);
  const { content, origin } = await drawer.get(listed?.summary.id ?? '');
  return (await drawer.keep([{ content, origin }]))[0];
}

describe('the index of words', () => {
  const many = Array.from({ length: 200 }, (_, index) => ({
    content: run(`plank${index} of ${index % 2 ? 'oak' : 'larch'}`),
    origin: { file: 'costs.xlsx' },
  }));
  const numbers = async (drawer: Drawer, ...words: string[]) =>
    (await drawer.find(words, { limit: 500 })).map(({ position }) => position);
  /** What is asked of it before, while and after words are put into it. */
  async function expectAllFound(drawer: Drawer): Promise<void> {
    expect(await numbers(drawer, 'plank7')).toEqual([8, 80, 79, 78, 77, 76, 75, 74, 73, 72, 71]);
    expect(await numbers(drawer, 'lank199')).toEqual([200]);
    expect(await numbers(drawer, 'oka')).toHaveLength(0);
    expect(await numbers(drawer, 'larhc', 'from:costs')).toHaveLength(100);
    expect((await drawer.check()).faults).toEqual([]);
  }

  it('gets what was kept in a pause, and finds the same before and after', async () => {
    const path = join(folder, 'pause.drawer');
    const drawer = await openDrawer(path);
    await drawer.keep(many);
    expect(indexedCount(path)).toBe(0);
    await expectAllFound(drawer);
    const until = Date.now() + 120_000;
    while (indexedCount(path) < many.length && Date.now() < until) await new Promise((done) => setTimeout(done, 50));
    expect(indexedCount(path)).toBe(many.length);
    await expectAllFound(drawer);
    await drawer.close();
  });

  it('has all but a few when a drawer is closed', async () => {
    const path = join(folder, 'closed.drawer');
    const drawer = await openDrawer(path);
    await drawer.keep(many);
    await drawer.close();
    expect(indexedCount(path)).toBe(many.length);
    const again = await openDrawer(path);
    await again.keep([{ content: run('one more plank7 of oak'), origin: {} }]);
    expect(await numbers(again, 'plank7')).toEqual([201, 8, 80, 79, 78, 77, 76, 75, 74, 73, 72, 71]);
    await again.close();
    expect(indexedCount(path)).toBe(many.length);
  });

  it('is caught up with by the next one when a program is killed before it gets there', async () => {
    const path = join(folder, 'killed-before.drawer');
    const { ended } = inProcess(
      path,
      `await drawer.keep(${JSON.stringify(many)}); process.kill(process.pid, 'SIGKILL');`,
    );
    await ended;
    expect(indexedCount(path)).toBe(0);
    const drawer = await openDrawer(path);
    await expectAllFound(drawer);
    await drawer.keep([{ content: run('oak'), origin: {} }]);
    await drawer.close();
    expect(indexedCount(path)).toBe(many.length + 1);
  });

  it('sees what another program changed while it waits', async () => {
    const path = join(folder, 'both-wait.drawer');
    const [one, other] = [await openDrawer(path), await openDrawer(path)];
    await one.keep(many.slice(0, 3));
    expect(await numbers(one, 'oak')).toEqual([2]);
    const [, second] = await other.list();
    await other.edit(second?.summary.id ?? '', run('rope'));
    await other.keep([{ content: run('more rope'), origin: {} }]);
    expect([await numbers(one, 'oak'), await numbers(one, 'rope')]).toEqual([[], [4, 2]]);
    await one.remove([second?.summary.id ?? '']);
    expect([await numbers(other, 'rope'), await other.count()]).toEqual([[3], 3]);
    expect((await other.check()).faults).toEqual([]);
    await one.close();
    await other.close();
  });
});

describe('a drawer’s file', () => {
  it('is made with its folders and readable by its owner only', async () => {
    const path = join(folder, 'new', 'folder', 'a.drawer');
    const drawer = await openDrawer(path);
    await drawer.keep([{ content: run('oak'), origin: {} }]);
    expect(statSync(path).mode & 0o077).toBe(0);
    expect(statSync(`${path}-wal`).mode & 0o077).toBe(0);
    expect(statSync(join(folder, 'new')).mode & 0o077).toBe(0);
    await drawer.close();
  });

  it('is still there tomorrow, its undo too', async () => {
    const path = join(folder, 'tomorrow.drawer');
    const today = await openDrawer(path);
    await today.keep([{ content: run('oak'), origin: {} }]);
    await today.close();
    const tomorrow = await openDrawer(path);
    expect(await tomorrow.count()).toBe(1);
    expect(did(await tomorrow.undo())).toBe('Kept 1 snippet');
    expect(await tomorrow.count()).toBe(0);
    await tomorrow.close();
  });

  it('reads for its first page no more than that page', async () => {
    const path = join(folder, 'page.drawer');
    const drawer = await openDrawer(path);
    await drawer.keep(Array.from({ length: 30 }, (_, index) => ({ content: run(`snippet ${index}`), origin: {} })));
    await drawer.close();
    const database = new Database(path);
    // Contents and later heads are made unreadable: a list of the first ten must not notice.
    database.exec(
      `UPDATE snippet SET content = 'x'; UPDATE snippet SET head = 'x' WHERE "order" > (SELECT "order" FROM snippet ORDER BY "order" LIMIT 1 OFFSET 9)`,
    );
    database.close();
    const again = await openDrawer(path);
    expect((await again.list(1, 10)).map(({ summary }) => summary.facts.preview)).toEqual(
      Array.from({ length: 10 }, (_, index) => `snippet ${index}`),
    );
    await expect(again.list(1, 11)).rejects.toMatchObject({ code: 'damaged' });
    await again.close();
  });

  it.each<[string, (path: string) => void, string, string]>([
    [
      'a file that is no database',
      (path) => writeFileSync(path, 'Dear Sir, '.repeat(300)),
      'storage',
      'drawer-not-one',
    ],
    [
      'somebody else’s database',
      (path) => new Database(path).exec('CREATE TABLE letters (words TEXT)'),
      'storage',
      'drawer-not-one',
    ],
    [
      'a drawer of a newer version',
      (path) =>
        new Database(path).exec(
          'PRAGMA application_id = 0x44727772; PRAGMA user_version = 99; CREATE TABLE snippet (id)',
        ),
      'newer',
      'drawer-newer',
    ],
  ])('refuses %s and leaves it as it was', async (name, make, code, reason) => {
    const path = join(folder, `${name.replace(/\W/g, '')}.drawer`);
    make(path);
    const before = readFileSync(path);
    await expect(openDrawer(path)).rejects.toMatchObject({ code, reason });
    expect(readFileSync(path).equals(before)).toBe(true);
  });
});

it('keeps what is kept, and tells the others, when one who watches fails', async () => {
  const { lines, ended } = inProcess(
    join(folder, 'watched.drawer'),
    `process.on('uncaughtException', ({ message }) => say(message));
    drawer.watch(() => { throw new Error('one failed'); });
    drawer.watch(() => say('other told'));
    const [{ kind }] = await keep('oak');
    say(kind);
    await drawer.close();`,
  );
  expect(await ended).toBe(0);
  expect(lines).toEqual(['other told', 'one failed', 'kept']);
});

it('is left alone by an open drawer once a newer program has brought it up', async () => {
  const path = join(folder, 'brought-up.drawer');
  const drawer = await openDrawer(path);
  await drawer.keep([{ content: run('oak'), origin: {} }]);
  const newer = new Database(path);
  newer.exec('PRAGMA user_version = 99');
  const refused = { code: 'newer', reason: 'drawer-newer' };
  await expect(drawer.keep([{ content: run('larch'), origin: {} }])).rejects.toMatchObject(refused);
  await expect(drawer.list()).rejects.toMatchObject(refused);
  await drawer.close();
  expect(newer.prepare('SELECT count(*) AS count FROM snippet').get()).toMatchObject({ count: 1 });
  newer.close();
});

describe('several processes', () => {
  it('open a new drawer at once and keep side by side', async () => {
    const path = join(folder, 'together.drawer');
    const processes = ['a', 'b', 'c', 'd'].map((name) =>
      inProcess(path, `for (let i = 0; i < 25; i++) await keep('${name}' + i); await drawer.close(); say('done');`),
    );
    for (const { ended, errors } of processes) expect([await ended, errors()]).toEqual([0, '']);
    const all = await texts(path);
    expect(all).toHaveLength(100);
    for (const name of ['a', 'b', 'c', 'd'])
      expect(all.filter((text) => text.startsWith(name))).toEqual(
        Array.from({ length: 25 }, (_, index) => `${name}${index}`),
      );
  });

  it.each([0, 1, 2, 3, 4, 5, 7, 8, 9])('open drawers of version %i (0: new) at the same moment', async (version) => {
    const many = version === 0 ? 40 : 12;
    const all = Array.from({ length: many }, (_, index) => join(folder, `moment-${version}-${index}.drawer`));
    const fixture = resolve(import.meta.dirname, `../fixtures/version-${version}.drawer`);
    if (version > 0) for (const path of all) copyFileSync(fixture, path);
    const processes = ['a', 'b', 'c', 'd'].map((name) =>
      inProcess(
        join(folder, `moment-${version}.drawer`),
        `await drawer.close();
        const beats = process.stdin[Symbol.asyncIterator]();
        for (const path of ${JSON.stringify(all)}) {
            await beats.next();
            const shared = await openDrawer(path);
            const content = { shape: 'run', inlines: [{ type: 'text', text: '${name}' }] };
            await shared.keep([{ content, origin: { file: 'a' } }]);
            await shared.close();
            say('done');
        }
        process.exit();`,
      ),
    );
    // All of them at one beat, once each is done with the last drawer.
    for (let beat = 0; beat < many; beat++) {
      for (const { child } of processes) child.stdin.write('.');
      await waitUntil(() => processes.every(({ lines, child }) => lines.length > beat || child.exitCode !== null));
    }
    for (const { ended, errors } of processes) expect([errors(), await ended]).toEqual(['', 0]);
    for (const path of all) {
      const kept = (await texts(path)).slice(version > 0 ? 5 : 0);
      expect(kept.sort()).toEqual(['a', 'b', 'c', 'd']);
      if (version > 0) expect(versionIn(`${path}.version-${version}`)).toBe(version);
    }
  });

  it('lose nothing that was acknowledged when one is killed at any moment', async () => {
    let acknowledged = 0;
    for (let round = 0; round < 6; round++) {
      const path = join(folder, `killed-${round}.drawer`);
      const { child, lines, ended } = inProcess(path, `for (let i = 0; ; i++) { await keep('k' + i); say('k' + i); }`);
      while (lines.length < 1 + round * 14) await new Promise((wait) => setTimeout(wait, 1));
      child.kill('SIGKILL');
      await ended;
      const kept = await texts(path);
      expect(kept.slice(0, lines.length)).toEqual(lines);
      expect(kept.length - lines.length).toBeLessThanOrEqual(1); // the one being kept when it died
      acknowledged += lines.length;
    }
    expect(acknowledged).toBeGreaterThan(100);
  });

  it('lose and mix up nothing while they change one drawer at once, and are killed at any moment', async () => {
    const rounds = Number(process.env.RUNS ?? 6);
    let acknowledged = 0;
    for (let round = 0; round < rounds; round++) {
      const path = join(folder, `mixed-${round}.drawer`);
      const both = ['a', 'b'].map((name) => ({ name, ...inProcess(path, changesAtRandom(name)) }));
      await waitUntil(() => both.every(({ lines, child }) => lines.length > 40 + round * 9 || child.exitCode !== null));
      for (const { errors } of both) expect(errors()).toBe('');
      for (const { child } of both) child.kill('SIGKILL');
      for (const { ended } of both) await ended;
      const drawer = await openDrawer(path);
      expect((await drawer.check()).faults).toEqual([]);
      await drawer.close();
      const all = await texts(path);
      for (const { name, lines } of both) {
        const outcome = outcomeOf(lines);
        expect(outcome.possible).toContain(all.filter((words) => words.startsWith(name)).join(' '));
        acknowledged += outcome.acknowledged;
      }
    }
    expect(acknowledged).toBeGreaterThan(rounds * 30);
  }, 120_000);
});

function versionIn(path: string): number {
  const database = new Database(path);
  const { user_version } = database.prepare('PRAGMA user_version').get() as { user_version: number };
  database.close();
  return user_version;
}

const waitUntil = async (isSo: () => boolean): Promise<void> => {
  while (!isSo()) await new Promise((wait) => setTimeout(wait, 1));
};

describe('faults of the storage', () => {
  it.each<[string, string, (path: string) => () => void, string]>([
    [
      'held by another program',
      'storage',
      (path) => {
        const other = new Database(path);
        other.exec('BEGIN EXCLUSIVE');
        return () => {
          other.exec('ROLLBACK');
          other.close();
        };
      },
      'drawer-busy',
    ],
    [
      'without its tables',
      'damaged',
      (path) => {
        const other = new Database(path);
        other.exec('ALTER TABLE snippet RENAME TO gone');
        return () => {
          other.exec('ALTER TABLE gone RENAME TO snippet');
          other.close();
        };
      },
      'drawer-damaged',
    ],
  ])(
    '%s: one clear error, and all is there afterwards',
    async (_, code, spoil, reason) => {
      const path = join(folder, `fault-${Math.random()}.drawer`);
      const drawer = await openDrawer(path);
      await drawer.keep([{ content: run('oak'), origin: {} }]);
      const mend = spoil(path);
      await expect(drawer.keep([{ content: run('larch'), origin: {} }])).rejects.toMatchObject({
        code,
        reason,
      });
      mend();
      await drawer.keep([{ content: run('elm'), origin: {} }]);
      expect((await drawer.check()).faults).toEqual([]);
      await drawer.close();
      expect(await texts(path)).toEqual(['oak', 'elm']);
    },
    30_000,
  );

  it('a disk that fills up at any moment: what was acknowledged is there, and nothing else', async () => {
    let refused = 0;
    for (let blocks = 150; blocks < 700; blocks += 110) {
      const path = join(folder, `full-${blocks}.drawer`);
      const script = `for (let i = 0; i < 120; i++) { await keep('k' + i + ' ' + 'words '.repeat(200)); say('k' + i); }`;
      const { lines, ended, errors } = inProcess(path, script, `ulimit -f ${blocks}; trap '' XFSZ`);
      const code = await ended;
      if (code !== 0) {
        refused++;
        expect(errors()).toMatch(/DrawerError|disk/);
      }
      const kept = (await texts(path)).map((text) => text.split(' ')[0]);
      expect(kept).toEqual(lines);
      const drawer = await openDrawer(path);
      expect((await drawer.check()).faults).toEqual([]);
      await drawer.close();
    }
    expect(refused).toBeGreaterThan(1);
  }, 60_000);
});
