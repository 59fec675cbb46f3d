import { existsSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainText, run } from 'drawer';
import { openDrawer, rescueDrawer } from 'drawer/node';
import { runCommand } from './support/cli.ts';
import { indexUpTo } from './support/index-reach.ts';

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

const contents = async (path: string): Promise<string[]> => {
  const drawer = await openDrawer(path);
  const listed = await drawer.list(1, 1000);
  const texts = await Promise.all(listed.map(async ({ head }) => plainText((await drawer.get(head.id)).content)));
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
    const { snippets, lost, kept } = await rescueDrawer(path);
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
    message: expect.stringContaining('drawer check'),
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
