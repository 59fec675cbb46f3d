import { copyFileSync, readFileSync, writeFileSync } from 'node:fs';
import { type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeEach(async () => {
  place = workplace();
  for (const name of ['application.docx', 'letters.html', 'costs.xlsx', 'sailings.csv'])
    copyFileSync(place.demo(name), place.path(name));
  writeFileSync(place.path('log.md'), '# Log\n\n- Hauled out at high water\n- Scrubbed\n');
  writeFileSync(place.path('minutes.md'), '# Minutes\n');
  await place.run('copy', 'costs.xlsx#Timber!A1:D3', 'log.md#list=1', '--quiet');
});
afterEach(() => place.remove());

const bytes = (name: string): string => readFileSync(place.path(name), 'hex');
const written = (name: string, from: string, to: string): void =>
  writeFileSync(place.path(name), readFileSync(place.path(name), 'utf8').replace(from, to));
const paste = (file: string, ...words: string[]) => place.run('paste', '1-2', '--linked', '--into', file, ...words);
const kinds = async (file: string, ...words: string[]): Promise<string[]> =>
  JSON.parse((await place.run('renew', ...words, '--into', file, '--json')).out).parts.map(
    ({ position, kind, reason = '' }: { position?: number; kind: string; reason?: string }) =>
      `${position} ${kind} ${reason}`.trim(),
  );
const words = async (file: string): Promise<string> => {
  const taken = place.path('taken.drawer');
  await place.run('--drawer', taken, 'copy', file, '--quiet');
  return (await place.run('--drawer', taken, 'paste', 'last', '--as', 'text')).out;
};

it.each(['application.docx', 'minutes.md'])(
  'renews in %s what was pasted there linked, and undo brings back the very bytes',
  async (file) => {
    expect((await paste(file)).out).toContain('Pasted 2 snippets');
    expect(await kinds(file)).toEqual(['1 same', '2 same']);
    const [pasted, before] = [bytes(file), await words(file)];
    expect((await place.run('renew', '--into', file)).out).toContain('Nothing was renewed.');

    written('log.md', 'high water', 'low water');
    expect(await kinds(file)).toEqual(['1 same', '2 changed']);
    expect(await kinds(file, '1')).toEqual(['1 same']);
    const shown = await place.run('renew', '--into', file);
    expect(shown.out).toMatch(/− - Hauled out at high water\n +\+ - Hauled out at low water/);
    expect([shown.code, shown.err]).toEqual([1, expect.stringContaining('1 snippet would be replaced')]);
    expect(bytes(file)).toBe(pasted);

    expect((await place.run('renew', '--into', file, '--yes')).out).toContain('Brought 1 linked part up to date.');
    expect(await kinds(file)).toEqual(['1 same', '2 same']);
    expect(await words(file)).toBe(before.replace('high water', 'low water'));
    expect((await place.run('show', '2')).out).toContain('low water');
    expect((await place.run('undo')).out).toContain(`Renewed 1 part of ${file}`);
    expect(bytes(file)).toBe(pasted);
    expect((await place.run('show', '2')).out).toContain('high water');
  },
);

it('leaves what somebody edited, what is gone, and what another drawer pasted, and says so', async () => {
  await paste('minutes.md');
  written('minutes.md', 'Scrubbed', 'Washed');
  written('log.md', 'high water', 'low water');
  expect(await kinds('minutes.md')).toEqual(['1 same', '2 unknown link-edited']);
  const otherDrawer = place.path('other.drawer');
  await place.run('--drawer', otherDrawer, 'copy', '--text', 'Elm', '--quiet');
  const other = await place.run('--drawer', otherDrawer, 'renew', '--into', 'minutes.md');
  expect(other.out.match(/No snippet of this drawer was pasted there/g)).toHaveLength(2);
  const [, name = ''] = /bookmark: (Drawer_\w+)/.exec(readFileSync(place.path('minutes.md'), 'utf8')) ?? [];
  written('minutes.md', `<!-- bookmark: ${name} -->`, '');
  const before = bytes('minutes.md');
  const { out } = await place.run('renew', '--into', 'minutes.md', '--yes');
  expect(out).toContain('minutes.md, 2: left as it is. Somebody has edited it in the file since');
  expect(out).toContain('minutes.md, 1: left as it is. The bookmark around it is no longer in the file');
  expect(bytes('minutes.md')).toBe(before);
  expect((await place.run('renew', '--into', 'log.md')).out).toContain('Nothing in log.md was pasted with --linked.');
});

it('renews several files at once, what was edited in the drawer too, or none of them', async () => {
  const files = ['application.docx', 'letters.html', 'minutes.md', 'new.odt'];
  const all = files.flatMap((file) => ['--into', file]);
  await place.run('paste', '1-2', '--linked', ...all);
  await place.run('append', '--text', 'Elm planks', '--onto', '2', '--quiet');
  const before = files.map(bytes);
  expect((await place.run('renew', ...all, '--yes')).out).toContain('Brought 4 linked parts up to date.');
  for (const file of files) expect(await words(file)).toContain('Elm planks');
  expect((await place.run('undo')).code).toBe(0);
  expect(files.map(bytes)).toEqual(before);
});

it('renews cells of sheets by names, which shrink and grow, and writes over no others unless that is said', async () => {
  const files = ['new.xlsx', 'new.ods'];
  const all = files.flatMap((file) => ['--into', file]);
  const pasted = await place.run('paste', '1-2', '--linked', ...all);
  expect(pasted.out.match(/Sheet1!A1:D6/g)).toHaveLength(2);
  const shown = async (file: string): Promise<string> =>
    (await words(file))
      .split('\n')
      .slice(4)
      .join('|')
      .replace(/\t|\|$/g, '');
  written('log.md', '- Scrubbed\n', '');
  await place.run('renew', ...all, '--yes', '--quiet');
  for (const file of files) expect(await shown(file)).toBe('Hauled out at high water');
  const before = files.map(bytes);
  written('log.md', '- Hauled out at high water\n', '- Hauled out\n- Washed\n- Dried\n');
  for (const file of files) await place.run('paste', '2', '--into', `${file}#A7`, '--quiet');
  const refused = await place.run('renew', ...all, '--yes');
  expect(refused.err).toMatch(/not empty: A7 “Hauled out at high water”\. Say --over/);
  await place.run('renew', ...all, '--yes', '--over', '--quiet');
  for (const file of files) expect(await shown(file)).toBe('Hauled out|Washed|Dried');
  for (const _ of [1, 2, 3]) expect((await place.run('undo')).code).toBe(0);
  expect(files.map(bytes)).toEqual(before);
  expect((await place.run('renew', '1', '--over')).err).toContain('--over says how snippets land in a file');
});

it.each([
  [['--linked'], '--linked says how snippets land in a file'],
  [['--linked', '--into', 'minutes.md', '--join', 'rows'], '--linked, --join cannot be combined'],
  [['--linked', '--into', 'minutes.md', '--take-out'], '--linked, --take-out cannot be combined'],
  [['--linked', '--into', 'sailings.csv'], 'No bookmark can be left around what lands at this place'],
])('refuses %j', async (options, said) => {
  const before = [bytes('minutes.md'), bytes('sailings.csv')];
  const { code, err } = await place.run('paste', '1-2', ...options);
  expect(code).not.toBe(0);
  expect(err).toContain(said);
  expect([bytes('minutes.md'), bytes('sailings.csv')]).toEqual(before);
});
