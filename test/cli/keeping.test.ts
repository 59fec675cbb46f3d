import { chmodSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { openDrawer } from 'drawer/node';
import { type Workplace, workplace } from '../support/cli.ts';
import { indexUpTo } from '../support/index-reach.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const gather = async (...words: string[]): Promise<void> => {
  for (const each of words) await place.run('copy', '--text', each, '--quiet');
};
/** How the listed snippets begin, in order. */
const begins = async (...words: string[]): Promise<string[]> => {
  const { snippets } = JSON.parse((await place.run('list', '--json', ...words)).out);
  return snippets.map(({ facts }: { facts: { preview: string } }) => facts.preview);
};
/** Everything the drawer's files hold, its journals too. */
const bytesOnDisk = (): string =>
  readdirSync(place.folder)
    .filter((name) => name.startsWith('own.drawer'))
    .map((name) => readFileSync(place.path(name), 'latin1'))
    .join('');

it('finds, and says when nothing fits', async () => {
  await gather('oak planks', 'larch', 'oak frames');
  expect((await place.run('find', 'oak')).out).toMatch(/ 3 {2}2 words .*oak frames[\s\S]* 1 {2}2 words .*oak planks/);
  expect(JSON.parse((await place.run('find', 'plan', '--json')).out).found).toMatchObject([{ position: 1 }]);
  const { code, err } = await place.run('find', 'elm');
  expect([code, err]).toEqual([3, 'drawer: None of 3 snippets matches. Try fewer words, or beginnings of them.\n']);
});

it('moves before, after, to the top and the end, and sorts', async () => {
  await gather('£12.00', 'larch', '£3.50', 'oak');
  expect((await place.run('move', '4', '2', '--top')).out).toBe('Moved 2 snippets: now 1-2.\n');
  expect(await begins()).toEqual(['oak', 'larch', '£12.00', '£3.50']);
  await place.run('move', '1', '--after', '3');
  expect(await begins()).toEqual(['larch', '£12.00', 'oak', '£3.50']);
  await place.run('move', 'last', '--before', '2');
  await place.run('move', '1', '--end');
  expect(await begins()).toEqual(['£3.50', '£12.00', 'oak', 'larch']);
  await place.run('move', '1', '--end');
  expect((await place.run('move', 'all', '--by', 'amount')).out).toBe('Sorted 4 snippets by amount.\n');
  expect(await begins()).toEqual(['£3.50', '£12.00', 'oak', 'larch']);
  expect((await place.run('move', 'all', '--by', 'amount')).out).toBe('They stand in that order already.\n');
  expect((await place.run('move', '1')).code).toBe(2);
  for (const _ of Array(6)) await place.run('undo');
  expect(await begins()).toEqual(['£12.00', 'larch', '£3.50', 'oak']);
});

it('deletes, but for what is held, and asks for what was built up', async () => {
  await gather('oak', 'larch', 'elm');
  await place.run('mark', '2', '--hold');
  await place.run('append', '--text', 'ash');
  const refused = await place.run('delete', 'all');
  expect([refused.code, refused.err]).toEqual([1, expect.stringContaining('--yes')]);
  expect((await place.run('delete', 'all', '--yes')).out).toBe(
    'Deleted 2 snippets. 1 held one stays (drawer mark held --release). drawer undo brings them back.\n',
  );
  expect(await begins()).toEqual(['larch']);
  await place.run('undo');
  expect(await begins()).toEqual(['oak', 'larch', 'elm ash']);
});

describe('a secret', () => {
  it('is shown nowhere, found by its label only, and pasted all the same', async () => {
    await gather('hunter-twenty-two', 'oak');
    await place.run('mark', '1', '--secret', '--label', 'harbour office');
    for (const words of [['list'], ['list', '--json'], ['list', '--long'], ['show', '1'], ['show', '1', '--json']])
      expect((await place.run(...words)).out).not.toContain('hunter');
    expect((await place.run('find', 'hunter')).code).toBe(3);
    expect((await place.run('find', 'harbour')).out).toContain('secret');
    expect((await place.run('paste', 'all', '--as', 'json')).out).not.toContain('hunter');
    expect((await place.run('paste', '1')).out).toBe('hunter-twenty-two\n');
    expect((await place.run('edit', '1')).err).toContain('drawer mark 1 --open');
    await place.run('mark', '1', '--open');
    expect(await begins()).toEqual(['hunter-twenty-two', 'oak']);
  });

  it.each<[string, string, () => Promise<unknown>, boolean?]>([
    ['when it is deleted', '1h', () => place.run('delete', '1', '--yes')],
    ['when it is deleted, its words in the index', '1h', () => place.run('delete', '1', '--yes'), true],
    ['after it was pasted once', '1h', () => place.run('paste', '1')],
    ['when its time is up', '6s', () => new Promise((done) => setTimeout(done, 6_100)).then(() => place.run('list'))],
  ])('leaves no trace %s', async (_, time, go, isIndexed = false) => {
    await place.run('list');
    if (isIndexed) indexUpTo(place.path('own.drawer'));
    await gather('hunter-twenty-two', 'oak');
    await place.run('append', '--text', 'swordfish', '--onto', '1');
    await place.run('mark', '1', '--once', '--for', time);
    expect(bytesOnDisk()).toContain('swordfish');
    await go();
    expect(bytesOnDisk()).not.toMatch(/hunter|twenty|swordfish/);
    while (!(await place.run('undo')).out.includes('nothing to undo'));
    expect(await begins()).toEqual([]);
    await place.run('redo');
    expect(await begins()).toEqual(['oak']);
    expect((await place.run('check')).code).toBe(0);
  });

  it('by rule leaves no trace when its keeping is undone', async () => {
    writeFileSync(place.path('passwords.txt'), 'hunter-twenty-two');
    await place.run('rules', 'secret=passwords');
    expect((await place.run('copy', 'passwords.txt')).out).toBe('Kept as 1: secret, from passwords.txt\n');
    expect((await place.run('undo')).out).toContain('Kept 1 snippet');
    expect(bytesOnDisk()).not.toMatch(/hunter|twenty/);
    expect((await place.run('redo')).out).toContain('nothing to bring again');
  });
});

describe('a secret that was cut from a file', () => {
  const words = 'Keep this line.\nhunter-twenty-two\nAnd this one.\n';
  const cut = async (): Promise<void> => {
    writeFileSync(place.path('passwords.txt'), words);
    await place.run('rules', 'secret=passwords');
    expect((await place.run('cut', 'passwords.txt#line=1,2')).out).toMatch(/^Kept as 1: secret/);
    expect(readFileSync(place.path('passwords.txt'), 'utf8')).toBe('Keep this line.\nAnd this one.\n');
  };

  it('goes back there by undo, and is not cut again by redo, since it is not in the drawer any more', async () => {
    await cut();
    await place.run('undo', '--yes');
    expect((await place.run('redo')).out).toContain('nothing to bring again');
    expect([readFileSync(place.path('passwords.txt'), 'utf8'), await begins()]).toEqual([words, []]);
    expect(bytesOnDisk()).not.toMatch(/hunter|twenty/);
  });

  it('leaves no trace in what undo would have put back either', async () => {
    await cut();
    expect(bytesOnDisk()).toContain('hunter');
    await place.run('delete', '1', '--yes');
    expect(bytesOnDisk()).not.toMatch(/hunter|twenty/);
    expect((await place.run('undo', '--yes')).err).toContain('cannot be undone');
    expect((await place.run('undo', '--yes')).out).toContain('Changed the rules');
    expect((await place.run('check')).code).toBe(0);
  });
});

it('appended to what is open, a secret makes it one; undo leaves what was there, and no trace of the rest', async () => {
  writeFileSync(place.path('passwords.txt'), 'hunter-twenty-two');
  writeFileSync(place.path('more.html'), '<p data-drawer="secret">swordfish</p>');
  await place.run('rules', 'secret=passwords');
  for (const [file, hidden] of [
    ['passwords.txt', /hunter/],
    ['more.html', /swordfish/],
  ] as const) {
    await gather('oak');
    await place.run('mark', 'last', '--label', 'wood');
    expect((await place.run('append', file)).out).toMatch(/^Appended to \d, now: secret/);
    expect((await place.run('show', 'last')).out).not.toMatch(hidden);
    expect([(await place.run('find', 'swordfish')).code, (await place.run('find', 'hunter')).code]).toEqual([3, 3]);
    expect(bytesOnDisk()).toMatch(hidden);
    await place.run('append', '--text', 'and more');
    await place.run('undo');
    expect((await place.run('undo')).out).toContain('Appended to 1 snippet');
    expect((await begins('last'))[0]).toBe('oak');
    expect(bytesOnDisk()).not.toMatch(hidden);
    expect((await place.run('redo')).out).toContain('nothing to bring again');
    expect((await place.run('undo')).out).toContain('Labelled 1 snippet');
    expect((await place.run('check')).code).toBe(0);
  }
});

it.each([
  ['changed', 'edit', 'Another program has changed the snippet'],
  ['deleted', 'remove', 'There is no snippet with the id'],
] as const)(
  'loses nothing of what was written in an editor when the snippet is %s meanwhile',
  async (_, deed, said) => {
    await place.run('copy', '--text', 'oak');
    const meanwhile = `
    import { openDrawer } from ${JSON.stringify(resolve(import.meta.dirname, '../../dist/node/index.js'))};
    const drawer = await openDrawer(${JSON.stringify(place.drawer)});
    const [{ summary }] = await drawer.list();
    if ('${deed}' === 'remove') await drawer.remove([summary.id]);
    else await drawer.edit(summary.id, { shape: 'run', inlines: [{ type: 'text', text: 'elm' }] });
    await drawer.close();`;
    const [editor, script] = [place.path('editor'), place.path('meanwhile.mjs')];
    writeFileSync(script, meanwhile);
    writeFileSync(editor, `#!/bin/sh\n"${process.execPath}" "${script}" && echo 'larch, long thought over' > "$1"\n`);
    chmodSync(editor, 0o755);
    process.env.EDITOR = editor;
    const { code, err } = await place.run('edit', '1');
    delete process.env.EDITOR;
    expect([code, err]).toEqual([expect.any(Number), expect.stringContaining(said)]);
    expect(code).not.toBe(0);
    const [, file = ''] = /What you wrote is in (.*)\.$/m.exec(err) ?? [];
    expect(readFileSync(file, 'utf8')).toBe('larch, long thought over\n');
    rmSync(dirname(file), { recursive: true });
    expect((await place.run('paste', 'all')).out.trim()).toBe(deed === 'edit' ? 'elm' : '');
  },
);

it('splits and edits, keeping what the text does not show', async () => {
  await place.run('copy', `${place.demo('costs.xlsx')}#Timber!A1:D4`);
  const drawer = await openDrawer(place.drawer);
  const cells = async () => {
    const [listed] = await drawer.select(['1']);
    const { content } = await drawer.get(listed?.summary.id ?? '');
    return content.shape === 'cells' ? content.rows : [];
  };
  const before = await cells();
  const editor = place.path('editor');
  writeFileSync(editor, '#!/bin/sh\nsed -i "s/Larch/Elm/" "$1"\n');
  chmodSync(editor, 0o755);
  process.env.EDITOR = editor;
  expect((await place.run('edit', '1')).out).toBe('Edited 1. drawer undo brings back what it was.\n');
  const after = await cells();
  const changed = after.flatMap((row, at) =>
    row.flatMap((cell, column) => (JSON.stringify(cell) === JSON.stringify(before[at]?.[column]) ? [] : [cell])),
  );
  expect(changed.length).toBeGreaterThan(0);
  for (const cell of changed) expect(cell).toMatchObject({ type: 'text', value: expect.stringContaining('Elm') });
  expect((await place.run('edit', '1')).out).toBe('Nothing was changed.\n');
  delete process.env.EDITOR;
  expect((await place.run('split', '1', '--by', 'row')).out).toBe('Split 1 into 4 snippets: now 1-4.\n');
  await place.run('undo');
  await place.run('undo');
  expect(await cells()).toEqual(before);
  await drawer.close();
});

it('lists what can be undone and done again', async () => {
  await gather('oak', 'larch');
  await place.run('delete', '1');
  await place.run('undo');
  const { out } = await place.run('undo', '--list');
  expect(out).toMatch(
    /takes back[\s\S]*Kept 1 snippet[\s\S]*Kept 1 snippet[\s\S]*redo brings again:\n {2}Deleted 1 snippet/,
  );
  expect(JSON.parse((await place.run('undo', '--list', '--json')).out)).toMatchObject([
    { name: 'Kept 1 snippet', state: 'done' },
    { name: 'Kept 1 snippet', state: 'done' },
    { name: 'Deleted 1 snippet', state: 'undone' },
  ]);
});

describe('rules', () => {
  it('are told in words, changed, undone, and refused when they make no sense', async () => {
    expect((await place.run('rules')).out).toMatch(/^most {5}at most 250,000 snippets\n/);
    expect((await place.run('rules', 'most=500', 'lasts=picture:7d')).out).toBe(
      'most     at most 500 snippets\nlasts    what is gathered from now on stays: pictures 1 week\n',
    );
    await place.run('undo');
    expect((await place.run('rules', '--json')).out).toContain('"capacity": 250000');
    expect((await place.run('rules', 'most=none')).err).toContain('It accepts a number of snippets');
    expect((await place.run('rules', 'colour=red')).code).toBe(2);
  });

  it('let the oldest go that is not held, and say so before and after', async () => {
    await place.run('rules', 'most=3', 'full=let-go');
    await gather('oak', 'larch');
    await place.run('mark', '1', '--hold');
    expect((await place.run('copy', '--text', 'elm')).out).toBe(
      'Kept as 3: 1 word; the drawer is now full; the next one lets go of “larch”\n',
    );
    expect((await place.run('copy', '--text', 'ash')).out).toMatch(
      /^Kept as 3: 1 word; let go to make room: “larch” \(undo brings back\)/,
    );
    expect(await begins()).toEqual(['oak', 'elm', 'ash']);
    const narrower = await place.run('rules', 'most=1');
    expect([narrower.code, narrower.err]).toEqual([
      1,
      expect.stringContaining('That rule would remove 2 snippets: “elm”, “ash”'),
    ]);
    await place.run('rules', 'most=1', '--yes');
    expect(await begins()).toEqual(['oak']);
    await place.run('undo');
    expect(await begins()).toEqual(['oak', 'elm', 'ash']);
  });

  it('pass over repeats or bring them to the end, leave origins out, and hide others', async () => {
    await place.run('rules', 'repeats=skip', 'ignore=crew', 'secret=letters');
    await gather('oak', 'larch');
    expect((await place.run('copy', '--text', 'oak')).out).toBe('Not kept again: it is 1 already\n');
    await place.run('rules', 'repeats=to-end');
    expect((await place.run('copy', '--text', 'oak')).out).toBe('Moved to 2: 1 word\n');
    expect(await begins()).toEqual(['larch', 'oak']);
    expect((await place.run('copy', place.demo('crew.ods'))).out).toMatch(
      /^Not kept, since the drawer’s rules leave crew/,
    );
    expect((await place.run('copy', place.demo('letters.html'))).out).toMatch(/^Kept as 3: secret/);
  });

  it('pause gathering', async () => {
    expect((await place.run('rules', '--pause')).out).toMatch(/^Gathering is paused/);
    const { code, err } = await place.run('copy', '--text', 'oak');
    expect([code, err]).toEqual([1, expect.stringContaining('drawer rules --pause off')]);
    await place.run('rules', '--pause', 'off');
    await gather('oak');
    expect(await begins()).toEqual(['oak']);
  });
});

it('keeps no word that it could not read again', async () => {
  await place.run('copy', '--text', 'oak \u001b[31mplanks\u000bfor \u0001frames\u007f');
  await place.run('append', '--text', '\u0002larch\u2029elm', '--join', 'line');
  expect((await place.run('paste', '1', '--as', 'text')).out).toBe('oak [31mplanks\nfor frames\nlarch\nelm\n');
  const { code, err } = await place.run('mark', '1', '--label', 'x'.repeat(5000));
  expect([code, err]).toEqual([2, expect.stringMatching(/label: must not be longer than 4,096 characters/)]);
  expect((await place.run('merge', '1', '--label', 'x'.repeat(5000))).code).toBe(2);
  expect((await place.run('mark', '1', '--for', '99999w')).code).toBe(0);
  expect((await place.run('check')).out).toBe('Looked over 1 snippet, 0 pictures and 3 actions: all is well.\n');
});

it('checks a drawer, and names what is wrong', async () => {
  await place.run('copy', place.demo('ferry.png'));
  await gather('oak');
  expect((await place.run('check')).out).toBe('Looked over 2 snippets, 1 picture and 2 actions: all is well.\n');
  const { default: Database } = await import('libsql');
  const database = new Database(place.drawer);
  database.exec("UPDATE media SET bytes = x'00'");
  database.close();
  const { code, out } = await place.run('check');
  expect([code, out]).toEqual([
    1,
    expect.stringMatching(/: 1 fault\.\n {2}The bytes kept as [0-9a-f]{12}… are not those\n$/),
  ]);
});
