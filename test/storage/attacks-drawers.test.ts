import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { openDrawer } from 'drawer/node';
import Database from 'libsql';
import { type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const victim = 'rules.txt';

/** A drawer with something in it, and what somebody else does to its file afterwards. */
async function changedBy(name: string, statements: string): Promise<void> {
  const path = place.path(name);
  await place.run('copy', '--text', 'oak', '--drawer', path);
  const database = new Database(path);
  database.exec(statements);
  database.close();
}

const bytesOf = (words: string): string => `x'${Buffer.from(words).toString('hex')}'`;
/** SHA-256 of what the tests write, and of nothing. */
const sha256 = async (words: string): Promise<string> =>
  Buffer.from(await crypto.subtle.digest('SHA-256', Buffer.from(words))).toString('hex');

/** An action that nobody did, whose undoing makes a file. */
async function madeUpAction(path: string, from: string): Promise<string> {
  const hash = await sha256('owned\n');
  const change = { path, from, to: hash, start: 0, end: 0, between: hash };
  return `INSERT OR REPLACE INTO media VALUES ('${hash}', ${bytesOf('owned\n')});
          INSERT INTO action VALUES (9, 'done', 'Kept 1 snippet', '2026-05-04T09:00:00Z', '[]', '${JSON.stringify([change])}', NULL);`;
}

describe('a drawer that somebody else made', () => {
  it('makes and replaces no file by a history that it brings', async () => {
    writeFileSync(place.path(victim), 'mine\n');
    for (const [file, from] of [
      ['new.txt', ''],
      [victim, await sha256('mine\n')],
    ] as const) {
      await changedBy(`evil-${file}.drawer`, await madeUpAction(place.path(file), from));
      const { code, err } = await place.run('undo', '--drawer', place.path(`evil-${file}.drawer`));
      expect([code, err]).toEqual([1, expect.stringContaining('You did not make this change on this computer')]);
      expect(err).toContain(place.path(file));
    }
    expect(existsSync(place.path('new.txt'))).toBe(false);
    expect(readFileSync(place.path(victim), 'utf8')).toBe('mine\n');
    const skipping = await place.run('undo', '--skip', '--drawer', place.path('evil-new.txt.drawer'));
    expect([skipping.code, skipping.err]).toEqual([0, expect.stringMatching(/^Skipped: Kept 1 snippet/)]);
  });

  it('reaches no other drawer by a history that it brings', async () => {
    await place.run('copy', '--text', 'kept');
    const change = { type: 'elsewhere', drawer: place.drawer, from: 1, to: 1 };
    await changedBy(
      'evil.drawer',
      `INSERT INTO action VALUES (9, 'done', 'x', '2026-05-04T09:00:00Z', '${JSON.stringify([change])}', NULL, NULL);`,
    );
    expect((await place.run('undo', '--drawer', place.path('evil.drawer'))).code).toBe(1);
    expect((await place.run('list')).out).toContain('kept');
  });

  it.each([
    ['a trigger', `CREATE TRIGGER later AFTER DELETE ON snippet BEGIN DELETE FROM media; END`],
    [
      'a trigger of ours that does something else',
      `DROP TRIGGER media_added; CREATE TRIGGER media_added AFTER INSERT ON media BEGIN DELETE FROM snippet; END`,
    ],
    ['a view', `CREATE VIEW extra AS SELECT * FROM snippet`],
    ['a table', `CREATE TABLE extra (a)`],
    ['an index', `CREATE INDEX extra ON snippet (bytes)`],
  ])('is not used with %s in it, and gives its snippets to a clean one', async (_, statements) => {
    await place.run('copy', '--text', 'mine');
    await changedBy('evil.drawer', statements);
    const evil = place.path('evil.drawer');
    const before = readFileSync(evil);
    for (const words of [
      ['copy', 'evil.drawer'],
      ['cut', 'evil.drawer#1'],
      ['paste', 'all', '--into', 'evil.drawer'],
    ])
      expect([(await place.run(...words)).code, words]).toEqual([1, words]);
    expect(readFileSync(evil)).toEqual(before);
    expect((await place.run('check', 'evil.drawer')).out).toMatch(/Rescued: 1 snippet/);
    expect((await place.run('copy', 'evil.drawer')).out).toContain('Kept as 2');
  });
});

it('undoes what it did to files itself, and names each of them whole', async () => {
  await place.run('copy', '--text', 'oak');
  writeFileSync(place.path(victim), 'mine\n');
  await place.run('paste', '1', '--into', victim);
  expect((await place.run('undo', '--list')).out).toContain(place.path(victim));
  expect((await place.run('undo')).out).toContain(`${place.path(victim)} is as before.`);
  expect((await place.run('redo')).code).toBe(0);
  expect(readFileSync(place.path(victim), 'utf8')).toContain('oak');
});

it('tells nobody in a locked drawer what it put into a file, not by its hash either', async () => {
  writeFileSync(place.path(victim), 'PIN: \n');
  await place.run('copy', '--text', '4711');
  await place.run('paste', '1', '--into', `${victim}#:~:text=PIN:`, '--side', 'replace');
  expect(readFileSync(place.path(victim), 'utf8')).toContain('4711');
  const drawer = await openDrawer(place.drawer);
  await drawer.lock('copper rivets on oak');
  await drawer.close();
  const database = new Database(place.drawer);
  const hashes = (database.prepare('SELECT hash FROM media').all() as { hash: string }[]).map(({ hash }) => hash);
  database.close();
  expect(hashes.length).toBeGreaterThan(0);
  for (const words of ['4711', 'PIN:', 'PIN: ', '']) expect(hashes).not.toContain(await sha256(words));
  const again = await openDrawer(place.drawer, { passphrase: 'copper rivets on oak' });
  await again.undo();
  await again.close();
  expect(readFileSync(place.path(victim), 'utf8')).toBe('PIN: \n');
});
