import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Drawer, doc, run, table } from 'drawer';
import { openDrawer, readFromFile, wholeOf } from 'drawer/node';
import Database from 'libsql';
import { allMedia } from '../support/arbitrary.ts';
import { runCommand } from '../support/cli.ts';
import { samplePictures } from '../support/pictures.ts';
import { did } from '../support/said.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-lock-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const passphrase = 'copper rivets on oak';
const words = /swordfish|Passwords|ledger|Timber/;
let made = 0;

/** Everything its files hold, copies and journals too. */
const bytesOf = (path: string): string =>
  readdirSync(folder)
    .map((name) => join(folder, name))
    .filter((name) => name.startsWith(path))
    .map((name) => readFileSync(name, 'latin1'))
    .join('');

async function filled(): Promise<{ readonly path: string; readonly drawer: Drawer }> {
  const path = join(folder, `${++made}.drawer`);
  const drawer = await openDrawer(path);
  await drawer.keep([
    { content: run('swordfish and oak'), origin: { file: 'ledger.docx' }, label: 'Passwords' },
    { content: doc(table(1, ['Timber'], ['oak'])), origin: {} },
    {
      content: { shape: 'picture', picture: { media: samplePictures[0]?.hash ?? '', mediaType: 'image/png' } },
      origin: {},
      media: allMedia,
    },
  ]);
  await drawer.changeSettings({ ignored: ['ledger-of-others'] });
  return { path, drawer };
}

const everything = async (drawer: Drawer): Promise<unknown> => [
  await Promise.all((await drawer.list()).map(({ summary }) => drawer.get(summary.id))),
  await drawer.settings(),
  (await drawer.history()).map(({ name, changes }) => [name, changes]),
  await Promise.all(samplePictures.map(({ hash }) => drawer.findMedia(hash))),
  await drawer.bytes(),
];

it('seals all that a drawer holds and gives it back as it was', async () => {
  const { path, drawer } = await filled();
  const before = await everything(drawer);
  expect(bytesOf(path)).toMatch(words);
  await drawer.lock(passphrase);
  expect([await drawer.isLocked(), bytesOf(path)]).toEqual([true, expect.not.stringMatching(words)]);
  await drawer.close();
  const again = await openDrawer(path, { passphrase });
  expect(await again.settings()).toMatchObject({ ignored: ['ledger-of-others'] });
  await again.unlock();
  expect(await everything(again)).toEqual(before);
  expect((await again.find(['oak'])).map(({ position }) => position)).toEqual([2, 1]);
  expect((await again.check()).faults).toEqual([]);
  await again.close();
  await (await openDrawer(path)).close();
});

it('does all a drawer does while it is locked, and writes nothing in the clear', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  await drawer.keep([{ content: run('swordfish again'), origin: { file: 'ledger.docx' } }]);
  expect((await drawer.find(['swordfsih'])).map(({ position }) => position)).toEqual([4, 1]);
  const [first] = await drawer.select(['label:passwords']);
  await drawer.edit(first?.summary.id ?? '', run('swordfish, edited'));
  await drawer.move([first?.summary.id ?? ''], 5);
  await drawer.remove([first?.summary.id ?? '']);
  expect(did(await drawer.undo())).toBe('Deleted 1 snippet');
  expect((await drawer.check()).faults).toEqual([]);
  await drawer.close();
  expect(bytesOf(path)).not.toMatch(words);
});

it('is locked between the calls before and those behind, which close it at once, and keeps no trace', async () => {
  const { path, drawer } = await filled();
  const keep = (text: string) => drawer.keep([{ content: run(text), origin: { file: 'ledger.docx' } }]);
  const [, , , found] = await Promise.all([
    keep('swordfish before'),
    drawer.lock(passphrase),
    keep('swordfish behind'),
    drawer.find(['swordfish']),
    drawer.close(),
  ]);
  expect([found.map(({ position }) => position), bytesOf(path)]).toEqual([[5, 4, 1], expect.not.stringMatching(words)]);
  const again = await openDrawer(path, { passphrase });
  const [, listed] = await Promise.all([again.unlock(), again.list(), again.lock('another one'), again.close()]);
  expect(listed).toHaveLength(5);
  expect(bytesOf(path)).not.toMatch(words);
  await expect(openDrawer(path, { passphrase })).rejects.toMatchObject({ code: 'locked' });
  await (await openDrawer(path, { passphrase: 'another one' })).close();
});

it('opens with its passphrase only, and says so', async () => {
  const { path, drawer } = await filled();
  const other = await openDrawer(path);
  await drawer.lock(passphrase);
  await expect(other.list()).rejects.toMatchObject({ code: 'locked' });
  await expect(other.keep([{ content: run('in the clear'), origin: {} }])).rejects.toMatchObject({ code: 'locked' });
  await other.close();
  await drawer.close();
  await expect(openDrawer(path)).rejects.toMatchObject({ code: 'locked', reason: 'drawer-locked' });
  await expect(openDrawer(path, { passphrase: 'elm' })).rejects.toMatchObject({
    reason: 'passphrase-wrong',
  });
});

it('is not locked with what is soon guessed, and not opened at any cost', async () => {
  const { path, drawer } = await filled();
  await expect(drawer.lock('oak')).rejects.toMatchObject({ code: 'usage' });
  await drawer.lock(passphrase);
  await drawer.close();
  const database = new Database(path);
  const { value } = database.prepare("SELECT value FROM settings WHERE name = 'lock'").get() as { value: string };
  const costly = JSON.stringify({ ...JSON.parse(value), cost: 2 ** 20, blockSize: 16, parallel: 4 });
  database.prepare("UPDATE settings SET value = ? WHERE name = 'lock'").run(costly);
  database.close();
  await expect(openDrawer(path, { passphrase })).rejects.toMatchObject({
    message: expect.stringMatching(/too long to open/),
  });
});

/** What somebody may do who can write to the file and has no passphrase. */
const tamperings: readonly [string, (now: Database.Database, before: Database.Database) => void][] = [
  [
    'puts one row in the place of another',
    (now) => now.exec(`UPDATE snippet SET content = (SELECT content FROM snippet LIMIT 1)`),
  ],
  [
    'puts rows back to what they were',
    (now, before) => {
      const rows = before.prepare('SELECT id, "order", alike, expires, bytes, head, content FROM snippet').all();
      for (const { id, ...row } of rows as Record<string, unknown>[])
        now
          .prepare(
            'UPDATE snippet SET "order" = ?, alike = ?, expires = ?, bytes = ?, head = ?, content = ? WHERE id = ?',
          )
          .run(...Object.values(row), id);
    },
  ],
  ['has a row expire', (now) => now.exec(`UPDATE snippet SET expires = '2001-01-01T00:00:00.000Z'`)],
  ['moves a row', (now) => now.exec(`UPDATE snippet SET "order" = 'Zz' WHERE row = (SELECT max(row) FROM snippet)`)],
  ['takes a row out', (now) => now.exec('DELETE FROM snippet WHERE row = (SELECT max(row) FROM snippet)')],
  ['has an action undone', (now) => now.exec(`UPDATE action SET state = 'undone'`)],
  ['takes the history out', (now) => now.exec('DELETE FROM action')],
  ['takes the rules out', (now) => now.exec(`DELETE FROM settings WHERE name = 'drawer'`)],
  ['takes the mark of the whole out', (now) => now.exec(`DELETE FROM settings WHERE name = 'whole'`)],
  [
    'says there is no such mark',
    (now) =>
      now.exec(
        `DELETE FROM settings WHERE name = 'whole'; UPDATE settings SET value = json_remove(value, '$.whole') WHERE name = 'lock'`,
      ),
  ],
];

it.each(tamperings)('notices when somebody without the passphrase %s', async (_, tamper) => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  await drawer.changeSettings({ capacity: 500 });
  await drawer.close();
  copyFileSync(path, `${path}.before`);
  const meanwhile = await openDrawer(path, { passphrase });
  await meanwhile.mark([(await meanwhile.list())[0]?.summary.id ?? ''], { label: 'changed' });
  await meanwhile.close();
  const [now, before] = [new Database(path), new Database(`${path}.before`)];
  tamper(now, before);
  now.close();
  before.close();
  const code = expect.stringMatching(/^(?:damaged|locked)$/);
  await expect(openDrawer(path, { passphrase })).rejects.toMatchObject({ code });
});

it('is not taken for another that somebody puts in its place, unless it was unlocked here or that is said', async () => {
  const { path, drawer } = await filled();
  await drawer.close();
  const unlocked = readFileSync(path);
  await (await openDrawer(path)).close();
  const again = await openDrawer(path);
  await again.lock(passphrase);
  await again.close();
  const locked = readFileSync(path);
  writeFileSync(path, unlocked);
  await expect(openDrawer(path)).rejects.toMatchObject({ code: 'refused', where: path });
  expect(readFileSync(path)).toEqual(unlocked);
  writeFileSync(path, locked);
  const opened = await openDrawer(path, { passphrase });
  await opened.unlock();
  await opened.close();
  await (await openDrawer(path)).close();
});

it('is not made anew where a locked one was, unless that is said', async () => {
  const path = join(folder, 'gone.drawer');
  const command = (...line: string[]) => runCommand(line, { cwd: folder, DRAWER: path, DRAWER_PASSPHRASE: passphrase });
  expect((await command('rules', '--lock')).code).toBe(0);
  rmSync(path);
  const refused = await command('copy', '--text', 'swordfish');
  expect([refused.code, refused.err]).toEqual([
    1,
    expect.stringMatching(/was locked when you last used it.*drawer rules --unlock/),
  ]);
  expect(existsSync(path)).toBe(false);
  expect((await command('rules', '--unlock')).out).toBe('The drawer is not locked.\n');
  expect((await command('copy', '--text', 'oak')).out).toMatch(/^Kept as 1/);
});

it('notices it while it is open', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  expect(await drawer.count()).toBe(3);
  const other = new Database(path);
  other.exec(`UPDATE snippet SET expires = '2001-01-01T00:00:00.000Z'`);
  other.close();
  await expect(drawer.list()).rejects.toMatchObject({ code: 'damaged' });
  await expect(drawer.keep([{ content: run('more'), origin: {} }])).rejects.toMatchObject({ code: 'damaged' });
  await drawer.close();
});

it('lets several programs change it in turn', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  const both = [drawer, await openDrawer(path, { passphrase })];
  for (let turn = 0; turn < 12; turn++) {
    await (both[turn % 2] as Drawer).keep([{ content: run(`turn ${turn}`), origin: {} }]);
    if (turn % 3 === 0) await (both[(turn + 1) % 2] as Drawer).undo();
  }
  for (const each of both) expect([await each.count(), (await each.check()).faults]).toEqual([11, []]);
  for (const each of both) await each.close();
});

it('is locked and unlocked by the command, with the passphrase from the environment', async () => {
  const { path, drawer } = await filled();
  await drawer.close();
  const command = (variables: Record<string, string>, ...line: string[]) =>
    runCommand(line, { cwd: folder, DRAWER: path, ...variables });
  const known = { DRAWER_PASSPHRASE: passphrase };
  expect((await command({}, 'rules', '--lock')).code).toBe(2);
  expect((await command(known, 'rules', '--lock')).out).toMatch(/^The drawer is locked/);
  const refused = await command({}, 'list');
  expect([refused.code, refused.out, refused.err]).toEqual([1, '', expect.stringContaining('DRAWER_PASSPHRASE')]);
  expect((await command(known, 'list')).out).toContain('Passwords');
  const edited = await command({ ...known, EDITOR: 'cat' }, 'edit', '1'); // an editor keeps what it shows
  expect([edited.code, edited.out, edited.err]).toEqual([1, '', expect.stringContaining('The drawer is locked')]);
  expect((await command(known, 'rules', '--unlock')).out).toMatch(/in the clear again/);
  expect((await command({}, 'list')).out).toContain('Passwords');
});

it('is a place like any other where its passphrase is known: taken from, pasted into, cut', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  await drawer.close();
  const own = join(folder, 'beside-locked.drawer');
  const command = (variables: Record<string, string>, ...line: string[]) =>
    runCommand(line, { cwd: folder, DRAWER: own, ...variables });
  const known = { DRAWER_PASSPHRASE: passphrase };
  const refused = await command({}, 'copy', `${path}#1`);
  expect([refused.code, refused.err]).toEqual([1, expect.stringMatching(/is locked.*DRAWER_PASSPHRASE/)]);
  expect((await command({ DRAWER_PASSPHRASE: 'another' }, 'copy', `${path}#1`)).err).toContain(
    'The passphrase is wrong',
  );
  expect((await command(known, 'copy', `${path}#1`)).out).toContain('Kept as 1');
  expect((await command(known, 'outline', path)).out).toContain('Passwords');
  expect((await command(known, 'paste', '1', '--into', path)).out).toMatch(/^Pasted 1 snippet into/);
  expect((await command(known, 'cut', `${path}#2`)).out).toContain('Taken out of');
});

it('is asked for its passphrase until that is right, by who takes from it', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  await drawer.close();
  const asked: unknown[] = [];
  const answers = ['oak', passphrase];
  const { separate } = await readFromFile(wholeOf(path), {
    passphraseOf: async (file, { reason }, tried) => {
      asked.push([file, reason, tried]);
      return answers[asked.length - 1] ?? '';
    },
  });
  expect(separate).not.toHaveLength(0);
  expect(asked).toEqual([
    [path, 'drawer-locked', undefined],
    [path, 'passphrase-wrong', 'oak'],
  ]);
  const givingUp = readFromFile(wholeOf(path), {
    passphraseOf: async (_, problem) => {
      throw problem;
    },
  });
  await expect(givingUp).rejects.toMatchObject({ code: 'locked', where: path });
});
