import { readFileSync, writeFileSync } from 'node:fs';
import { type Attack, explosions, slowReading } from '../support/attacks.ts';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
/** How much of a processor a harmless file takes on this machine, in microseconds. */
let harmless: number;
beforeAll(async () => {
  place = workplace();
  writeFileSync(place.path('harmless.md'), 'Words of a paragraph.\n\n'.repeat(50));
  const { code, err } = await copy('harmless.md');
  expect([code, err]).toEqual([0, '']);
  harmless = used();
});
afterAll(() => place.remove());

/** Writes how much of a processor the program took, where a clock would count what else the machine does. */
const counting = `import { writeFileSync } from 'node:fs';
process.on('exit', () => {
  const { user, system } = process.cpuUsage();
  writeFileSync(process.env.USED, String(user + system));
});`;
const used = (): number => Number(readFileSync(place.path('used'), 'utf8'));

/** With far less memory than a machine has: the program would end at once if it asked for more. */
const copy = (name: string) =>
  runCommand(['copy', name], {
    cwd: place.folder,
    DRAWER: place.drawer,
    USED: place.path('used'),
    NODE_OPTIONS: `--max-old-space-size=768 --import=data:text/javascript,${encodeURIComponent(counting)}`,
  });

const cases = [...explosions, ...slowReading].map((attack) => [attack.what, attack] as [string, Attack]);

it.each(cases)('takes %s in bounded time and memory, or refuses it in one line', async (_, { name, bytes }) => {
  writeFileSync(place.path(name), await bytes());
  const { code, out, err } = await copy(name);
  expect(`${out}${err}`).not.toMatch(/inside Drawer|heap|FATAL/);
  expect([0, 1]).toContain(code);
  if (code === 1) expect(err).toMatch(/^drawer: \S+: [^\n]+\n$/);
  // What is slow takes a hundred times as long, or does not end.
  expect(used() / harmless).toBeLessThan(30);
});

it('leaves a drawer that goes on', async () => {
  expect((await copy('harmless.md')).code).toBe(0);
});
