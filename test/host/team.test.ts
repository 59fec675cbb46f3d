import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join, resolve } from 'node:path';
import type { Locator, Page } from 'playwright-core';
import { runCommand } from '../support/cli.ts';
import { Windows } from '../support/served-desk.ts';
import { heard, seriousFindings } from '../support/site.ts';

/** The example of a team, started as README says. */

const folder = resolve(import.meta.dirname, '../../examples/team');
const windows = new Windows();
let team: ChildProcess | undefined;
afterEach(async () => {
  expect(await windows.closeAll()).toEqual([]);
  if (team?.pid === undefined || team.exitCode !== null) return;
  const ended = once(team, 'close');
  process.kill(-team.pid, 'SIGTERM');
  await ended;
});
afterAll(() => windows.close());

/** Starts it; gives the addresses of the two desks, once both are in step. */
async function start(...words: string[]): Promise<string[]> {
  team = spawn('npm', ['run', 'team', '--', '--no-open', ...words], { cwd: folder, detached: true });
  let said = '';
  const output = team.stdout as NodeJS.ReadableStream;
  for (const stream of [output, team.stderr as NodeJS.ReadableStream])
    stream.on('data', (chunk: Buffer) => {
      said += chunk;
    });
  const isReady = (): boolean => /Pier: .*Received 2 new/.test(said) && said.match(/http:\S+/g)?.length === 2;
  const ended = once(team, 'close').then(() => {
    throw new Error(said);
  });
  while (!isReady()) await Promise.race([once(output, 'data'), ended]);
  ended.catch(() => {});
  return said.match(/http:\S+/g) as string[];
}

it.each([[[]], [['--three']]])('keeps the desks of two people in step %s', async (words) => {
  const addresses = await start(...words);
  const [one, other] = (await Promise.all(addresses.map((address) => windows.open(address)))) as [Page, Page];
  const slips = (page: Page): Locator => page.locator('drawer-panel [role="option"]');
  for (const page of [one, other]) await slips(page).nth(3).waitFor();
  await slips(one).first().click();
  await one.keyboard.press('Delete');
  await heard(one, /deleted/i);
  await slips(other).nth(3).waitFor({ state: 'detached' });
  await runCommand(['copy', '--text', 'the tide is out'], { cwd: folder, DRAWER: join(folder, 'work/Pier.drawer') });
  await one.getByText('the tide is out').first().waitFor();
  await one.getByText('Shared with Pier', { exact: true }).waitFor();
  await other.getByText('Shared with Office', { exact: true }).waitFor();
  expect(await seriousFindings(one)).toEqual([]);
});
