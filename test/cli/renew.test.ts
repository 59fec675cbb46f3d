import { copyFileSync, rmSync, writeFileSync } from 'node:fs';
import { plainText } from 'drawer';
import { findRenewals, openDrawer } from 'drawer/node';
import * as fc from 'fast-check';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
  for (const name of ['survey.docx', 'costs.xlsx']) copyFileSync(place.demo(name), place.path(name));
  writeFileSync(place.path('log.md'), log('The hull is dry.', 'Two frames were replaced.', 'The deck is next.'));
});
afterEach(() => place.remove());

const log = (...paragraphs: readonly string[]): string => `# Log\n\n${paragraphs.join('\n\n')}\n`;
const writeLog = (...paragraphs: readonly string[]): void => writeFileSync(place.path('log.md'), log(...paragraphs));

const marks = async (): Promise<string[]> =>
  JSON.parse((await place.run('list', '--json')).out).snippets.flatMap(
    ({ position, fileChanged }: { position: number; fileChanged?: true }) => (fileChanged ? [`${position}`] : []),
  );
const kinds = async (...words: string[]): Promise<string[]> =>
  JSON.parse((await place.run('renew', 'all', '--json', ...words)).out).snippets.map(
    ({ kind, reason = '' }: { kind: string; reason?: string }) => `${kind} ${reason}`.trim(),
  );

it('marks what is from a file that was saved since, shows what changed, and renews it as one action', async () => {
  await place.run('copy', 'costs.xlsx#Timber!A1:D6', 'survey.docx#section=Hull condition', '--quiet');
  await place.run('copy', 'costs.xlsx#Timber!A3:D3', '--text', '£80.00', '--quiet');
  expect(await marks()).toEqual([]);
  expect(await kinds()).toEqual(['same', 'same', 'same', 'unknown renewal-without-file']);
  expect((await place.run('paste', 'last', '--into', 'costs.xlsx#Timber!C3', '--over')).code).toBe(0);
  expect(await marks()).toEqual(['1', '3']);
  expect((await place.run('list')).out).toContain('file changed');

  const before = (await place.run('paste', 'all', '--as', 'json')).out;
  const shown = await place.run('renew', '1-3');
  expect(shown.out).toContain('− Oak for frames · 12.00 · £864.40 · 3 May 2026');
  expect(shown.out).toContain('+ Oak for frames · 12.00 · £80.00 · 3 May 2026');
  expect(shown.out).toContain('2: as in the file');
  expect([shown.code, shown.err]).toEqual([1, expect.stringContaining('2 snippets would be replaced')]);
  expect((await place.run('paste', 'all', '--as', 'json')).out).toBe(before);

  const renewed = await place.run('renew', '1-3', '--yes');
  expect(renewed.out).toContain('Renewed 2 snippets. drawer undo brings back what they were.');
  expect((await place.run('show', '1')).out).toMatch(/Oak for frames +12\.00 +£80\.00/);
  expect(await marks()).toEqual([]);
  expect(await kinds()).toEqual(['same', 'same', 'same', 'unknown renewal-without-file']);
  expect((await place.run('undo')).out).toContain('Renewed 2 snippets');
  expect((await place.run('paste', 'all', '--as', 'json')).out).toBe(before);
  expect((await place.run('redo')).code).toBe(0);
  expect((await place.run('show', '3')).out).toContain('£80.00');
});

it('guesses nothing: says why where the source does not tell for certain', async () => {
  await place.run('copy', 'log.md#paragraph=3', 'log.md#section=Log', '--quiet');
  await place.run('copy', 'log.md#section=Log', '--each', '--quiet');
  await place.run('copy', 'survey.docx#section=Hull condition', '--quiet');
  await place.run('append', 'log.md#paragraph=2', '--onto', '2', '--quiet');
  await place.run('mark', '4', '--secret');
  expect(await kinds()).toEqual([
    'same',
    'unknown renewal-built-up',
    'same',
    'unknown renewal-secret',
    'same',
    'same',
    'same',
  ]);
  writeLog('A new first paragraph.', 'The hull is dry.', 'Two frames were replaced.', 'The deck is next.');
  rmSync(place.path('survey.docx'));
  expect(await kinds('--yes')).toEqual([
    'unknown renewal-unlike',
    'unknown renewal-built-up',
    'unknown renewal-pieces',
    'unknown renewal-secret',
    'unknown renewal-pieces',
    'unknown renewal-pieces',
    'unknown file-missing',
  ]);
  const { out } = await place.run('renew', '1');
  expect(out).toContain('not renewed. Something else is at paragraph 3 now: “The hull is dry.”');
  writeLog('The hull is dry.', 'Three frames were replaced.', 'The deck is next.');
  expect(await kinds()).toEqual(expect.arrayContaining(['changed']));
});

it('leaves alone what was edited in the drawer, and finds files in another folder', async () => {
  await place.run('copy', 'log.md#paragraph=4', 'log.md#paragraph=2', '--quiet');
  writeFileSync(place.path('editor.sh'), '#!/bin/sh\necho "Edited by hand." > "$1"\n', { mode: 0o755 });
  const edited = await runCommand(['edit', '1'], {
    cwd: place.folder,
    DRAWER: place.drawer,
    VISUAL: place.path('editor.sh'),
  });
  expect(edited.code).toBe(0);
  writeLog('The hull is dry now.', 'Two frames were replaced.', 'The deck is done.');
  expect(await kinds()).toEqual(['unknown renewal-edited', 'changed']);
  expect(await kinds('--folder', '..')).toEqual(['unknown renewal-edited', 'unknown file-missing']);
  expect(await kinds('--yes')).toEqual(['unknown renewal-edited', 'changed']);
  expect((await place.run('show', '1')).out).toContain('Edited by hand.');
});

it('takes any words that a paragraph has now, where most of the old ones are left', async () => {
  const word = fc.stringMatching(/^[a-z]{1,9}$/);
  await place.run('copy', 'log.md#paragraph=3', '--quiet');
  const drawer = await openDrawer(place.drawer);
  await fc.assert(
    fc.asyncProperty(fc.array(word, { maxLength: 4 }), fc.array(word, { maxLength: 4 }), async (before, after) => {
      const words = [...before, 'Two frames were replaced', ...after].join(' ');
      writeLog('The hull is dry.', words, 'The deck is next.');
      const find = async () => findRenewals(drawer, await drawer.list(), { folder: place.folder });
      await drawer.renew(
        (await find()).flatMap((each) => (each.kind === 'changed' ? [{ id: each.summary.id, ...each }] : [])),
      );
      const [renewal] = await find();
      expect(renewal?.kind).toBe('same');
      expect(plainText((await drawer.get(renewal?.summary.id ?? '')).content)).toBe(words);
    }),
  );
  await drawer.close();
});
