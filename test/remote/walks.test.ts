import { createDrawer, type Drawer, memoryStorage, plainText, run, type Snippet, type Storage } from 'drawer';
import * as fc from 'fast-check';
import { openSyncingOver, type Syncing } from '../../src/remote/index.ts';
import { notesUnder, stampedStorage } from '../../src/sync/index.ts';
import { snippetsOf } from '../support/acts.ts';
import { carrierOf, openTools, Place } from '../support/memory-carrier.ts';

/** Devices that sync now and then over months, or stay away for long. */

const day = 24 * 60 * 60_000;
let time = 0;

interface Device {
  readonly storage: Storage;
  readonly drawer: Drawer;
  readonly syncing: Syncing;
}

let made = 0;
async function device(name: string, place: Place): Promise<Device> {
  const storage = memoryStorage();
  let ids = 0;
  const syncing = await openSyncingOver(
    carrierOf(place),
    {
      ...openTools,
      openStorage: async () => storage,
      alone: (work) => work(),
      mostMerged: 5,
      where: async () => name,
      deviceName: name,
      now: () => time,
      randomBytes: (length) =>
        Uint8Array.from({ length }, (_, index) => (index < 4 ? (++made >> (index * 5)) % 36 : 0)),
    },
    { passphrase: 'wooden river ferry', labelBeside: (preview) => `${preview} (elsewhere)` },
  );
  const drawer = createDrawer({
    storage: stampedStorage(storage, () => time),
    clock: () => new Date(time),
    generateId: () => `${name}${++ids}`,
  });
  return { storage, drawer, syncing };
}

const wordsOf = (snippets: readonly Snippet[]): string[] =>
  snippets.flatMap(({ content }) => plainText(content).match(/words\d+\./g) ?? []);

const step = fc.record({
  who: fc.nat(3),
  what: fc.constantFrom(
    'keep',
    'keep',
    'edit',
    'label',
    'remove',
    'sync',
    'sync',
    'sync',
    'sync',
    'cut off',
    'days',
    'weeks',
    'away',
  ),
  at: fc.double({ min: 0, max: 0.999, noNaN: true }),
});

it('end alike with nothing lost, and nothing deleted is back, though logs are replaced and deletions forgotten', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 50, maxLength: 90, size: 'max' }), async (steps) => {
      time = Date.UTC(2026, 4, 4, 9);
      const place = new Place();
      const devices = await Promise.all(['a', 'b', 'c', 'd'].map((name) => device(name, place)));
      const live = new Set<string>();
      // What one edits while another deletes it stays.
      const [removed, edited] = [new Set<string>(), new Set<string>()];
      let count = 0;
      const written = (): string => {
        const words = `words${++count}.`;
        live.add(words);
        return words;
      };
      for (const { who, what, at } of steps) {
        time += 1_000;
        const { drawer, syncing } = devices[who] as Device;
        if (what === 'days') time += Math.floor(at * 5 * day);
        else if (what === 'weeks') time += Math.floor(at * 50 * day);
        else if (what === 'away') {
          // One stays away for half a year, and the others do not.
          for (let month = 0; month < 7; month++) {
            time += 26 * day;
            for (const each of devices) if (each !== devices[who]) await each.syncing.sync();
          }
        } else if (what === 'sync') await syncing.sync();
        else if (what === 'cut off') {
          place.failsAfter = Math.floor(at * 12);
          await syncing.sync().catch(() => undefined);
          place.failsAfter = Number.POSITIVE_INFINITY;
        } else if (what === 'keep') await drawer.keep({ content: run(written()), origin: {} });
        else {
          const all = await snippetsOf(drawer);
          const one = all[Math.floor(at * all.length)];
          if (!one) continue;
          if (what === 'label') await drawer.mark(one.id, { label: `label ${time}` });
          else {
            for (const words of wordsOf([one])) live.delete(words);
            (what === 'edit' ? edited : removed).add(one.id);
            if (what === 'edit') await drawer.edit(one.id, run(written()));
            else await drawer.remove(one.id);
          }
        }
      }
      const meet = async (): Promise<void> => {
        for (let round = 0; round < 4; round++)
          for (const { syncing } of devices) expect((await syncing.sync()).problems).toEqual([]);
      };
      await meet();
      const [first, ...others] = await Promise.all(devices.map(({ drawer }) => snippetsOf(drawer)));
      for (const other of others) expect(other).toEqual(first);
      const there = wordsOf(first as readonly Snippet[]);
      expect([...live].filter((words) => !there.includes(words))).toEqual([]);
      expect(first?.filter(({ id }) => removed.has(id) && !edited.has(id))).toEqual([]);
      const early = await device('f', place);
      await early.syncing.sync();
      expect(await snippetsOf(early.drawer)).toEqual(first);
      // In time the logs hold what is there, and nothing else is noted.
      for (let month = 0; month < 5; month++) {
        time += 31 * day;
        await meet();
      }
      expect(place.logs.size).toBe(4); // that of `early` is replaced
      const late = await device('e', place);
      await late.syncing.sync();
      expect(await snippetsOf(late.drawer)).toEqual(first);
      for (const { storage, drawer } of devices) {
        expect(await snippetsOf(drawer)).toEqual(first);
        const notes = await storage.read((rows) => notesUnder(rows, 'sync/record/'));
        const states = [...notes].map(([id, value]) => ({ id, state: JSON.parse(value).state }));
        // While a snippet still has two versions, the deletion of the second one has to stay noted.
        if (states.some(({ state }) => state.versions.length > 1)) continue;
        expect(states.map(({ id }) => id).filter((id) => !first?.some((each) => each.id === id))).toEqual([]);
      }
    }),
    { numRuns: Number(process.env.RUNS ?? 20), endOnFailure: true },
  );
}, 600_000);
