import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainText, run } from 'drawer';
import { openDrawer, type Rescue, rescueDrawer } from 'drawer/node';
import Database from 'libsql';
import { runCommand } from '../support/cli.ts';
import { indexUpTo } from '../support/index-reach.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-rescue-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const pageSize = 4096;
const count = 40;
const wordsOf = (number: number): string => `snippet ${number} ${'words '.repeat(60)}`.trim();
let whole: Buffer;
let made = 0;

beforeAll(async () => {
  const path = join(folder, 'whole.drawer');
  await (await openDrawer(path)).close();
  indexUpTo(path);
  const drawer = await openDrawer(path);
  for (let number = 0; number < count; number++) await drawer.keep([{ content: run(wordsOf(number)), origin: {} }]);
  await drawer.close();
  whole = readFileSync(path);
});

/** The drawer with one page of its file overwritten. */
function damagedAt(page: number): string {
  const path = join(folder, `${++made}.drawer`);
  const bytes = Buffer.from(whole);
  bytes.fill(0xa5, page * pageSize, (page + 1) * pageSize);
  writeFileSync(path, bytes);
  return path;
}

async function rescued(path: string): Promise<Rescue> {
  const rescue = await rescueDrawer(path);
  if (!rescue) throw new Error('somebody else did it');
  return rescue;
}

const contents = async (path: string): Promise<string[]> => {
  const drawer = await openDrawer(path);
  const listed = await drawer.list(1, 1000);
  const texts = await Promise.all(listed.map(async ({ summary }) => plainText((await drawer.get(summary.id)).content)));
  expect((await drawer.check()).faults).toEqual([]);
  await drawer.close();
  return texts;
};

it('rescues what can be read, whichever page is damaged, in order and in a drawer that is whole', async () => {
  const all = Array.from({ length: count }, (_, number) => wordsOf(number));
  let mostly = 0;
  const pages = whole.length / pageSize;
  for (let page = 1; page < pages; page++) {
    const path = damagedAt(page);
    const { snippets, lost, kept } = await rescued(path);
    const now = await contents(path);
    expect(now).toEqual(all.filter((words) => now.includes(words)));
    expect([now.length, snippets + lost, existsSync(kept)]).toEqual([snippets, count, true]);
    expect(
      readFileSync(kept)
        .subarray(page * pageSize, (page + 1) * pageSize)
        .every((byte) => byte === 0xa5),
    ).toBe(true);
    if (snippets >= count - 5) mostly++;
  }
  expect(mostly).toBeGreaterThanOrEqual(pages - 2);
});

it('is told on opening and rescued by the command, which keeps the damaged file', async () => {
  const path = join(folder, 'cut.drawer');
  writeFileSync(path, whole);
  truncateSync(path, whole.length - 3 * pageSize);
  await expect(openDrawer(path)).rejects.toMatchObject({
    code: 'damaged',
    reason: 'drawer-damaged',
  });
  const { code, out, err } = await runCommand(['list'], { cwd: folder, DRAWER: path });
  expect([code, err]).toEqual([
    0,
    expect.stringMatching(/was damaged\. Rescued: \d+ snippets[\s\S]*kept as .*cut\.drawer\.damaged/),
  ]);
  expect(out).toContain('snippet 0');
  expect(await contents(path)).toContain(wordsOf(0));
});

it('finds damage inside by checking, and rescues then', async () => {
  const faults: number[] = [];
  for (let page = 20; page < 26; page++) {
    const path = damagedAt(page);
    const { out, code } = await runCommand(['check'], { cwd: folder, DRAWER: path });
    if (out.includes('Rescued')) faults.push(page);
    expect(code).toBe(0);
    await contents(path);
  }
  expect(faults.length).toBeGreaterThan(3);
});

it('is done once where several programs open a damaged drawer, and none writes to the old one any more', async () => {
  const path = join(folder, 'together.drawer');
  writeFileSync(path, whole);
  truncateSync(path, whole.length - 3 * pageSize);
  const run = (...words: string[]) => runCommand(words, { cwd: folder, DRAWER: path });
  const all = await Promise.all(['a', 'b', 'c', 'd', 'e'].map((words) => run('copy', '--text', words)));
  expect(all.filter(({ err }) => err.includes('Rescued'))).toHaveLength(1);
  // Who had just opened the damaged file is told so, and kept nothing.
  for (const { code, err } of all.filter((each) => each.code !== 0))
    expect([code, err]).toEqual([1, expect.stringMatching(/was moved, deleted or replaced.*nothing was changed/)]);
  const kept = ['a', 'b', 'c', 'd', 'e'].filter((_, index) => all[index]?.code === 0);
  expect(existsSync(`${path}.damaged-2`)).toBe(false);
  expect((await contents(path)).filter((words) => words.length === 1).sort()).toEqual(kept);
  expect(readdirSync(folder).filter((name) => /^together.*resc/.test(name))).toEqual([]);
});

it('leaves nothing to a program that has the damaged file open', async () => {
  const path = damagedAt(20);
  const drawer = await openDrawer(path);
  let changes = 0;
  drawer.watch(() => changes++);
  await rescued(path);
  const moved = { code: 'storage', reason: 'drawer-replaced' };
  await expect(drawer.keep([{ content: run('lost'), origin: {} }])).rejects.toMatchObject(moved);
  await expect(drawer.list()).rejects.toMatchObject(moved);
  const again = await openDrawer(path);
  // A watcher of the new file hears of a change to it; the one of the old file has heard of the rescue alone.
  const heard = new Promise<void>((done) => again.watch(() => done()));
  await again.keep([{ content: run('kept'), origin: {} }]);
  await heard;
  expect(changes).toBeLessThanOrEqual(1);
  await drawer.close(); // which must not take the new drawer's journal away
  expect((await again.list(1, 100)).at(-1)?.summary.facts.preview).toBe('kept');
  await again.close();
  expect((await contents(path)).at(-1)).toBe('kept');
});

it('is finished by whoever opens the drawer next, when its program ended on the way', async () => {
  const done = damagedAt(20);
  const { kept } = await rescued(done);
  const texts = await contents(done);
  for (const movedAway of [1, 2, 3]) {
    const path = join(folder, `${++made}.drawer`);
    const journals = ['-wal', '-shm'];
    copyFileSync(kept, `${path}.damaged`);
    copyFileSync(done, `${path}.rescue`);
    for (const [index, ending] of journals.entries())
      writeFileSync(index < movedAway - 1 ? `${path}.damaged${ending}` : path + ending, `the journal ${ending}`);
    expect(await contents(path)).toEqual(texts);
    expect(journals.map((ending) => readFileSync(`${path}.damaged${ending}`, 'utf8'))).toEqual(
      journals.map((ending) => `the journal ${ending}`),
    );
    expect(existsSync(`${path}.rescue`)).toBe(false);
  }
});

/** The row of the snippet at a number, from 1. */
const rowAt = (number: number): string =>
  `(SELECT row FROM snippet ORDER BY json_extract(head, '$.order') LIMIT 1 OFFSET ${number - 1})`;

interface Damage {
  readonly what: string;
  readonly sql: string;
  readonly fault: RegExp;
  /** The number of the snippet that is lost by it. */
  readonly lost?: number;
}

const damages: readonly Damage[] = [
  {
    what: 'a head that is cut short',
    sql: `UPDATE snippet SET head = '{"id":' WHERE row = ${rowAt(8)}`,
    fault: /Snippet 8: A row of the drawer is damaged/,
    lost: 8,
  },
  {
    what: 'a head of another type',
    sql: `UPDATE snippet SET head = json_set(head, '$.label', 5) WHERE row = ${rowAt(40)}`,
    fault: /Snippet 40: .*not valid at label/,
    lost: 40,
  },
  {
    what: 'content that is not valid',
    sql: `UPDATE snippet SET content = '{"shape":"run","inlines":[5]}' WHERE row = ${rowAt(1)}`,
    fault: /Snippet 1: .*not valid at content/,
    lost: 1,
  },
  { what: 'the history', sql: "UPDATE action SET changes = '[{'", fault: /The history: A row/ },
  {
    what: 'the rules',
    sql: `INSERT INTO settings VALUES ('drawer', '{"capacity":"many"}')`,
    fault: /^ {2}The rules of the drawer are damaged/m,
  },
  {
    what: 'an order that is not a snippet’s own',
    sql: `UPDATE snippet SET "order" = 'zzzz' WHERE row = ${rowAt(3)}`,
    fault: /1 snippet filed otherwise than by order, time and size/,
  },
  { what: 'counts', sql: 'UPDATE shelf SET snippets = 7, bytes = 7', fault: /There are 40 snippets, not the 47/ },
  { what: 'an index of a table', sql: 'DROP INDEX snippet_order', fault: /snippet_order is missing/ },
  { what: 'a trigger', sql: 'DROP TRIGGER media_added', fault: /media_added is missing/ },
  { what: 'a table', sql: 'DROP TABLE shelf', fault: /Rescued/ },
  {
    what: 'what the file does by itself',
    sql: "CREATE TRIGGER own AFTER INSERT ON action BEGIN DELETE FROM snippet WHERE expires = 'x'; END",
    fault: /own does not belong in the file/,
  },
];

describe.each(damages)('damage to $what', ({ sql, fault, lost }) => {
  it('is named by the command, which rescues all else', async () => {
    const path = join(folder, `${++made}.drawer`);
    writeFileSync(path, whole);
    const database = new Database(path);
    database.exec(sql);
    database.close();
    const { code, out, err } = await runCommand(['check'], { cwd: folder, DRAWER: path });
    expect([code, out + err]).toEqual([0, expect.stringMatching(fault)]);
    const rescued =
      lost === undefined
        ? 'Rescued: 40 snippets and 0 pictures.'
        : 'Rescued: 39 snippets and 0 pictures; lost: 1 snippet.';
    expect(out).toContain(rescued);
    const all = Array.from({ length: count }, (_, number) => wordsOf(number));
    expect(await contents(path)).toEqual(all.filter((_, index) => index + 1 !== lost));
  });
});

it('rescues a locked drawer with its passphrase, by which damaged rows are known', async () => {
  const path = join(folder, `${++made}.drawer`);
  writeFileSync(path, whole);
  const drawer = await openDrawer(path);
  await drawer.lock('larch and oak');
  await drawer.close();
  const database = new Database(path);
  database.exec(
    `UPDATE snippet SET content = (SELECT content FROM snippet ORDER BY row DESC LIMIT 1)
     WHERE row = (SELECT min(row) FROM snippet)`,
  );
  database.close();
  const environment = { cwd: folder, DRAWER: path, DRAWER_PASSPHRASE: 'larch and oak' };
  const { out, err } = await runCommand(['check'], environment);
  expect(err).toMatch(/was changed outside Drawer/);
  expect(out).toMatch(/Rescued: 39 snippets.*lost: 1 snippet/);
  expect((await runCommand(['check'], environment)).out).toMatch(/^Looked over 39 snippets.*all is well/);
});
