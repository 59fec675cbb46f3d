import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createDrawer, type Drawer, DrawerError, doc, paragraph, run, type SnippetInput } from 'drawer';
import { openDrawer, sqliteStorage } from 'drawer/node';
import * as fc from 'fast-check';
import Database from 'libsql';
import { inProcess } from '../support/processes.ts';
import { indexedKinds, storageKinds } from '../support/storages.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-at-once-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let made = 0;
const newPath = (): string => join(folder, `${++made}.drawer`);

const gathered = (text: string, language?: string): SnippetInput => ({
  content: run(text),
  origin: { file: 'survey.docx' },
  ...(language && { language }),
});

/** Ids that count, so that calls can name snippets of calls that are not done yet. */
function tools(): { clock(): Date; generateId(): string } {
  let ids = 0;
  return { clock: () => new Date('2026-05-04T09:00:00Z'), generateId: () => `id-${++ids}` };
}

type Call = (drawer: Drawer) => Promise<unknown>;

const text = fc.constantFrom('oak', 'larch', 'elm', '4 May 2026', 'hull', ' ');
const id = fc.nat({ max: 12 }).map((number) => `id-${number}`); // some of which there never is
const ids = fc.uniqueArray(id, { minLength: 1, maxLength: 3 });
const language = fc.constantFrom(undefined, 'en-GB', 'de', 'fr', 'pl');

/** Calls that load what they need and such that do not, of which many are refused. */
const call: fc.Arbitrary<Call> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.tuple(text, language).map(
      ([words, tag]): Call =>
        (drawer) =>
          drawer.keep([gathered(words, tag)]),
    ),
  },
  fc.array(text, { maxLength: 4 }).map(
    (all): Call =>
      (drawer) =>
        drawer.keep(all.map((words) => gathered(words))),
  ),
  ids.map(
    (some): Call =>
      (drawer) =>
        drawer.remove(some),
  ),
  fc.tuple(ids, fc.constantFrom({ label: 'bow' }, { held: true }, { secret: true }, { lasts: -1 })).map(
    ([some, mark]): Call =>
      (drawer) =>
        drawer.mark(some, mark),
  ),
  fc.tuple(ids, fc.integer({ min: 1, max: 6 })).map(
    ([some, place]): Call =>
      (drawer) =>
        drawer.move(some, place),
  ),
  fc.tuple(id, text).map(
    ([one, words]): Call =>
      (drawer) =>
        drawer.edit(one, doc(paragraph(words))),
  ),
  fc.tuple(id, text).map(
    ([one, words]): Call =>
      (drawer) =>
        drawer.split(one, [run(words), run('rope')]),
  ),
  fc.tuple(text, fc.option(id, { nil: undefined })).map(
    ([words, onto]): Call =>
      (drawer) =>
        drawer.append([gathered(words)], { onto }),
  ),
  fc.tuple(ids, fc.boolean()).map(
    ([of, takeOut]): Call =>
      (drawer) =>
        drawer.merge({ content: run('all'), of, takeOut }),
  ),
  fc.constantFrom<Call>(
    (drawer) => drawer.undo(),
    (drawer) => drawer.redo(),
    (drawer) => drawer.list(),
    (drawer) => drawer.find(['oa']),
    (drawer) => drawer.changeSettings({ capacity: 3, full: 'refuse' }),
    (drawer) => drawer.changeSettings({ repeats: 'skip', capacity: 100 }),
    (drawer) => drawer.sequence(),
    (drawer) => drawer.moveSequence(2),
  ),
);

/** What came of a call: what it gave, or how it was refused. */
const outcome = (called: Promise<unknown>): Promise<unknown> =>
  called.catch((error: unknown) => (DrawerError.is(error) ? [error.code, error.reason] : error));

const everything = async (drawer: Drawer) => [
  await drawer.list(1, 100),
  await drawer.history(),
  await drawer.settings(),
];

describe.each([...storageKinds, ...indexedKinds])('calls made at once, on a drawer in $name', (kind) => {
  it('are done in the order in which they were made, and give what they give one by one', async () => {
    let refused = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(call, { minLength: 2, maxLength: 40 }), async (calls) => {
        const model = createDrawer(tools());
        const expected: unknown[] = [];
        for (const one of calls) expected.push(await outcome(one(model)));
        const drawer = createDrawer({ storage: await kind.open(), ...tools() });
        await drawer.find(['oak']); // so that its index is there: the first search of some waits for that
        const outcomes = await Promise.all(calls.map((one) => outcome(one(drawer))));
        expect(outcomes).toEqual(expected);
        expect(await everything(drawer)).toEqual(await everything(model));
        expect((await drawer.check()).faults).toEqual([]);
        await drawer.close();
        refused += expected.filter((each) => Array.isArray(each) && typeof each[0] === 'string').length;
      }),
      { numRuns: Number(process.env.RUNS ?? 20) },
    );
    expect(refused).toBeGreaterThan(20);
  });
});

describe('writes that wait at the same time, in a file', () => {
  it('are told of when they are on disk, a failed one among them for itself', async () => {
    const path = newPath();
    const drawer = await openDrawer(path);
    const reader = new Database(path);
    const onDisk = (one: string): boolean =>
      reader.prepare('SELECT 1 FROM snippet WHERE id = ?').get(one) !== undefined;
    const outcomes = await Promise.all(
      Array.from({ length: 60 }, async (_, index) => {
        if (index % 4 === 3) return outcome(drawer.remove([`none-${index}`]));
        const [result] = await drawer.keep([gathered(`k${index}`)]);
        return result?.kind === 'kept' && onDisk(result.summary.id);
      }),
    );
    expect(outcomes.filter((each) => each === true)).toHaveLength(45);
    expect(outcomes.filter((each) => Array.isArray(each) && each[0] === 'not-found')).toHaveLength(15);
    reader.close();
    expect((await drawer.history()).map(({ name }) => name.kind)).toEqual(Array(45).fill('kept'));
    await drawer.close();
  });

  it('share commits: the journal grows a fraction as much as one by one', async () => {
    const journal = async (
      keepAll: (drawer: Drawer, all: readonly SnippetInput[]) => Promise<unknown>,
    ): Promise<number> => {
      const path = newPath();
      const drawer = await openDrawer(path);
      await keepAll(
        drawer,
        Array.from({ length: 300 }, (_, index) => gathered(`k${index}`)),
      );
      const { size } = statSync(`${path}-wal`);
      await drawer.close();
      return size;
    };
    const together = await journal((drawer, all) => Promise.all(all.map((each) => drawer.keep([each]))));
    const oneByOne = await journal(async (drawer, all) => {
      for (const each of all) await drawer.keep([each]);
    });
    expect(together).toBeLessThan(oneByOne / 4);
  });

  it('are all refused where nothing can be written, and reads and later writes are none the worse', async () => {
    const path = newPath();
    const drawer = await openDrawer(path);
    await drawer.keep([gathered('oak')]);
    const other = new Database(path);
    other.exec('BEGIN IMMEDIATE');
    const refused = Promise.all(['larch', 'elm', 'rope'].map((each) => outcome(drawer.keep([gathered(each)]))));
    const listed = drawer.list();
    expect(await refused).toEqual(Array(3).fill(['storage', 'drawer-busy']));
    other.exec('ROLLBACK');
    other.close();
    expect(await listed).toHaveLength(1);
    await Promise.all(['larch', 'elm'].map((each) => drawer.keep([gathered(each)])));
    expect((await drawer.list()).map(({ summary }) => summary.facts.preview)).toEqual(['oak', 'larch', 'elm']);
    await drawer.close();
  });

  it('do not keep another program waiting', async () => {
    const path = newPath();
    const drawer = await openDrawer(path);
    const { lines, ended } = inProcess(
      path,
      `say('there');
       while ((await drawer.count()) === 0) await new Promise((wait) => setTimeout(wait, 1));
       await keep('b');
       say('kept');
       await drawer.close();`,
    );
    while (lines.length === 0) await new Promise((wait) => setTimeout(wait, 1));
    let left = 4000;
    const all = Array.from({ length: left }, (_, index) => drawer.keep([gathered(`a${index}`)]).then(() => left--));
    expect(await ended).toBe(0);
    expect(left).toBeGreaterThan(0); // it came in between
    await Promise.all(all);
    expect(await drawer.count()).toBe(4001);
    await drawer.close();
  });

  it('wait for one another in one program too, where that has the file open twice', async () => {
    const path = newPath();
    const both = [await openDrawer(path), await openDrawer(path)];
    const keeps = Array.from({ length: 60 }, (_, index) => (both[index % 2] as Drawer).keep([gathered(`k${index}`)]));
    expect((await Promise.all(keeps)).flat().map(({ kind }) => kind)).toEqual(Array(60).fill('kept'));
    for (const drawer of both) {
      expect([await drawer.count(), (await drawer.check()).faults]).toEqual([60, []]);
      await drawer.close();
    }
  });

  it('are done before a close that comes behind them, and later ones are refused', async () => {
    const path = newPath();
    const drawer = await openDrawer(path);
    const kept = Promise.all(['oak', 'larch'].map((each) => drawer.keep([gathered(each, 'de')])));
    const closed = drawer.close();
    const late = Promise.all(['elm', 'rope'].map((each) => outcome(drawer.keep([gathered(each)]))));
    expect(await kept).toHaveLength(2);
    await closed;
    const refused = ['storage', expect.stringMatching(/closed/)];
    expect(await late).toEqual([refused, refused]);
    expect([await outcome(drawer.keep([gathered('fir')])), await outcome(drawer.undo())]).toEqual([refused, refused]);
    const again = await openDrawer(path);
    expect((await again.list()).map(({ summary }) => summary.facts.preview)).toEqual(['oak', 'larch']);
    await again.close();
  });

  it('are there when a program that was told of them is killed, in their order', async () => {
    let told = 0;
    for (let round = 0; round < 5; round++) {
      const path = newPath();
      const script = `for (let i = 0; i < 4000; i++) void keep('k' + i).then(() => say('k' + i));`;
      const { child, lines, ended } = inProcess(path, script);
      while (lines.length < 1 + round * 200) await new Promise((wait) => setTimeout(wait, 1));
      child.kill('SIGKILL');
      await ended;
      const drawer = await openDrawer(path);
      const kept = (await drawer.list(1, 5000)).map(({ summary }) => summary.facts.preview);
      expect(kept.slice(0, lines.length)).toEqual(lines);
      expect(kept).toEqual(Array.from(kept, (_, index) => `k${index}`));
      expect((await drawer.check()).faults).toEqual([]);
      await drawer.close();
      told += lines.length;
    }
    expect(told).toBeGreaterThan(1000);
  });

  it('are kept or refused, each as it was told, on a disk that fills up', async () => {
    let refused = 0;
    for (let blocks = 150; blocks < 700; blocks += 110) {
      const path = newPath();
      const script = `
        const each = (i) => keep('k' + i + ' ' + 'words '.repeat(200)).then(() => 'k' + i, (error) => error.message);
        for (const told of await Promise.all(Array.from({ length: 120 }, (_, i) => each(i)))) say(told);`;
      const { lines, ended } = inProcess(path, script, `ulimit -f ${blocks}; trap '' XFSZ`);
      await ended;
      const drawer = await openDrawer(path);
      const kept = (await drawer.list(1, 200)).map(({ summary }) => summary.facts.preview.split(' ')[0]);
      expect(kept).toEqual(lines.filter((line) => line.startsWith('k')));
      expect((await drawer.check()).faults).toEqual([]);
      await drawer.close();
      refused += lines.length - kept.length;
    }
    expect(refused).toBeGreaterThan(20);
  });
});

it('keep nothing else waiting in the program, however many calls follow one another', async () => {
  const drawer = await openDrawer(newPath());
  let turns = 0;
  const timer = setInterval(() => turns++, 0);
  for (let calls = 0; calls < 1_000; calls++) await drawer.list();
  expect(turns).toBeGreaterThan(5);
  turns = 0;
  for (let calls = 0; calls < 1_000; calls++) await drawer.moveSequence(1);
  expect(turns).toBeGreaterThan(5);
  clearInterval(timer);
  await drawer.close();
});

describe('files that cannot be written', () => {
  /** A drawer whose files can be read, and fail when they are written, once `meanwhile` is done. */
  const failing = (path: string, meanwhile: () => Promise<unknown>): Drawer =>
    createDrawer({
      storage: sqliteStorage(path),
      ...tools(),
      files: {
        read: async () => new TextEncoder().encode('one two'),
        replace: async () => {
          await meanwhile();
          throw new DrawerError('write-failed/disk-full');
        },
        create: async () => {},
        remove: async () => {},
      },
    });
  const before = new TextEncoder().encode('one two');
  const files = [{ path: '/log.txt', before, after: new TextEncoder().encode('one') }];
  const previews = async (drawer: Drawer): Promise<string[]> =>
    (await drawer.list()).map(({ summary }) => summary.facts.preview);

  it.each<[string, (drawer: Drawer) => Promise<unknown>]>([
    ['pasted into', (drawer) => drawer.writeFiles({ name: { kind: 'pasted', params: { count: 1 } }, files })],
    ['cut from', (drawer) => drawer.cut([gathered('two')], files)],
  ])('leave all as before when they are %s, and what was asked for meanwhile is done', async (_, write) => {
    let meanwhile: Promise<unknown> = Promise.resolve();
    const drawer = failing(newPath(), async () => {
      meanwhile = Promise.all([drawer.keep([gathered('oak')]), drawer.keep([gathered('elm')])]);
    });
    expect(await outcome(write(drawer))).toEqual(['write-failed', 'disk-full']);
    await meanwhile;
    expect(await previews(drawer)).toEqual(['oak', 'elm']);
    expect((await drawer.history()).map(({ name, state }) => [name.kind, state])).toEqual([
      ['kept', 'done'],
      ['kept', 'done'],
    ]);
    await drawer.close();
  });

  it('take back nothing that another program has done meanwhile', async () => {
    const path = newPath();
    const other = await openDrawer(path);
    const drawer = failing(path, () => other.keep([gathered('oak')]));
    expect(await outcome(drawer.cut([gathered('two')], files))).toEqual(['write-failed', 'disk-full']);
    expect(await previews(drawer)).toContain('oak');
    await drawer.close();
    await other.close();
  });

  it('are cut from only where something was kept', async () => {
    const drawer = failing(newPath(), () => Promise.reject(new Error('was written')));
    expect(await drawer.cut([gathered('  ')], files)).toMatchObject([{ kind: 'blank' }]);
    expect(await drawer.history()).toEqual([]);
    await expect(drawer.cut([gathered('two')], 'none' as never)).rejects.toMatchObject({ code: 'invalid' });
    await drawer.close();
  });
});
