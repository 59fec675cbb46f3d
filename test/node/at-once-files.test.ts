import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';
import { inProcess } from '../support/processes.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const words = (file: string): string => readFileSync(place.path(file), 'utf8');
const drawerOf = (name: string): Record<string, string> => ({
  cwd: place.folder,
  DRAWER: place.path(`${name}.drawer`),
});

it('loses no paste of several that go into one file at the same moment, whichever drawers they come from', async () => {
  writeFileSync(place.path('log.md'), '# Log\n');
  const names = ['oak', 'ash', 'elm', 'larch', 'teak'];
  await Promise.all(names.map((name) => runCommand(['copy', '--text', `plank of ${name}`], drawerOf(name))));
  const pasted = await Promise.all(
    names.map((name) => runCommand(['paste', 'all', '--into', 'log.md'], drawerOf(name))),
  );
  expect(pasted.map(({ code, err }) => [code, err])).toEqual(names.map(() => [0, '']));
  for (const name of names) expect(words('log.md').split(`plank of ${name}`)).toHaveLength(2);
  expect(readdirSync(place.folder).filter((name) => name.includes('claim') || name.endsWith('.part'))).toEqual([]);
});

it('cuts at the same moment as it pastes, and each is there or gone as was said', async () => {
  writeFileSync(place.path('log.txt'), 'first\n\nsecond\n\nthird\n');
  await runCommand(['copy', '--text', 'fourth'], drawerOf('other'));
  const [cut, also, pasted] = await Promise.all([
    place.run('cut', 'log.txt#paragraph=1'),
    runCommand(['cut', 'log.txt#:~:text=third'], drawerOf('third')),
    runCommand(['paste', 'all', '--into', 'log.txt'], drawerOf('other')),
  ]);
  expect([cut.code, also.code, pasted.code]).toEqual([0, 0, 0]);
  expect(words('log.txt').match(/\w+/g)).toEqual(['second', 'fourth']);
});

it('gives each of several that ask for the next snippet another one', async () => {
  await place.run('copy', '--text', 'oak', '--text', 'ash', '--text', 'elm');
  writeFileSync(place.path('log.txt'), '');
  const ran = await Promise.all([1, 2, 3].map(() => place.run('next', '--into', 'log.txt')));
  expect(ran.map(({ code }) => code)).toEqual([0, 0, 0]);
  expect(
    words('log.txt')
      .match(/oak|ash|elm/g)
      ?.sort(),
  ).toEqual(['ash', 'elm', 'oak']);
});

it.each<[string, string[]]>([
  ['printed', []],
  ['in a file of its own', ['--into', 'own.txt']],
])('gives each of several that ask for the next snippet another one, %s', async (_, into) => {
  await place.run('copy', '--text', 'oak', '--text', 'ash', '--text', 'elm');
  const ran = await Promise.all(
    ['1', '2', '3'].map(async (at) => {
      const { code, out } = await place.run('next', ...into.map((word) => word.replace('own', at)));
      return [code, into.length === 0 ? out.trim() : words(`${at}.txt`).trim()];
    }),
  );
  expect(ran.sort()).toEqual([
    [0, 'ash'],
    [0, 'elm'],
    [0, 'oak'],
  ]);
});

/** Pastes again and again into one file, now with a claim on it and now without, and says each one that was done. */
const pasting = (name: string, file: string, times: number): string => `
  import { planPaste, whileClaimed } from ${JSON.stringify(library)};
  const place = { file: ${JSON.stringify(file)}, fragment: { kind: 'whole' } };
  for (let at = 0; at < ${times}; at++) {
    const text = '${name}-' + at + ';';
    const content = { shape: 'blocks', blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text }] }] };
    const insertion = { content, pieces: [content], media: new Map(), languages: [undefined], style: 'target' };
    const paste = async () => {
      const { files } = await planPaste([{ place, insertion }]);
      await drawer.writeFiles({ name: { kind: 'pasted' }, files });
      say(text);
    };
    const once = at % 3 === 0 ? paste() : whileClaimed([place.file], paste);
    await once.catch((error) => { if (error.code !== 'write-failed') throw error; });
  }
  await drawer.close();`;
const library = new URL('../../dist/node/index.js', import.meta.url).pathname;

it('has all that was acknowledged of processes that paste at random, one of which is killed, and none twice', async () => {
  writeFileSync(place.path('log.txt'), '');
  const names = ['a', 'b', 'c'];
  const processes = names.map((name) =>
    inProcess(place.path(`${name}.drawer`), pasting(name, place.path('log.txt'), 60)),
  );
  const [killed, ...others] = processes;
  killed?.child.stdout.on('data', () => {
    if (killed.lines.length > 20) killed.child.kill('SIGKILL');
  });
  await Promise.all(processes.map(({ ended }) => ended));
  for (const { errors } of processes) expect(errors()).toBe('');
  const said = processes.flatMap(({ lines }) => lines);
  expect(others.every(({ lines }) => lines.length >= 40)).toBe(true);
  const there: string[] = words('log.txt').match(/[abc]-\d+;/g) ?? [];
  expect(there.filter((text) => !said.includes(text)).length).toBeLessThanOrEqual(1); // of the one that was killed
  expect(said.filter((text) => !there.includes(text))).toEqual([]);
  expect(new Set(there).size).toBe(there.length);
});

it('never claims a name twice at once, and is refused it only by another program that has it', async () => {
  const script = `
    const { tryClaim } = await import(${JSON.stringify(`${resolve(import.meta.dirname, '../../dist')}/node/index.js`)});
    const { openSync, closeSync, rmSync } = await import('node:fs');
    let had = 0;
    for (let tries = 0; tries < 1_000; tries++) {
      const release = tryClaim(${JSON.stringify(place.path('one.claim'))});
      if (!release) continue;
      closeSync(openSync(${JSON.stringify(place.path('mine'))}, 'wx')); // fails where another has it too
      rmSync(${JSON.stringify(place.path('mine'))});
      release();
      had++;
    }
    say(had > 0 ? 'had it' : 'never had it');
    await drawer.close();`;
  const all = [1, 2, 3].map((number) => inProcess(place.path(`${number}.drawer`), script));
  await Promise.all(all.map(({ ended }) => ended));
  expect(all.map(({ lines, errors }) => [...lines, errors()])).toEqual(all.map(() => ['had it', '']));
});
