import { DrawerError, plainText, run, type Snippet } from 'drawer';
import * as fc from 'fast-check';
import { takePart } from '../../src/sync/index.ts';
import { Device, meetAll, start } from '../support/devices.ts';

/** Several devices change a drawer apart from one another, meet now and then, and end with the same. */

interface Step {
  readonly who: number;
  readonly what: (typeof kinds)[number];
  readonly at: number;
  readonly to: number;
  readonly flag: boolean;
}
const kinds = [
  ...[
    'keep',
    'keep',
    'remove',
    'move',
    'label',
    'hold',
    'edit',
    'edit',
    'split',
    'merge',
    'append',
    'append',
    'arrange',
  ],
  ...['undo', 'redo', 'secret', 'lasts', 'once', 'send', 'receive', 'receive', 'meet'],
] as const;

const step: fc.Arbitrary<Step> = fc.record({
  who: fc.nat(4),
  what: fc.constantFrom(...kinds),
  at: fc.double({ min: 0, max: 0.999, noNaN: true }),
  to: fc.double({ min: 0, max: 0.999, noNaN: true }),
  flag: fc.boolean(),
});

/** Words that somebody has kept or written, until somebody who has seen them writes or deletes over them. */
class Ledger {
  /** The words, and the snippet that they were written into. */
  readonly #live = new Map<string, string | undefined>();
  /** Nothing that others write into these stays. */
  readonly secret = new Set<string | undefined>();
  #count = 0;

  write(by: Device, id?: string): string {
    const words = `words${++this.#count}${by.name}.`;
    this.#live.set(words, id);
    return words;
  }

  /** Somebody has replaced or removed a snippet with these words. */
  drop(snippet: Snippet): void {
    for (const words of wordsOf(snippet)) this.#live.delete(words);
  }

  lost(snippets: readonly Snippet[]): string[] {
    const there = new Set(snippets.flatMap(wordsOf));
    return [...this.#live].flatMap(([words, id]) => (there.has(words) || this.secret.has(id) ? [] : [words]));
  }
}

const wordsOf = ({ content }: Snippet): string[] => plainText(content).match(/words\d+[a-e]\./g) ?? [];

async function take({ who, what, at, to, flag }: Step, devices: readonly Device[], ledger: Ledger): Promise<void> {
  const device = devices[who % devices.length] as Device;
  const { drawer } = device;
  Device.time += 1_000;
  if (what === 'meet') return meetAll(devices);
  if (what === 'send') return device.send(flag);
  if (what === 'receive') {
    const other = devices[Math.floor(to * devices.length)] as Device;
    return other === device ? undefined : device.receive(other, 1 + Math.floor(at * 8), flag);
  }
  if (what === 'keep') return void (await drawer.keep({ content: run(ledger.write(device)), origin: {} }));
  // What was undone may come back or go: the ledger follows what one does, not what one takes back.
  const all = await device.snippets();
  const [one, two] = [all[Math.floor(at * all.length)], all[Math.floor(to * all.length)]];
  if (!one || !two) return;
  const before = async (): Promise<void> => {
    const later = new Set((await device.snippets()).flatMap(wordsOf));
    const lost = (words: string): boolean => !later.has(words);
    for (const snippet of all) if (wordsOf(snippet).some(lost)) ledger.drop(snippet);
    // Undo takes back what this device has written, and nothing that others have.
    if (what === 'undo')
      for (const words of all.flatMap(wordsOf).filter(lost)) expect(words).toMatch(new RegExp(`${device.name}\\.$`));
  };
  switch (what) {
    case 'remove':
      await drawer.remove(one.id, { builtUp: true });
      break;
    case 'move':
      return drawer.move(one.id, { before: two.id });
    case 'label':
      return drawer.mark(one.id, { label: flag ? `label ${Device.time}` : '' });
    case 'lasts':
      return drawer.mark(one.id, { lasts: flag ? 3_600 : null });
    case 'once':
      await drawer.spend(all.map(({ id }) => id));
      break;
    case 'hold':
      return drawer.mark(one.id, { held: flag });
    case 'secret':
      if (!flag) return;
      await drawer.mark(one.id, { secret: true });
      ledger.drop(one);
      ledger.secret.add(one.id);
      break;
    case 'edit':
      if (one.secret) return;
      await drawer.edit(one.id, run(ledger.write(device, one.id)));
      break;
    case 'split':
      if (one.secret) return;
      // Words are in one snippet each: of two that hold the same, each may go on another device.
      await drawer.split(one.id, [run(ledger.write(device)), run(ledger.write(device))]);
      break;
    case 'merge':
      if (one.id === two.id || one.secret || two.secret) return;
      await drawer.merge({
        of: [one.id, two.id],
        content: run(ledger.write(device)),
        takeOut: flag,
      });
      break;
    case 'append':
      if (one.secret) return;
      await drawer.append({ content: run(ledger.write(device, one.id)), origin: {} }, { onto: one.id });
      break;
    case 'arrange':
      await drawer.arrange([one.id, two.id]);
      return;
    default:
      try {
        await (what === 'undo' ? drawer.undo() : drawer.redo());
      } catch (error) {
        if (!DrawerError.is(error) || error.code !== 'refused') throw error;
      }
  }
  await before();
}

/** What all devices should have the same of: nothing that is a secret on one of them. */
function sharedOf(drawers: readonly (readonly Snippet[])[]): readonly (readonly Snippet[])[] {
  const secret = new Set(drawers.flat().flatMap((snippet) => (snippet.secret ? [snippet.id] : [])));
  return drawers.map((snippets) => snippets.filter(({ id }) => !secret.has(id)));
}

it('end in identical drawers with nothing lost, after any changes in any order', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 2, max: 5 }),
      fc.array(fc.integer({ min: -300_000, max: 300_000 }), { minLength: 5, maxLength: 5 }),
      fc.array(step, { minLength: 40, maxLength: 60, size: 'max' }),
      async (count, skews, steps) => {
        Device.time = start;
        const devices = Array.from(
          { length: count },
          (_, index) => new Device(`abcde`[index] as string, skews[index] ?? 0),
        );
        for (const device of devices) await takePart(device.storage, device.name);
        const ledger = new Ledger();
        const [first] = devices as [Device];
        await first.drawer.keep([1, 2, 3].map(() => ({ content: run(ledger.write(first)), origin: {} })));
        await meetAll(devices);
        for (const each of steps) await take(each, devices, ledger);
        await meetAll(devices);
        const met = await Promise.all(devices.map((device) => device.snippets()));
        expect(ledger.lost(met.flat())).toEqual([]);
        // What is to go then goes by every clock.
        Device.time += 7_200_000;
        for (const device of devices) await device.snippets();
        await meetAll(devices);
        const drawers = await Promise.all(devices.map((device) => device.snippets()));
        const [one, ...others] = sharedOf(drawers);
        for (const other of others) expect(other).toEqual(one);
        for (const { drawer } of devices) expect((await drawer.check()).faults).toEqual([]);
        for (const { drawer } of devices) await drawer.close();
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 100) },
  );
}, 600_000);
