import { createDrawer, type Drawer, run, type Snippet } from 'drawer';
import { indexedDbStorage } from 'drawer/browser';
import { mediaHash } from 'drawer/formats';
import * as fc from 'fast-check';
import { openDB } from 'idb';
import { findable, parseQuery, searchEach } from '../../src/drawer/index.ts';
import 'fake-indexeddb/auto';
import { WordIndex } from '../../src/storage/word-index.ts';
import { did } from '../support/said.ts';
import { countingTools } from '../support/storages.ts';

let made = 0;
const newName = (): string => `indexeddb-${++made}`;
const opened: Drawer[] = [];

async function open(name: string, passphrase?: string): Promise<Drawer> {
  const drawer = createDrawer({ storage: await indexedDbStorage(name, { passphrase }), ...countingTools() });
  opened.push(drawer);
  return drawer;
}
afterEach(async () => {
  for (const drawer of opened.splice(0)) await drawer.close();
});

const vocabulary = ['oak', 'oaken', 'larch', 'plank', 'planks', 'frame', 'ferry', 'fern', 'été', '船', '木'];
const line = fc.array(fc.constantFrom(...vocabulary), { minLength: 1, maxLength: 6 }).map((words) => words.join(' '));
const wanted = fc.oneof(
  fc.constantFrom('o', 'oa', 'oak', 'lark', 'plnk', 'fer', 'ete', '船', 'is:held', 'from:survey', 'label:oak', 'ank'),
  line,
);

it('finds by its index in memory what reading through everything finds, in the same order, whatever came and went', () => {
  const snippets = fc.array(
    fc.record({
      text: line,
      label: fc.option(line, { nil: undefined }),
      held: fc.boolean(),
      day: fc.integer({ min: 1, max: 9 }),
      file: fc.constantFrom('survey.docx', 'costs.xlsx'),
    }),
    { maxLength: 25 },
  );
  fc.assert(
    fc.property(
      snippets,
      fc.array(fc.nat(24)),
      fc.array(wanted, { minLength: 1, maxLength: 3 }),
      fc.integer({ min: 1, max: 8 }),
      (given, gone, words, limit) => {
        const all = given.map(
          ({ text, label, held, day, file }, number): Snippet => ({
            id: `id-${number}`,
            order: `a${String(number).padStart(3, '0')}`,
            origin: { file },
            takenAt: `2026-05-0${day}T09:00:00Z`,
            facts: {
              shape: 'run',
              what: { kind: 'words' },
              preview: text,
              characters: 1,
              words: 1,
              lines: 1,
              bytes: 1,
            },
            ...(label !== undefined && { label }),
            ...(held && { held }),
            content: run(text),
          }),
        );
        const index = new WordIndex();
        for (const snippet of all) index.put({ ...snippet, found: findable(snippet) });
        const removed = new Set(gone.map((number) => `id-${number}`));
        for (const id of removed) index.remove(id);
        const left = all.filter(({ id }) => !removed.has(id));
        const query = parseQuery(words);
        expect(index.search(query, limit)).toEqual(searchEach(left, query, limit).map(({ id }) => id));
        for (const [position, snippet] of left.entries()) expect(index.countBefore(snippet)).toBe(position);
      },
    ),
    { numRuns: 300 },
  );
});

it('brings up a drawer of the first versions with everything in it', async () => {
  const name = newName();
  const head = (id: string, order: string) => ({
    id,
    order,
    origin: { file: 'survey.docx' },
    takenAt: '2026-05-04T09:00:00.000Z',
    facts: { shape: 'run', what: { kind: 'words' }, preview: id, characters: 3, words: 1, lines: 1, bytes: 3 },
  });
  const old = await openDB(name, 1, {
    upgrade: (database) => {
      database.createObjectStore('heads', { keyPath: 'id' }).createIndex('order', 'order');
      database.createObjectStore('contents', { keyPath: 'id' });
      database.createObjectStore('media', { keyPath: 'hash' });
      database.createObjectStore('actions', { keyPath: 'number' });
    },
  });
  for (const [id, order] of [
    ['oak', 'a0'],
    ['elm', 'a1'],
  ] as const) {
    await old.put('heads', head(id, order));
    await old.put('contents', { id, content: run(id) });
  }
  await old.put('actions', {
    number: 1,
    name: 'Kept 1 snippet' as never, // as older programs wrote it
    at: '2026-05-04T09:00:00.000Z',
    state: 'done',
    changes: [{ type: 'remove', id: 'elm' }],
  });
  old.close();
  const drawer = await open(name);
  expect((await drawer.list()).map(({ summary: { id } }) => id)).toEqual(['oak', 'elm']);
  expect([await drawer.count(), await drawer.bytes()]).toEqual([2, 6]);
  expect((await drawer.find(['oa'])).map(({ position }) => position)).toEqual([1]);
  expect(did(await drawer.undo())).toBe('Kept 1 snippet');
  expect(await drawer.count()).toBe(1);
});

it('sorts a drawer of version 4 by ids, too, with everything in it', async () => {
  const [name, older] = [newName(), newName()];
  const now = await open(name);
  await now.keep(['oak', 'elm', 'ash'].map((words) => ({ content: run(words), origin: {} })));
  const ids = (await now.list()).map(({ summary }) => summary.id);
  await now.close();
  // The same tables, with the index that they had.
  const from = await openDB(name);
  const stores = [...from.objectStoreNames].filter((store) => store !== 'notes');
  const to = await openDB(older, 4, {
    upgrade: (database) => {
      for (const store of stores) {
        const { keyPath, indexNames } = from.transaction(store).store;
        const made = database.createObjectStore(store, keyPath === null ? {} : { keyPath });
        for (const index of indexNames)
          made.createIndex(index, index === 'order' ? 'order' : from.transaction(store).store.index(index).keyPath);
      }
    },
  });
  for (const store of stores)
    for (const key of await from.getAllKeys(store)) {
      const isOutside = from.transaction(store).store.keyPath === null;
      await to.put(store, await from.get(store, key), isOutside ? key : undefined);
    }
  from.close();
  to.close();
  const drawer = await open(older);
  expect((await drawer.list()).map(({ summary }) => summary.id)).toEqual(ids);
  expect(await drawer.positionOf(ids[2] as string)).toBe(3);
  await drawer.move(ids[2] as string, 1);
  expect((await drawer.list()).map(({ summary }) => summary.id)).toEqual([ids[2], ids[0], ids[1]]);
  expect((await drawer.check()).faults).toEqual([]);
});

it('refuses a drawer of a newer program, and leaves it alone', async () => {
  const name = newName();
  (await openDB(name, 99, { upgrade: (database) => void database.createObjectStore('later') })).close();
  await expect(open(name)).rejects.toMatchObject({ reason: 'drawer-newer' });
  const later = await openDB(name, 99);
  expect([...later.objectStoreNames]).toEqual(['later']);
  later.close();
});

it('lets go of a drawer that a newer program brings up, and says so', async () => {
  const name = newName();
  const drawer = await open(name);
  await drawer.keep([{ content: run('oak'), origin: {} }]);
  const later = await openDB(name, 99, { upgrade: (database) => void database.createObjectStore('later') });
  const closed = { code: 'storage', reason: 'browser-closed' };
  await expect(drawer.keep([{ content: run('larch'), origin: {} }])).rejects.toMatchObject(closed);
  await expect(drawer.list()).rejects.toMatchObject(closed);
  await expect(drawer.lock('oak and larch')).rejects.toMatchObject(closed);
  later.close();
});

it('keeps positions right with many snippets, through moves and removals anywhere', async () => {
  const drawer = await open(newName());
  const count = 1_100;
  await drawer.keep(Array.from({ length: count }, (_, number) => ({ content: run(`slip ${number}`), origin: {} })));
  const ids = (await drawer.list(1, count)).map(({ summary }) => summary.id);
  await drawer.move(ids.slice(1_000, 1_010), 5);
  await drawer.remove(ids.slice(100, 300));
  const expected = [
    ...ids.slice(0, 4),
    ...ids.slice(1_000, 1_010),
    ...ids.slice(4, 100),
    ...ids.slice(300, 1_000),
    ...ids.slice(1_010),
  ];
  expect((await drawer.list(1, count)).map(({ summary }) => summary.id)).toEqual(expected);
  for (const at of [0, 7, 105, 300, expected.length - 1]) {
    expect(await drawer.positionOf(expected[at] as string)).toBe(at + 1);
    expect((await drawer.list(at + 1, 1))[0]?.summary.id).toBe(expected[at]);
  }
  expect(await drawer.count()).toBe(expected.length);
  await drawer.undo();
  await drawer.undo();
  expect((await drawer.list(1, count)).map(({ summary }) => summary.id)).toEqual(ids);
}, 120_000);

it('locks what it holds, opens with the passphrase alone, and takes the lock off again', async () => {
  const name = newName();
  const drawer = await open(name);
  const bytes = new TextEncoder().encode('picture of the marigold');
  const hash = mediaHash(bytes);
  const media = new Map([[hash, bytes]]);
  const picture = { shape: 'picture', picture: { media: hash, mediaType: 'image/png' } } as const;
  await drawer.keep([
    { content: run('the safe opens with 4711'), origin: { title: 'Marigold' } },
    { content: picture, media, origin: {} },
  ]);
  await drawer.lock('oak larch elm');
  expect(await drawer.isLocked()).toBe(true);
  await drawer.mark([(await drawer.list())[0]?.summary.id ?? ''], { label: 'combination' });
  await drawer.close();
  // Nothing that somebody would read lies in the database.
  const raw = await openDB(name);
  const all: string[] = [];
  for (const store of raw.objectStoreNames)
    for (const value of await raw.getAll(store))
      all.push(
        JSON.stringify(value, (_, each: unknown) =>
          each instanceof Uint8Array ? Buffer.from(each).toString('latin1') : each,
        ),
      );
  raw.close();
  expect(all.length).toBeGreaterThan(5);
  expect(all.join('\n')).not.toMatch(/4711|Marigold|marigold|combination/);
  await expect(open(name)).rejects.toMatchObject({ reason: 'drawer-locked' });
  await expect(open(name, 'oak larch ash')).rejects.toMatchObject({ reason: 'passphrase-wrong' });
  const again = await open(name, 'oak larch elm');
  expect((await again.find(['4711'])).map(({ summary }) => summary.label)).toEqual(['combination']);
  expect(await again.findMedia(hash)).toEqual(bytes);
  await again.undo();
  await again.unlock();
  await again.close();
  const clear = await open(name);
  expect((await clear.list()).map(({ summary }) => [summary.facts.preview, summary.label])).toEqual([
    ['the safe opens with 4711', undefined],
    ['[picture]', undefined],
  ]);
  expect((await clear.find(['safe'])).length).toBe(1);
}, 120_000);

it('tells another window that has it open of a lock, and does not mix what is sealed with what is not', async () => {
  const name = newName();
  const [one, other] = [await open(name), await open(name)];
  await one.keep([{ content: run('words'), origin: {} }]);
  await one.lock('oak larch elm');
  await expect(other.keep([{ content: run('more'), origin: {} }])).rejects.toMatchObject({
    reason: 'drawer-lock-changed',
  });
  expect(await one.count()).toBe(1);
}, 120_000);
