import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { openDrawer } from 'drawer/node';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

/** What travels: everything but numbers within a drawer. */
async function travelling(path: string) {
  const drawer = await openDrawer(place.path(path));
  const listed = await drawer.list();
  const all = await Promise.all(listed.map(({ summary }) => drawer.get(summary.id)));
  await drawer.close();
  return all.map(({ id: _, order: __, ...rest }) => rest);
}

async function gatherAll(): Promise<void> {
  await place.run('copy', `${place.demo('survey.docx')}#section=Hull condition`, place.demo('ferry.png'));
  await place.run('copy', '--text', 'oak');
  await place.run('append', '--text', 'ash');
  await place.run('mark', '1', '--label', 'Hull', '--hold', '--for', '3d');
}

it.each(['other.drawer', 'other.json'])(
  'goes to %s and back with labels, marks, origins, times and pictures',
  async (other) => {
    await gatherAll();
    const before = await travelling('own.drawer');
    expect((await place.run('paste', 'all', '--into', other)).out).toBe(`Pasted 3 snippets into ${other}: 1-3 there\n`);
    await place.run('copy', other, '--drawer', place.path('third.drawer'));
    expect(await travelling('third.drawer')).toEqual(before);
    expect((await place.run('check', 'third.drawer')).out).toContain('all is well');
    await place.run('paste', '3', '--into', `${other}#1`, '--side', 'before');
    await place.run('copy', other, '--drawer', place.path('fourth.drawer'));
    expect((await travelling('fourth.drawer'))[0]).toEqual(before[2]);
  },
);

it('leaves secrets out of files of snippets, and takes them along between drawers when they are named', async () => {
  await gatherAll();
  await place.run('mark', '3', '--secret');
  expect((await place.run('paste', 'all', '--into', 'out.json')).err).toBe(
    'Left out: 1 snippet (secret, blank or there already)\n',
  );
  expect(readFileSync(place.path('out.json'), 'utf8')).not.toContain('ash');
  const copied = await place.run('copy', 'own.drawer', '--drawer', place.path('new.drawer'));
  expect([copied.out.split('\n').length, copied.err]).toEqual([3, 'Simplified: secret snippet, left where it is\n']);
  await place.run('copy', 'own.drawer#3', '--drawer', place.path('new.drawer'));
  expect((await travelling('new.drawer'))[2]).toMatchObject({ secret: true });
});

it('cuts out of another drawer what it took and nothing else: no secret it did not name, none that is held', async () => {
  await gatherAll();
  await place.run('mark', '3', '--secret');
  const [fern] = ['own.drawer', 'fern.drawer'].map((name) => place.path(name)).slice(1);
  const cut = await place.run('cut', 'own.drawer', '--drawer', fern ?? '');
  expect(cut.out.split('\n').slice(2)).toEqual([
    'Taken out of own.drawer. drawer undo puts it back.',
    '1 snippet held in own.drawer, and left there too.',
    '',
  ]);
  expect(cut.err).toBe('Simplified: secret snippet, left where it is\n');
  expect(
    (await travelling('own.drawer')).map(({ label, secret, facts }) => label ?? secret ?? facts.what.kind),
  ).toEqual(['Hull', true]);
  expect(await travelling('fern.drawer')).toHaveLength(2);
  const named = await place.run('cut', 'own.drawer#2', '--drawer', fern ?? '');
  expect(named.out).toContain('1 secret snippet gone from own.drawer for good, and here now.\n');
  expect((await travelling('fern.drawer'))[2]).toMatchObject({ secret: true });
  expect((await place.run('undo', '--drawer', 'own.drawer')).err).toContain('cannot be undone');
  await place.run('undo', '--drawer', 'own.drawer');
  expect(await travelling('own.drawer')).toHaveLength(2);
});

describe('what is taken out when it was pasted', () => {
  const left = async () =>
    (await travelling('own.drawer')).map(({ label, secret, facts }) => label ?? (secret ? 'secret' : facts.preview));
  const stays = '1 held one stays (drawer mark held --release).\n';

  beforeEach(async () => {
    for (const text of ['oak', 'larch', 'elm', 'hull']) await place.run('copy', '--text', text);
    await place.run('mark', '2', '--secret', '--once');
    await place.run('mark', '3', '--hold');
  });

  it.each<[string, string[], string[], string]>([
    ['a file of snippets takes no secrets', ['--into', 'out.json'], ['secret', 'elm'], stays],
    ['JSON neither', ['--as', 'json'], ['secret', 'elm'], stays],
    ['another drawer takes all', ['--into', 'other.drawer'], ['elm'], `${stays}1 secret gone for good.\n`],
    ['a document too', ['--into', 'new.docx'], ['elm'], `${stays}1 secret gone for good.\n`],
    ['what is only shown stays', ['--into', 'out.json', '--preview'], ['oak', 'secret', 'elm', 'hull'], ''],
  ])('%s', async (_, options, expected, said) => {
    const { code, err } = await place.run('paste', 'all', '--take-out', ...options);
    expect([code, await left(), err.replace(/^Left out: .*\n/, '')]).toEqual([0, expected, said]);
  });

  it('in one action with the files they go to, of whatever kind, all of them or none', async () => {
    const names = (): string[] => readdirSync(place.folder).filter((name) => name.startsWith('to.'));
    const to = (...files: string[]): string[] => files.flatMap((file) => ['--into', file]);
    await place.run('paste', '1', '4', '--take-out', ...to('to.json', 'to.docx', 'to.json'));
    expect([names(), await left()]).toEqual([
      ['to.docx', 'to.json'],
      ['secret', 'elm'],
    ]);
    const { snippets } = JSON.parse(readFileSync(place.path('to.json'), 'utf8'));
    expect(snippets).toHaveLength(4); // named twice, it takes them twice
    expect((await place.run('undo')).out).toContain('Pasted 2 snippets into to.json, to.docx');
    expect([names(), await left()]).toEqual([[], ['oak', 'secret', 'elm', 'hull']]);
    writeFileSync(place.path('no.docx'), 'no document');
    const { code } = await place.run('paste', '1', '--take-out', ...to('to.json', 'no.docx#paragraph=1', 'to.drawer'));
    expect([code, names(), await left()]).toEqual([1, [], ['oak', 'secret', 'elm', 'hull']]);
  });

  it('but no secret that a form did not take', async () => {
    const fill = (slot: string, to: string) =>
      place.run('fill', place.demo('claim.docx'), '--from', '1', '--slot', `${slot}=2`, '--into', to);
    expect((await fill('Receipts enclosed', 'a.docx')).err).toContain('Receipts enclosed takes yes or no');
    expect(await left()).toContain('secret');
    expect((await fill('Work done', 'b.docx')).err).toContain('1 secret gone for good, as marked');
    expect(await left()).not.toContain('secret');
  });

  it('but for what the rules of another drawer leave out', async () => {
    await place.run('copy', place.demo('log.md'));
    await place.run('rules', 'ignore=log.md', '--drawer', 'other.drawer');
    await place.run('paste', '4', '5', '--into', 'other.drawer', '--take-out');
    expect(await left()).toEqual(['oak', 'secret', 'elm', expect.stringMatching(/^Work log/)]);
  });

  it('one after another, and by merging', async () => {
    await place.run('next', '--take-out');
    await place.run('next', '--as', 'json', '--take-out');
    expect((await place.run('next', '--take-out')).err).toContain(stays);
    expect(await left()).toEqual(['secret', 'elm', 'hull']);
    expect((await place.run('merge', '2', '3', '--label', 'whole', '--take-out')).err).toBe(stays);
    expect(await left()).toEqual(['secret', 'elm', 'whole']);
  });
});

describe('one undo takes back what was done in other drawers too', () => {
  const previews = async (drawer: string): Promise<string[]> =>
    (await travelling(drawer)).map(({ facts }) => facts.preview);

  beforeEach(async () => {
    for (const text of ['oak', 'larch', 'elm']) await place.run('copy', '--text', text);
    for (const text of ['keel', 'stem'])
      await place.run('copy', '--text', text, '--drawer', place.path('other.drawer'));
  });

  it('of a paste into them, a file and out of the own', async () => {
    writeFileSync(place.path('log.md'), 'Hauled out.\n');
    const into = ['--into', 'other.drawer#1', '--into', 'log.md', '--side', 'before', '--take-out'];
    const { code } = await place.run('paste', '1', '3', ...into);
    const done = async () => [
      await previews('own.drawer'),
      await previews('other.drawer'),
      readFileSync(place.path('log.md'), 'utf8'),
    ];
    expect([code, await done()]).toEqual([0, [['larch'], ['oak', 'elm', 'keel', 'stem'], 'oak elm\n\nHauled out.\n']]);
    expect((await place.run('undo')).out).toMatch(/^Undone: Pasted 2 snippets into other\.drawer#?1?, log\.md/);
    expect(await done()).toEqual([['oak', 'larch', 'elm'], ['keel', 'stem'], 'Hauled out.\n']);
    await place.run('redo');
    expect((await done())[1]).toEqual(['oak', 'elm', 'keel', 'stem']);
  });

  it('of a cut out of them', async () => {
    await place.run('cut', 'other.drawer#2');
    expect([await previews('own.drawer'), await previews('other.drawer')]).toEqual([
      ['oak', 'larch', 'elm', 'stem'],
      ['keel'],
    ]);
    await place.run('undo');
    expect([await previews('own.drawer'), await previews('other.drawer')]).toEqual([
      ['oak', 'larch', 'elm'],
      ['keel', 'stem'],
    ]);
  });

  it('or nothing where something was done there since, which can be passed over', async () => {
    await place.run('paste', '2', '--into', 'other.drawer');
    await place.run('copy', '--text', 'rudder', '--drawer', place.path('other.drawer'));
    expect(await place.run('undo')).toMatchObject({
      code: 1,
      err: expect.stringContaining('The drawer has changed since'),
    });
    expect(await previews('other.drawer')).toEqual(['keel', 'stem', 'larch', 'rudder']);
    expect((await place.run('undo', '--skip')).out).toMatch(/^Undone: Kept/);
    await place.run('undo', '--drawer', place.path('other.drawer'));
    await place.run('redo');
    expect((await place.run('undo', '--skip')).err).not.toContain('Something went wrong');
  });
});

it('cuts nothing out of another drawer that is not kept, or where that may not be', async () => {
  await place.run('copy', '--text', 'oak', '--drawer', 'other.drawer');
  await place.run('copy', place.demo('log.md'), '--drawer', 'other.drawer');
  await place.run('rules', 'ignore=log.md');
  const ignored = await place.run('cut', 'other.drawer');
  expect([ignored.code, ignored.err]).toEqual([
    1,
    expect.stringMatching(/The rules of the drawer exclude this source/),
  ]);
  await place.run('rules', 'ignore=', 'most=1');
  expect((await place.run('cut', 'other.drawer')).err).toMatch(/full|takes|more/);
  expect(await travelling('other.drawer')).toHaveLength(2);
  expect(await travelling('own.drawer')).toHaveLength(0);
});

it.each<[string, (file: Record<string, unknown>) => unknown, RegExp]>([
  ['a wrong type', (file) => ({ ...file, snippets: { length: 3 } }), /snippets/],
  ['a huge number', (file) => withContent(file, { shape: 'picture', picture: { ...picture, width: 1e308 } }), /width/],
  ['a script in a link', (file) => withContent(file, linked('javascript:alert(1)')), /href/],
  ['an unknown shape', (file) => withContent(file, { shape: 'program' }), /shape/],
  ['wrong bytes of a picture', (file) => ({ ...file, media: { [picture.media]: 'AAAA' } }), /not those of its hash/],
  ['a bad origin', (file) => withMore(file, { origin: { file: 7 } }), /origin/],
  ['an origin with other keys', (file) => withMore(file, { origin: { constructor: 'x' } }), /origin/],
  ['a bad time', (file) => withMore(file, { takenAt: 'yesterday' }), /takenAt/],
])('refuses a file of snippets with %s, and keeps nothing', async (_, spoil, said) => {
  await place.run('copy', place.demo('ferry.png'));
  const file = JSON.parse((await place.run('paste', '1', '--as', 'json')).out);
  picture.media = file.snippets[0].content.picture.media;
  picture.mediaType = 'image/png';
  writeFileSync(place.path('bad.json'), JSON.stringify(spoil(file)));
  const { code, err } = await place.run('copy', 'bad.json', '--drawer', place.path('new.drawer'));
  expect([code, err]).toEqual([2, expect.stringMatching(said)]);
  expect(await travelling('new.drawer')).toEqual([]);
});

const picture = { media: '', mediaType: 'image/png' };
const linked = (href: string) => ({ shape: 'run', inlines: [{ type: 'text', text: 'x', marks: { link: { href } } }] });
const withMore = (file: Record<string, unknown>, more: object) => ({
  ...file,
  snippets: (file.snippets as object[]).map((snippet) => ({ ...snippet, ...more })),
});
const withContent = (file: Record<string, unknown>, content: unknown) => withMore(file, { content });

it('refuses a file nested too deeply and one with keys that would reach prototypes', async () => {
  const deep = `${'['.repeat(5000)}${']'.repeat(5000)}`;
  writeFileSync(
    place.path('deep.json'),
    `{"format":"drawer-snippets","version":1,"snippets":[{"content":${deep},"origin":{}}],"media":{}}`,
  );
  expect((await place.run('copy', 'deep.json')).err).toMatch(/nested more than/);
  writeFileSync(
    place.path('proto.json'),
    '{"format":"drawer-snippets","version":1,"snippets":[{"content":{"shape":"run","inlines":[{"type":"text","text":"oak"}]},"origin":{},"__proto__":{"held":true}}],"media":{}}',
  );
  await place.run('copy', 'proto.json');
  expect((await travelling('own.drawer'))[0]).not.toHaveProperty('held');
});

it('names drawers without paths, and lists their names', async () => {
  const home = { XDG_DATA_HOME: place.path('data') };
  const command = (...words: string[]) => runCommand(words, { cwd: place.folder, ...home });
  await command('copy', '--text', 'oak', '--drawer', 'grant application');
  await command('copy', '--text', 'larch');
  expect((await command('list', '--drawers')).out).toBe('default\ngrant application\n');
  expect((await command('list', '--drawer', 'grant application')).out).toContain('oak');
});

it('picks at a terminal: words narrow, Tab takes several in order, Enter ends', async () => {
  for (const words of ['oak', 'larch', 'oak frames']) await place.run('copy', '--text', words);
  const command = `stty rows 24 cols 100; ${process.execPath} ${new URL('../../dist/bin/drawer.cjs', import.meta.url).pathname}`;
  const typed = (line: string, ...keys: string[]): Promise<string> =>
    new Promise((resolve) => {
      const child = spawn('script', ['-qec', `${command} ${line}`, '/dev/null'], {
        cwd: place.folder,
        env: { ...process.env, DRAWER: place.drawer },
      });
      let out = '';
      const waiting = [...keys];
      child.stdout.on('data', (chunk: Buffer) => {
        out += chunk;
        if (waiting.length > 0 && /Arrows go/.test(String(chunk))) child.stdin.write(waiting.shift() as string);
      });
      child.on('close', () => resolve(out));
    });
  const two = await typed('paste --pick --join line', 'oak', '\t', '\t', '\r');
  expect(two).toContain('picked: 3, 1');
  expect(two).toMatch(/oak frames\r\noak\r\n$|oak\r\noak frames\r\n$/);
  expect(await typed('show --pick', '2', '\r')).toMatch(/2: 1 word[\s\S]*larch\r\n$/);
  expect(await typed('delete --pick', '\u001b')).toContain('Nothing was picked');
  expect(await typed('list --pick', 'larch', '\r')).toMatch(/What[\s\S]*2 {2}1 word {2}larch/);
  expect(await typed('append --text tree --join space --pick', 'larch', '\r')).toContain('Appended to 2, now: 2 words');
  expect((await place.run('show', '2')).out).toContain('larch tree');
  writeFileSync(place.path('log.md'), '# Log\n\nHauled out.\n\n- keel\n- stem\n\n## Hull\n\nSound.\n');
  const places = await typed('copy log.md --pick', 'hull', '\t', '\u0015', '2', '\t', '\r');
  expect(places).toContain('picked: 3, 2');
  expect(places).toMatch(/Kept as 4: section.*log.md, Hull\r\nKept as 5: list, 2 items/);
});

/** `drawer list --follow`, and what it says. */
function follow(environment: Record<string, string> = {}) {
  const command = new URL('../../dist/bin/drawer.cjs', import.meta.url).pathname;
  const child = spawn(process.execPath, [command, 'list', '--follow'], {
    env: { ...process.env, DRAWER: place.drawer, ...environment },
  });
  const said = { out: '', err: '' };
  child.stdout.on('data', (chunk: Buffer) => {
    said.out += chunk;
  });
  child.stderr.on('data', (chunk: Buffer) => {
    said.err += chunk;
  });
  const ended = new Promise<number | null>((done) => child.on('close', done));
  const until = async (words: string): Promise<void> => {
    while (!said.out.includes(words)) await once(child.stdout, 'data');
  };
  return { child, said, ended, until };
}

it('goes on telling what comes and goes in another process', async () => {
  await place.run('copy', '--text', 'oak');
  const { child, ended, until } = follow();
  await until('oak');
  await place.run('copy', '--text', 'larch');
  await until('larch');
  await place.run('delete', '1');
  await until('1 is gone');
  child.kill('SIGINT');
  expect(await ended).toBe(0);
});

it('goes on telling behind a lock that another process put on, where it knows the passphrase', async () => {
  await place.run('copy', '--text', 'oak');
  const passphrase = { DRAWER_PASSPHRASE: 'larch and oak' };
  const within = { cwd: place.folder, DRAWER: place.drawer, ...passphrase };
  const knows = follow(passphrase);
  const knowsNothing = follow();
  for (const { until } of [knows, knowsNothing]) await until('oak');
  expect((await runCommand(['rules', '--lock'], within)).code).toBe(0);
  expect(await knowsNothing.ended).toBe(1);
  expect(knowsNothing.said.err).toMatch(/^drawer: .*own\.drawer: The drawer is locked\. Give its passphrase .*\n$/);
  await runCommand(['copy', '--text', 'larch'], within);
  await knows.until('larch');
  knows.child.kill('SIGINT');
  expect([await knows.ended, knows.said.err]).toEqual([0, '']);
  expect(knows.said.out.match(/oak/g)).toHaveLength(1);
});

it('is read where it may not be written, and nothing is left beside it', async () => {
  await gatherAll();
  const script = `
    import { chmodSync, readdirSync } from 'node:fs';
    import { readFromFile } from ${JSON.stringify(resolve(import.meta.dirname, '../../dist/node/index.js'))};
    const place = { file: 'theirs/own.drawer', fragment: { kind: 'whole' } };
    const count = async () => (await readFromFile(place)).separate.length;
    await count(); // all that it needs is loaded now
    const before = String(readdirSync('theirs'));
    for (const [path, mode] of [['theirs/own.drawer', 0o444], ['theirs', 0o555], ['.', 0o755]]) chmodSync(path, mode);
    if (process.getuid() === 0) process.setuid(65534);
    console.log(await count(), String(readdirSync('theirs')) === before);`;
  mkdirSync(place.path('theirs'));
  renameSync(place.drawer, place.path('theirs/own.drawer'));
  const child = spawn(process.execPath, ['--input-type=module', '-e', script], {
    cwd: place.folder,
    env: process.env,
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => {
      said += chunk;
    });
  await new Promise((done) => child.on('close', done));
  chmodSync(place.path('theirs'), 0o755);
  expect(said).toBe('3 true\n');
});
