import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type Content,
  createDrawer,
  type Drawer,
  doc,
  memoryStorage,
  paragraph,
  plainText,
  run,
  type Snippet,
  type Storage,
} from 'drawer';
import { sqliteStorage } from 'drawer/node';
import * as fc from 'fast-check';
import Database from 'libsql';
import { indexUpTo } from '../support/index-reach.ts';
import { countingTools } from '../support/storages.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-secrets-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A place for a drawer, and all the bytes that it keeps on disk. */
interface Kept {
  readonly storage: Storage;
  bytes(): string;
}

let made = 0;
const inFile = async (isIndexed: boolean): Promise<Kept> => {
  const path = join(folder, `${++made}.drawer`);
  if (isIndexed) {
    await sqliteStorage(path).close();
    indexUpTo(path);
  }
  const files = [path, `${path}-wal`];
  return {
    storage: sqliteStorage(path),
    bytes: () => files.map((name) => (existsSync(name) ? readFileSync(name, 'latin1') : '')).join(''),
  };
};

const step = fc.record({
  what: fc.constantFrom(
    'keep',
    'keep',
    'split',
    'merge',
    'take in',
    'append',
    'hide',
    'remove',
    'undo',
    'undo',
    'redo',
  ),
  one: fc.nat(),
  other: fc.nat(),
  isSecret: fc.boolean(),
});

const token = /word\d+x/g;

/** What undo took back, or that it cannot: then it is the next one's turn. */
const undone = async (drawer: Drawer): Promise<string | undefined> => {
  try {
    return (await drawer.undo())?.action.name.kind;
  } catch (error) {
    expect(error).toMatchObject({ code: 'refused' });
    return 'cannot be undone';
  }
};

/** Does what a step says, as far as there is something to do it to. */
async function take(
  drawer: Drawer,
  all: readonly Snippet[],
  { what, one: first, other: second, isSecret }: typeof step extends fc.Arbitrary<infer Step> ? Step : never,
  newWord: () => string,
): Promise<void> {
  const [one, other] = [all[first % all.length], all[second % all.length]];
  const secret = isSecret ? { secret: true as const } : {};
  const content: Content = second % 2 ? run(newWord()) : doc(paragraph(newWord()), paragraph(newWord()));
  if (what === 'undo') return void (await undone(drawer));
  if (what === 'redo') return void (await drawer.redo());
  if (what === 'keep' || !one || !other) return void (await drawer.keep([{ content, origin: {}, ...secret }]));
  if (what === 'append') return void (await drawer.append([{ content, origin: {}, ...secret }], { onto: one.id }));
  if (what === 'hide') return drawer.mark([one.id], { secret: true });
  if (what === 'remove') return void (await drawer.remove([one.id], { builtUp: true }));
  if (what === 'split' && one.content.shape === 'blocks')
    return void (await drawer.split(
      one.id,
      one.content.blocks.map((block) => doc(block)),
    ));
  if (one === other) return;
  if (what === 'merge') {
    const words = [one, other].map((each) => paragraph(plainText(each.content)));
    await drawer.merge({ of: [one.id, other.id], content: doc(...words), takeOut: true });
  }
  if (what === 'take in') {
    const { content: taken, origin, secret: hidden } = other;
    await drawer.append([{ content: taken, origin, ...(hidden && { secret: hidden }) }], {
      onto: one.id,
      takeOut: [other.id],
    });
  }
}

describe.each<[string, () => Promise<Kept>]>([
  ['memory', async () => ({ storage: memoryStorage(), bytes: () => '' })],
  ['a file', () => inFile(false)],
  ['a file with all in its index', () => inFile(true)],
])('secrets in %s', (_, open) => {
  it('leave no trace when they go, however they were parted, put together, done and undone; the rest stays whole', async () => {
    let erased = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 5, maxLength: 25, size: 'max' }), async (steps) => {
        const { storage, bytes } = await open();
        const drawer = createDrawer({ storage, ...countingTools() });
        const everySnippet = async (): Promise<Snippet[]> =>
          Promise.all((await drawer.list(1, 1000)).map(({ summary }) => drawer.get(summary.id)));
        let words = 0;
        for (const each of steps) {
          const before = await everySnippet();
          await take(drawer, before, each, () => `word${++words}x`);
          const after = await everySnippet();
          const there = after.map(({ content }) => plainText(content)).join(' ');
          const history = JSON.stringify(await drawer.history());
          const traces = history + bytes();
          for (const { id, secret, content } of before) {
            if (!secret || after.find((one) => one.id === id)?.secret) continue;
            const gone = (plainText(content).match(token) ?? []).filter((word) => !there.includes(word));
            erased += gone.length;
            expect(gone.filter((word) => traces.includes(word))).toEqual([]);
          }
        }
        for (let more = true; more; ) more = (await undone(drawer)) !== undefined;
        for (let more = true; more; ) more = (await drawer.redo()) !== undefined;
        expect((await drawer.check()).faults).toEqual([]);
        await drawer.close();
      }),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
    expect(erased).toBeGreaterThan(20);
  }, 120_000);
});

it('leave no trace in what could be done again to a snippet that had taken them in', async () => {
  const { storage, bytes } = await inFile(false);
  await using drawer = createDrawer({ storage, ...countingTools() });
  await drawer.keep([
    { content: doc(paragraph('open'), paragraph('words')) },
    { content: run('word3x'), secret: true },
  ]);
  const [one = '', other = ''] = (await drawer.list(1, 2)).map(({ summary }) => summary.id);
  const { content } = await drawer.get(other);
  await drawer.append({ content, secret: true }, { onto: one, takeOut: [other] });
  await drawer.append({ content: run('more') }, { onto: one });
  for (let times = 0; times < 3; times++) await drawer.undo(); // the third takes back that it was kept
  expect(JSON.stringify(await drawer.history()) + bytes()).not.toContain('word3x');
  await drawer.redo();
  expect(plainText((await drawer.get(one)).content)).toContain('open');
  expect(await drawer.count()).toBe(1);
});

it('leave the journal as soon as another program that reads meanwhile lets them, and do not hold up this one', async () => {
  const { storage, bytes } = await inFile(false);
  const path = join(folder, `${made}.drawer`);
  const drawer = createDrawer({ storage, ...countingTools() });
  const [kept] = await drawer.keep([{ content: run('swordfish'), origin: {}, secret: true }]);
  const other = new Database(path);
  other.exec('BEGIN');
  other.prepare('SELECT count(*) FROM snippet').get();
  let ticks = 0;
  const timer = setInterval(() => ticks++, 10);
  expect(await drawer.remove(kept?.kind === 'kept' ? [kept.summary.id] : [])).toMatchObject({ erased: 1 });
  clearInterval(timer);
  expect([ticks > 20, bytes()]).toEqual([true, expect.stringContaining('swordfish')]);
  other.exec('COMMIT');
  await drawer.keep([{ content: run('oak'), origin: {} }]);
  expect(bytes()).not.toContain('swordfish');
  await drawer.close();
  other.close();
}, 20_000);
