import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Drawer, doc, run, table } from 'drawer';
import { openDrawer, takeFromFile, wholeOf } from 'drawer/node';
import Database from 'libsql';
import { allMedia } from './support/arbitrary.ts';
import { runCommand } from './support/cli.ts';
import { samplePictures } from './support/pictures.ts';

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
  await Promise.all((await drawer.list()).map(({ head }) => drawer.get(head.id))),
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
  expect([drawer.isLocked(), bytesOf(path)]).toEqual([true, expect.not.stringMatching(words)]);
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
  await drawer.edit(first?.head.id ?? '', run('swordfish, edited'));
  await drawer.move([first?.head.id ?? ''], 5);
  await drawer.remove([first?.head.id ?? '']);
  expect(await drawer.undo()).toBe('Deleted 1 snippet');
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
  await expect(openDrawer(path)).rejects.toMatchObject({ code: 'locked', message: expect.stringContaining('locked') });
  await expect(openDrawer(path, { passphrase: 'elm' })).rejects.toMatchObject({
    message: expect.stringContaining('not right'),
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

it('tells rows that were changed, or put in the place of others', async () => {
  const { path, drawer } = await filled();
  await drawer.lock(passphrase);
  await drawer.close();
  const database = new Database(path);
  database.exec(`UPDATE snippet SET content = (SELECT content FROM snippet ORDER BY "order" LIMIT 1)`);
  database.close();
  const again = await openDrawer(path, { passphrase });
  expect((await again.check()).faults).toEqual([
    'Snippet 2: A row of the drawer is damaged',
    'Snippet 3: A row of the drawer is damaged',
  ]);
  await again.close();
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
  expect((await command({ DRAWER_PASSPHRASE: 'another' }, 'copy', `${path}#1`)).err).toContain('is not right');
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
  const { separate } = await takeFromFile(wholeOf(path), {
    passphraseOf: async (file, { details }, tried) => {
      asked.push([file, details.what, tried]);
      return answers[asked.length - 1] ?? '';
    },
  });
  expect(separate).not.toHaveLength(0);
  expect(asked).toEqual([
    [path, 'The drawer is locked', undefined],
    [path, 'The passphrase is not right', 'oak'],
  ]);
  const givingUp = takeFromFile(wholeOf(path), {
    passphraseOf: async (_, problem) => {
      throw problem;
    },
  });
  await expect(givingUp).rejects.toMatchObject({ code: 'locked', details: { where: path } });
});
