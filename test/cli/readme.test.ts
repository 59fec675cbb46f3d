import { spawnSync } from 'node:child_process';
import { cpSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { demoFiles, type Workplace, workplace } from '../support/cli.ts';

/** Every command that README shows, in its order, on the demo files. */

const readme = readFileSync(resolve(import.meta.dirname, '../../README.md'), 'utf8');
const lines = [...readme.matchAll(/^```sh\n(.*?)^```/gms)]
  .flatMap(([, block = '']) => block.replace(/\\\n\s*/g, '').split('\n'))
  .filter((line) => line.startsWith('drawer '));
/** Those that ask somebody at a terminal, or open a browser, are tried there, by tests of their own. */
const asks = /--pick|--lock|^drawer (?:edit|desk)/;
const command = resolve(import.meta.dirname, '../../dist/bin/drawer.cjs');

let place: Workplace;
beforeAll(() => {
  place = workplace();
  cpSync(demoFiles, place.folder, { recursive: true });
});
afterAll(() => place.remove());

it('shows commands, and most of them can be tried here', () => {
  expect(lines.length).toBeGreaterThan(30);
  expect(lines.filter((line) => asks.test(line)).length).toBeLessThan(6);
});

it.each(lines.filter((line) => !asks.test(line)))('%s', (line) => {
  const { status, stdout, stderr } = spawnSync('sh', ['-c', `drawer() { "$NODE" '${command}' "$@"; }\n${line}`], {
    cwd: place.folder,
    encoding: 'utf8',
    input: 'words that were handed over\n',
    env: {
      ...process.env,
      NODE: process.execPath,
      DRAWER: place.drawer,
      HOME: place.folder,
      DRAWER_SYNC_PASSPHRASE: 'wooden river ferry',
      COLUMNS: '100',
    },
  });
  expect([line, status, stderr]).toEqual([line, 0, expect.not.stringMatching(/^drawer: /m)]);
  expect([line, (stdout + stderr).trim()]).not.toEqual([line, '']);
});
