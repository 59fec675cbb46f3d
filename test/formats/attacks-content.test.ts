import { writeFileSync } from 'node:fs';
import { type Attack, explosions, slowReading } from '../support/attacks.ts';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
/** How long a harmless file takes, in milliseconds, on this machine and beside whatever else runs on it. */
let harmless: number;
beforeAll(async () => {
  place = workplace();
  writeFileSync(place.path('harmless.md'), 'Words of a paragraph.\n\n'.repeat(50));
  harmless = await timed('harmless.md');
});
afterAll(() => place.remove());

async function timed(name: string): Promise<number> {
  const begin = performance.now();
  const { code, err } = await copy(name);
  expect([code, err]).toEqual([0, '']);
  return performance.now() - begin;
}

/** With far less memory than a machine has: the program would end at once if it asked for more. */
const copy = (name: string) =>
  runCommand(['copy', name], { cwd: place.folder, DRAWER: place.drawer, NODE_OPTIONS: '--max-old-space-size=768' });

const cases = [...explosions, ...slowReading].map((attack) => [attack.what, attack] as [string, Attack]);

it.each(cases)('takes %s in bounded time and memory, or refuses it in one line', async (_, { name, bytes }) => {
  writeFileSync(place.path(name), await bytes());
  const begin = performance.now();
  const { code, out, err } = await copy(name);
  expect(`${out}${err}`).not.toMatch(/inside Drawer|heap|FATAL/);
  expect([0, 1]).toContain(code);
  if (code === 1) expect(err).toMatch(/^drawer: \S+: [^\n]+\n$/);
  // What is slow takes a hundred times as long, or does not end.
  expect((performance.now() - begin) / harmless).toBeLessThan(30);
  expect((await copy('harmless.md')).code).toBe(0);
});
