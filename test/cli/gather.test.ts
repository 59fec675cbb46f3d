import { spawn } from 'node:child_process';
import { copyFileSync, existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { openDrawer } from 'drawer/node';
import { type Ran, type Workplace, workplace } from '../support/cli.ts';

const names = ['survey.docx', 'costs.xlsx', 'history.odt', 'crew.ods', 'letters.html', 'log.md', 'sailings.csv'];
let place: Workplace;
beforeEach(() => {
  place = workplace();
  for (const name of [...names, 'ferry.png']) copyFileSync(place.demo(name), place.path(name));
});
afterEach(() => place.remove());

const bytes = (name: string): string => readFileSync(place.path(name)).toString('base64');

/** Runs the command with something on its standard input. */
function runWith(input: string, ...words: string[]): Promise<Ran> {
  return new Promise((done) => {
    const child = spawn(process.execPath, [resolve('dist/bin/drawer.cjs'), ...words], {
      cwd: place.folder,
      env: { ...process.env, DRAWER: place.drawer, COLUMNS: '100' },
    });
    const ran = { out: '', err: '' };
    child.stdout.on('data', (chunk) => (ran.out += chunk));
    child.stderr.on('data', (chunk) => (ran.err += chunk));
    child.on('close', (code) => done({ code, ...ran }));
    child.stdin.end(input);
  });
}

it('gathers from every kind of file, and says what, how large and from where', async () => {
  const { code, out } = await place.run(
    'copy',
    'survey.docx#section=Hull condition',
    'costs.xlsx#TimberPrices',
    'history.odt#list=1',
    'crew.ods#Hours',
    'letters.html#table=1',
    'log.md#line=0,3',
    'sailings.csv#row=2-3',
    'ferry.png',
    '--text',
    'typed words',
  );
  expect([code, out.split('\n')]).toEqual([
    0,
    [
      'Kept as 1: section, 160 words, from survey.docx, Hull condition',
      'Kept as 2: table, 4 × 1, from costs.xlsx, TimberPrices',
      'Kept as 3: list, 3 items, from history.odt, list 1',
      'Kept as 4: table, 4 × 2, from crew.ods, Hours',
      'Kept as 5: table, 3 × 3, from letters.html, table 1',
      'Kept as 6: section, 11 words, from log.md, lines 1–3',
      'Kept as 7: table, 2 × 5, from sailings.csv, rows 2–3',
      'Kept as 8: picture, 480 × 300 pt, from ferry.png',
      'Kept as 9: 2 words',
      '',
    ],
  ]);
});

it.each([
  ['survey.docx', 'table=1'],
  ['costs.xlsx', 'Timber!B2:C4'],
  ['history.odt', 'section=Laid up'],
  ['crew.ods', 'Hours!B2:B3'],
  ['letters.html', 'list=1'],
  ['log.md', ':~:text=high%20water'],
  ['sailings.csv', 'col=2'],
])('cut then undo gives the same bytes: %s#%s', async (name, fragment) => {
  const before = bytes(name);
  const cut = await place.run('cut', `${name}#${fragment}`);
  expect([cut.code, cut.out]).toEqual([
    0,
    expect.stringMatching(/^Kept as 1: .*\nTaken out of .*drawer undo puts it back\.\n$/),
  ]);
  const after = bytes(name);
  expect(after).not.toBe(before);
  const undone = await place.run('undo');
  expect([undone.code, undone.out]).toEqual([0, expect.stringContaining(`${name} is as before.`)]);
  expect([bytes(name), JSON.parse((await place.run('list', '--json')).out).count]).toEqual([before, 0]);
  await place.run('redo');
  expect([bytes(name), JSON.parse((await place.run('list', '--json')).out).count]).toEqual([after, 1]);
  await place.run('undo', '--keep');
  expect([bytes(name), JSON.parse((await place.run('list', '--json')).out).count]).toEqual([before, 1]);
  expect(readdirSync(place.folder).filter((each) => each.endsWith('.part'))).toEqual([]);
});

it('does not put back over what was changed since, and says so', async () => {
  await place.run('cut', 'log.md#section=4 May 2026');
  writeFileSync(place.path('log.md'), `${readFileSync(place.path('log.md'), 'utf8')}\nmore`);
  const { code, err } = await place.run('undo');
  expect([code, err]).toEqual([
    1,
    expect.stringMatching(
      /log\.md: The file has changed since, so it is left unchanged\. .*What the drawer holds is still there/,
    ),
  ]);
  expect(JSON.parse((await place.run('list', '--json')).out).count).toBe(1);
});

it('cuts all of several places, in several files, or nothing', async () => {
  const before = names.map(bytes);
  const failed = await place.run('cut', 'log.md#list=1', 'survey.docx#section=None such');
  expect([failed.code, names.map(bytes)]).toEqual([3, before]);
  const { out } = await place.run('cut', 'log.md#list=1', 'survey.docx#table=1', 'survey.docx#list=1');
  expect(out).toMatch(/Taken out of log\.md, survey\.docx\./);
  await place.run('undo');
  expect(names.map(bytes)).toEqual(before);
});

it('keeps everything when it is killed at any moment of a cut', async () => {
  const before = bytes('survey.docx');
  for (const delay of [30, 60, 90, 120, 150, 180, 220, 260, 320]) {
    const child = spawn(process.execPath, [resolve('dist/bin/drawer.cjs'), 'cut', 'survey.docx#table=1'], {
      cwd: place.folder,
      env: { ...process.env, DRAWER: place.drawer },
      stdio: 'ignore',
    });
    const ended = new Promise((done) => child.on('close', done));
    setTimeout(() => child.kill('SIGKILL'), delay);
    await ended;
    const isCut = bytes('survey.docx') !== before;
    const count = existsSync(place.drawer) ? JSON.parse((await place.run('list', '--json')).out).count : 0;
    if (isCut) expect(count).toBe(1); // never out of the file without being in the drawer
    if (count === 1) await place.run('undo');
    expect(bytes('survey.docx')).toBe(before);
  }
}, 60_000);

it('grows the newest snippet, or another, as it was told to the last time', async () => {
  await place.run('copy', '--text', 'oak');
  await place.run('append', '--text', 'larch', '--join', ', ');
  const { out } = await place.run('append', 'log.md#list=1', '--onto', '1', '--json');
  expect(JSON.parse(out)).toMatchObject({ snippets: [{ kind: 'appended', number: 1, parts: { length: 3 } }] });
  expect((await place.run('paste', '1')).out).toMatch(/^oak, larch\n\n- /);
});

it('makes one snippet of each row, item or cell', async () => {
  const { out } = await place.run('copy', 'costs.xlsx#Timber!B2:B4', 'history.odt#list=1', '--each');
  expect(out.trim().split('\n')).toHaveLength(6);
  expect(out).toMatch(/from costs\.xlsx, Timber!B2:B4, 1 of 3/);
});

it('reads standard input as what it is said to be, or by looking', async () => {
  expect((await runWith('<ul><li>one<li>two</ul>', 'copy', '-', '--as', 'html')).out).toBe(
    'Kept as 1: list, 2 items\n',
  );
  expect((await runWith('a;b\n1;2\n', 'copy', '-', '--as', 'csv')).out).toBe('Kept as 2: table, 2 × 2\n');
  expect((await runWith('plain words', 'copy', '-')).out).toBe('Kept as 3: 2 words\n');
});

it('is quiet when asked, keeps no blanks, and tells repeats and how much room is left', async () => {
  expect(await place.run('copy', '--text', 'oak', '--quiet')).toMatchObject({ code: 0, out: '', err: '' });
  expect((await place.run('copy', '--text', '  ')).out).toBe('Not kept, since there is nothing in it\n');
  expect((await place.run('copy', '--text', 'oak')).out).toBe('Kept as 2: 1 word; the same as 1\n');
  const drawer = await openDrawer(place.drawer);
  await drawer.changeSettings({ capacity: 3 });
  await drawer.close();
  expect((await place.run('copy', '--text', 'last')).out).toBe('Kept as 3: 1 word; the drawer is now full\n');
  const refused = await place.run('copy', '--text', 'more');
  expect([refused.code, refused.err]).toEqual([
    1,
    expect.stringMatching(/The drawer is full\. Nothing was kept or removed/),
  ]);
});

it('takes snippets of another drawer and of a file of them, each by itself, and moves them', async () => {
  await place.run('copy', 'survey.docx#table=1', 'ferry.png', '--drawer', 'other.drawer');
  const { out } = await place.run('copy', 'other.drawer#1-2');
  expect(out).toBe(
    'Kept as 1: table, 6 × 4, from survey.docx, table 1\nKept as 2: picture, 480 × 300 pt, from ferry.png\n',
  );
  writeFileSync(place.path('snippets.json'), (await place.run('paste', 'all', '--as', 'json')).out);
  expect((await place.run('copy', 'snippets.json#2')).out).toBe(
    'Kept as 3: picture, 480 × 300 pt, from ferry.png; the same as 2\n',
  );
  await place.run('cut', 'other.drawer#1', 'snippets.json#1');
  expect(JSON.parse((await place.run('list', '--json', '--drawer', 'other.drawer')).out).count).toBe(1);
  expect(JSON.parse(readFileSync(place.path('snippets.json'), 'utf8')).snippets).toHaveLength(1);
  expect(JSON.parse((await place.run('list', '--json')).out).count).toBe(5);
});

it('leaves a file’s rights as they were', async () => {
  const mode = statSync(place.path('log.md')).mode;
  await place.run('cut', 'log.md#list=1');
  expect(statSync(place.path('log.md')).mode).toBe(mode);
});
