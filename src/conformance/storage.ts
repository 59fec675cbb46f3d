import { type Content, DrawerError, run, text } from '../content/index.ts';
import type { Drawer, DrawerTools, Snippet, SnippetSummary, Storage, StoredNote } from '../drawer/index.ts';
import { createDrawer } from '../storage/index.ts';
import { type ConformanceCase, expectRejection, expectSame } from './case.ts';

/** A kind of storage that is tried out. */
export interface StorageSubject {
  /** A new storage with nothing in it. */
  open(): Promise<Storage>;
  /** The same storage, opened again after it was closed; absent where it does not outlast its program. */
  reopen?(closed: Storage): Promise<Storage>;
}

/** What every storage does (`Storage`): each case opens storages of its own and closes them. */
export const storageCases: readonly ConformanceCase<StorageSubject>[] = [
  {
    name: 'holds nothing when it is new',
    run: (subject) =>
      using(subject, async (storage) => {
        const found = await storage.read(async (rows) => ({
          count: await rows.count(),
          summaries: await rows.summaries(0, 10),
          last: await rows.findLast(),
          bytes: await rows.bytes(),
          actions: await rows.actions(),
          media: await rows.mediaHashes(),
          settings: await rows.findSettings(),
          faults: await rows.faults(),
        }));
        expectSame('a new storage', found, { count: 0, summaries: [], bytes: 0, actions: [], media: [], faults: [] });
      }),
  },
  {
    name: 'orders snippets by their order keys, whenever they came',
    run: (subject) =>
      using(subject, async (storage) => {
        const [a, b, c] = await snippetsOf('one', 'two', 'three');
        await storage.write(async (rows) => {
          for (const snippet of [c, a, b]) await rows.insert(snippet);
        });
        await storage.read(async (rows) => {
          expectSame('all ids', ids(await rows.summaries(0, 10)), [a.id, b.id, c.id]);
          expectSame('ids from the second on', ids(await rows.summaries(1, 1)), [b.id]);
          expectSame('the last', (await rows.findLast())?.id, c.id);
          expectSame('how many come before', await rows.countsBefore([a, b, c]), [0, 1, 2]);
          expectSame('how many come before one', await rows.countBefore(c), 2);
          expectSame('the count', await rows.count(), 3);
        });
      }),
  },
  {
    name: 'orders snippets with the same order key by their ids',
    run: (subject) =>
      using(subject, async (storage) => {
        const [a, b, c] = (await snippetsOf('one', 'two', 'three')).map((snippet, index) => ({
          ...snippet,
          id: `id-${index}`,
          order: 'a1',
        })) as [Snippet, Snippet, Snippet];
        await storage.write(async (rows) => {
          for (const snippet of [b, c, a]) await rows.insert(snippet);
        });
        await storage.read(async (rows) => {
          expectSame('all ids', ids(await rows.summaries(0, 10)), [a.id, b.id, c.id]);
          expectSame('the last', (await rows.findLast())?.id, c.id);
          expectSame('how many come before', await rows.countsBefore([c, b, a]), [2, 1, 0]);
          expectSame('how many come before all of them', await rows.countBefore({ order: 'a1', id: '' }), 0);
        });
      }),
  },
  {
    name: 'gives back a snippet as it was put in, and says what it does not hold',
    run: (subject) =>
      using(subject, async (storage) => {
        const [snippet] = await snippetsOf('Zürich – 北京 \u0000 🛶');
        await storage.write((rows) => rows.insert(snippet));
        expectSame('the snippet', await storage.read((rows) => rows.findSnippet(snippet.id)), snippet);
        expectSame('an unknown id', await storage.read((rows) => rows.findSnippet('unknown')), undefined);
      }),
  },
  {
    name: 'replaces a head and leaves the content',
    run: (subject) =>
      using(subject, async (storage) => {
        const [first, second] = await snippetsOf('one', 'two');
        await storage.write(async (rows) => {
          await rows.insert(first);
          await rows.insert(second);
          const { content: _, ...summary } = second;
          await rows.setSummary({ ...summary, order: 'Zz', label: 'Oak', held: true });
        });
        await storage.read(async (rows) => {
          expectSame('ids', ids(await rows.summaries(0, 10)), [second.id, first.id]);
          expectSame('the snippet', await rows.findSnippet(second.id), {
            ...second,
            order: 'Zz',
            label: 'Oak',
            held: true,
          });
        });
      }),
  },
  {
    name: 'keeps notes by name, and lists them in order',
    run: (subject) =>
      using(subject, async (storage) => {
        await storage.write(async (rows) => {
          for (const name of ['b/2', 'a/1', 'b/10', 'c', 'b/1']) await rows.putNote(name, `of ${name}`);
          await rows.putNote('b/1', 'of b/1, anew');
          await rows.putNote('c', undefined);
        });
        await storage.read(async (rows) => {
          expectSame('a note', await rows.findNote('b/1'), 'of b/1, anew');
          expectSame('a removed note', await rows.findNote('c'), undefined);
          const all = await rows.notes('b/', 'b0', 10);
          expectSame('the names', names(all), ['b/1', 'b/10', 'b/2']);
          expectSame('the first', names(await rows.notes('b/', 'b0', 1)), ['b/1']);
        });
      }),
  },
  {
    name: 'does all of a write, or nothing of it',
    run: (subject) =>
      using(subject, async (storage) => {
        const [first, second] = await snippetsOf('one', 'two');
        await storage.write((rows) => rows.insert(first));
        const fault = new Error('on purpose');
        const failing = storage.write(async (rows) => {
          await rows.insert(second);
          await rows.remove(first.id);
          await rows.putSettings('{"most":1}');
          await rows.putMedia('00', new Uint8Array([1]));
          await rows.putNote('name', 'value');
          throw fault;
        });
        await expectRejection(
          'a write that fails',
          () => failing,
          (error) => error === fault,
        );
        await storage.read(async (rows) => {
          expectSame('ids', ids(await rows.summaries(0, 10)), [first.id]);
          expectSame('the settings', await rows.findSettings(), undefined);
          expectSame('the pictures', await rows.mediaHashes(), []);
          expectSame('the note', await rows.findNote('name'), undefined);
        });
      }),
  },
  {
    name: 'runs writes one after another, in the order they were asked for',
    run: (subject) =>
      using(subject, async (storage) => {
        const told: string[] = [];
        const write = (name: string) =>
          storage.write(async (rows) => {
            told.push(`${name} begins`);
            await rows.count();
            told.push(`${name} ends`);
          });
        await Promise.all(['a', 'b', 'c'].map(write));
        expectSame(
          'the order',
          told,
          ['a', 'b', 'c'].flatMap((name) => [`${name} begins`, `${name} ends`]),
        );
      }),
  },
  {
    name: 'shows a read one state, whatever is written meanwhile',
    run: (subject) =>
      using(subject, async (storage) => {
        const [snippet] = await snippetsOf('one');
        let writing: Promise<void> | undefined;
        const counts = await storage.read(async (rows) => {
          const before = await rows.count();
          writing = storage.write((others) => others.insert(snippet));
          return [before, await rows.count(), (await rows.summaries(0, 10)).length];
        });
        expectSame('the counts of one read', counts, [0, 0, 0]);
        await writing;
        expectSame('the count afterwards', await storage.read((rows) => rows.count()), 1);
      }),
  },
  {
    name: 'keeps settings and the bytes of pictures, and lets them go',
    run: (subject) =>
      using(subject, async (storage) => {
        const bytes = new Uint8Array([0, 1, 128, 255]);
        await storage.write(async (rows) => {
          await rows.putSettings('{"most":5}');
          await rows.putMedia('ab', bytes);
        });
        bytes[0] = 9; // the caller's own from now on
        await storage.write(async (rows) => {
          expectSame('the settings', await rows.findSettings(), '{"most":5}');
          expectSame('the picture', await rows.findMedia('ab'), new Uint8Array([0, 1, 128, 255]));
          expectSame('an unknown picture', await rows.findMedia('cd'), undefined);
          await rows.removeMedia('ab');
        });
        expectSame('the pictures', await storage.read((rows) => rows.mediaHashes()), []);
      }),
  },
  {
    name: 'calls back on a change, and no more when that was ended',
    run: (subject) =>
      using(subject, async (storage) => {
        const [first, second] = await snippetsOf('one', 'two');
        let calls = 0;
        let changed = (): void => {};
        const told = new Promise<void>((resolve) => {
          changed = resolve;
        });
        const end = storage.watch(() => {
          calls++;
          changed();
        });
        await storage.write((rows) => rows.insert(first));
        await told;
        end();
        const before = calls;
        await storage.write((rows) => rows.insert(second));
        await storage.read((rows) => rows.count());
        expectSame('calls after the end', calls, before);
      }),
  },
  {
    name: 'closes behind what waits, and refuses what comes later',
    run: async ({ open }) => {
      const storage = await open();
      const [snippet] = await snippetsOf('one');
      const waiting = storage.write((rows) => rows.insert(snippet)).then(() => storage);
      const closing = storage.close();
      await waiting;
      await closing;
      await expectRejection('a read after closing', () => storage.read((rows) => rows.count()), isError('storage'));
    },
  },
  {
    name: 'holds what was written when it is opened again',
    run: async ({ open, reopen }) => {
      if (!reopen) return;
      const storage = await open();
      const drawer = createDrawer({ storage, ...countingTools() });
      await drawer.keep([{ content: run('one'), origin: {} }]);
      const before = await pictureOf(drawer);
      await storage.close();
      const again = await reopen(storage);
      expectSame('the drawer', await pictureOf(createDrawer({ storage: again, ...countingTools() })), before);
      await again.close();
    },
  },
  ...[1, 2, 3].map((seed) => ({
    name: `answers a drawer as memory does, through random changes (${seed})`,
    run: (subject: StorageSubject) =>
      using(subject, async (storage) => {
        const drawers = [createDrawer({ storage, ...countingTools() }), createDrawer(countingTools())] as const;
        const next = chanceFrom(seed);
        for (let step = 0; step < 60; step++) {
          const change = changeAt(next(), step);
          const [one, other] = [await outcomeOf(change, drawers[0]), await outcomeOf(change, drawers[1])];
          expectSame(`step ${step}`, one, other);
        }
      }),
  })),
];

/** A storage of the subject's, closed when the work is done. */
async function using({ open }: StorageSubject, work: (storage: Storage) => Promise<void>): Promise<void> {
  const storage = await open();
  try {
    await work(storage);
  } finally {
    await storage.close();
  }
}

const isError =
  (code: DrawerError['code']) =>
  (error: unknown): boolean =>
    DrawerError.is(error) && error.code === code;

const ids = (summaries: readonly SnippetSummary[]): string[] => summaries.map(({ id }) => id);
const names = (notes: readonly StoredNote[]): string[] => notes.map(({ name }) => name);

/** A clock that moves a second at each look, and ids that count. */
function countingTools(): DrawerTools {
  let seconds = 0;
  let made = 0;
  return { clock: () => new Date(Date.UTC(2026, 0, 1, 0, 0, ++seconds)), generateId: () => `id-${++made}` };
}

/** Snippets as a drawer makes them, one for each text. */
async function snippetsOf<T extends readonly string[]>(
  ...texts: T
): Promise<{ [K in keyof T]: Awaited<ReturnType<Drawer['get']>> }> {
  const drawer = createDrawer(countingTools());
  const kept = await drawer.keep(texts.map((words) => ({ content: run(words), origin: { file: 'log.md' } })));
  const made = await Promise.all(kept.map((result) => drawer.get('summary' in result ? result.summary.id : '')));
  return made as { [K in keyof T]: Awaited<ReturnType<Drawer['get']>> };
}

/** All that a drawer shows of itself. */
async function pictureOf(drawer: Drawer): Promise<unknown> {
  const listed = await drawer.list(1, 1_000);
  const found = await drawer.find(['oak']);
  return {
    listed,
    contents: await Promise.all(listed.map(async ({ summary }) => (await drawer.get(summary.id)).content)),
    count: await drawer.count(),
    bytes: await drawer.bytes(),
    action: await drawer.lastAction(),
    // The newest come first; those taken at the same time in any order.
    foundTimes: found.map(({ summary }) => summary.takenAt),
    found: found.map(({ summary, position }) => `${position} ${summary.id}`).sort(),
    faults: await drawer.check(),
  };
}

type Chance = () => number;

/** Numbers from 0 up to 1, the same for the same seed (a linear congruential generator). */
function chanceFrom(seed: number): Chance {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

type Step = (drawer: Drawer, all: readonly string[]) => Promise<unknown>;

const words = ['oak', 'larch', 'planks of oak', 'paid 12.50', '3 May 2026', 'ferry'];

/** One change of a drawer, chosen by a number from 0 up to 1. */
function changeAt(chance: number, step: number): Step {
  const at = (all: readonly string[]): string => all[Math.floor(chance * 97) % Math.max(1, all.length)] ?? 'none';
  const content = (): Content => ({ shape: 'run', inlines: [text(`${words[step % words.length]} ${step}`)] });
  const steps: readonly Step[] = [
    (drawer) => drawer.keep([{ content: content(), origin: { file: `${step % 3}.md` } }]),
    (drawer) =>
      drawer.keep([
        { content: content(), origin: {} },
        { content: content(), origin: {} },
      ]),
    (drawer, all) => drawer.move([at(all)], 1 + (step % Math.max(1, all.length))),
    (drawer, all) => drawer.edit(at(all), content()),
    (drawer, all) => drawer.renew(all.slice(step % 3, (step % 3) + 2).map((id) => ({ id, content: content() }))),
    (drawer, all) => drawer.mark([at(all)], step % 2 === 0 ? { label: `Label ${step}` } : { held: true }),
    (drawer, all) => drawer.remove([at(all)]),
    (drawer) => drawer.undo(),
    (drawer) => drawer.redo(),
  ];
  return steps[Math.floor(chance * steps.length)] ?? (async () => {});
}

/** What a change came to, and the drawer afterwards. */
async function outcomeOf(change: Step, drawer: Drawer): Promise<unknown> {
  const all = (await drawer.list(1, 1_000)).map(({ summary }) => summary.id);
  const result = await change(drawer, all).then(
    (value) => ({ value }),
    (error: unknown) => {
      if (DrawerError.is(error)) return { reason: error.reason };
      throw error;
    },
  );
  return { result, drawer: await pictureOf(drawer) };
}
