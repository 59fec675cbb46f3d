import {
  createDrawer,
  type Drawer,
  DrawerError,
  doc,
  exportSnippets,
  paragraph,
  plainText,
  run,
  type SnippetInput,
} from 'drawer';
import * as fc from 'fast-check';
import * as v from 'valibot';
import { type BlocksContent, descriptionKinds, parseWith, shapes } from '../../src/content/index.ts';
import { exportedSchema, readSummary, snippetSchema, summarySchema, traits } from '../../src/drawer/index.ts';
import { allMedia, blocks, words } from '../support/arbitrary.ts';
import { samplePictures } from '../support/pictures.ts';
import { did } from '../support/said.ts';
import { indexedKinds, newDrawer, type StorageKind, storageKinds } from '../support/storages.ts';

const gathered = (...texts: string[]): SnippetInput[] =>
  texts.map((text) => ({ content: run(text), origin: { file: 'survey.docx' } }));

/** What the drawer holds, in order: the words of each snippet. */
async function contents(drawer: Drawer): Promise<string[]> {
  const listed = await drawer.list(1, 1000);
  return Promise.all(listed.map(async ({ summary }) => plainText((await drawer.get(summary.id)).content)));
}

const idAt = async (drawer: Drawer, position: number): Promise<string> =>
  (await drawer.list(position, 1))[0]?.summary.id ?? 'none';

/** What undo took back, or that it cannot: then it is the next one's turn. */
const undone = async (drawer: Drawer): Promise<string | undefined> => {
  try {
    return (await drawer.undo())?.action.name.kind;
  } catch (error) {
    expect(error).toMatchObject({ code: 'refused' });
    return 'cannot be undone';
  }
};

describe.each([...storageKinds, ...indexedKinds.slice(1)])('a drawer in $name', (kind: StorageKind) => {
  it('keeps in order, and says as what', async () => {
    const drawer = await newDrawer(kind);
    const results = await drawer.keep(gathered('oak', 'larch'));
    expect(results.map((result) => result.kind === 'kept' && [result.position, result.summary.facts.words])).toEqual([
      [1, 1],
      [2, 1],
    ]);
    await drawer.keep(gathered('elm'));
    expect(await contents(drawer)).toEqual(['oak', 'larch', 'elm']);
    expect((await drawer.list(2, 1)).map(({ position, summary }) => [position, summary.facts.preview])).toEqual([
      [2, 'larch'],
    ]);
    await drawer.close();
  });

  it('does not keep blanks', async () => {
    const drawer = await newDrawer(kind);
    const results = await drawer.keep([
      ...gathered('oak'),
      { content: doc(paragraph('  ')), origin: {} },
      { content: doc(), origin: {} },
    ]);
    expect(results.map(({ kind: outcome }) => outcome)).toEqual(['kept', 'blank', 'blank']);
    expect(await drawer.count()).toBe(1);
    await drawer.close();
  });

  it('gives back any content and its pictures as they were', async () => {
    const drawer = await newDrawer(kind);
    await fc.assert(
      fc.asyncProperty(blocks, async (made) => {
        const content = doc('never blank', ...made.blocks);
        const [result] = await drawer.keep([{ content, origin: { place: 'Hull' }, media: allMedia }]);
        if (result?.kind !== 'kept') throw new Error('not kept');
        const snippet = await drawer.get(result.summary.id);
        expect(snippet.content).toEqual(content);
        expect(parseWith(snippetSchema, JSON.parse(JSON.stringify(snippet)), 'snippet')).toEqual(snippet);
      }),
      { numRuns: 12 },
    );
    for (const { hash, bytes } of samplePictures) expect(await drawer.findMedia(hash)).toEqual(bytes);
    await drawer.close();
  });

  it('finds snippets by reference, in the order given', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('a', 'b', 'c', 'd'));
    const positions = async (...references: string[]) =>
      (await drawer.select(references)).map(({ position }) => position);
    expect(await positions('3', '1')).toEqual([3, 1]);
    expect(await positions('2-4', 'first')).toEqual([2, 3, 4, 1]);
    expect(await positions('4-2')).toEqual([4, 3, 2]);
    expect(await positions('last', 'last-1', 'all')).toEqual([4, 3, 1, 2, 3, 4]);
    await expect(positions('5')).rejects.toMatchObject({
      code: 'not-found',
      params: { reference: '5', count: 4 },
    });
    await expect(positions('last-4')).rejects.toMatchObject({ code: 'not-found' });
    await expect(positions('0')).rejects.toMatchObject({ code: 'not-found' });
    await expect(positions('hull')).rejects.toMatchObject({ code: 'usage' });
    await drawer.close();
  });

  it('undoes and brings again by name, and forgets what was undone at the next change', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('a', 'b', 'c'));
    await drawer.remove([await idAt(drawer, 1), await idAt(drawer, 2)]);
    expect(await contents(drawer)).toEqual(['c']);
    expect(did(await drawer.undo())).toBe('Deleted 2 snippets');
    expect(await contents(drawer)).toEqual(['a', 'b', 'c']);
    expect(did(await drawer.undo())).toBe('Kept 3 snippets');
    expect([await contents(drawer), await drawer.undo()]).toEqual([[], undefined]);
    expect([did(await drawer.redo()), did(await drawer.redo()), did(await drawer.redo())]).toEqual([
      'Kept 3 snippets',
      'Deleted 2 snippets',
      undefined,
    ]);
    expect(await contents(drawer)).toEqual(['c']);
    await drawer.undo();
    await drawer.keep(gathered('d'));
    expect(await drawer.redo()).toBeUndefined();
    await drawer.close();
  });

  it('does all of a transaction or nothing', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('a', 'b'));
    await expect(drawer.remove([await idAt(drawer, 1), 'no such id'])).rejects.toMatchObject({ code: 'not-found' });
    expect(await contents(drawer)).toEqual(['a', 'b']);
    expect(did(await drawer.undo())).toBe('Kept 2 snippets');
    await drawer.close();
  });

  it('lets pictures go that nothing shows and no undo brings back any more', async () => {
    const drawer = await newDrawer(kind);
    const [one, other] = samplePictures;
    const pictured = (picture: typeof one, words: string): SnippetInput => ({
      content: doc(paragraph(words), { type: 'picture', media: picture?.hash ?? '', mediaType: 'image/png' }),
      origin: {},
      media: new Map(allMedia),
    });
    const there = async (): Promise<boolean[]> =>
      Promise.all([one, other].map(async (each) => (await drawer.findMedia(each?.hash ?? '')) !== undefined));
    await drawer.changeSettings({ undoDepth: 2 });
    await drawer.keep([pictured(one, 'a'), pictured(other, 'b'), pictured(other, 'c')]);
    await drawer.remove([await idAt(drawer, 1), await idAt(drawer, 2)]);
    await drawer.keep(gathered('d'));
    expect(await there()).toEqual([true, true]);
    const before = await drawer.bytes();
    await drawer.keep(gathered('e'));
    expect(await there()).toEqual([false, true]);
    expect(before - (await drawer.bytes())).toBe((one?.bytes.length ?? 0) - 1);
    // What was undone is forgotten with the next change.
    await drawer.edit(await idAt(drawer, 1), run('c'));
    await drawer.undo();
    await drawer.keep([pictured(one, 'f')]);
    await drawer.undo();
    expect(await there()).toEqual([true, true]);
    await drawer.keep(gathered('g'));
    expect(await there()).toEqual([false, true]);
    expect((await drawer.check()).faults).toEqual([]);
    await drawer.close();
  });

  it('keeps what applications note on a snippet and its origin, through every change', async () => {
    const value = fc.jsonValue({ maxDepth: 3 }).filter((json) => JSON.stringify(json) !== '-0');
    const meta = fc.dictionary(fc.constantFrom('example.org/reader', 'org.example.app:page', 'x.y'), value);
    const drawer = await newDrawer(kind);
    await fc.assert(
      fc.asyncProperty(meta, meta, async (own, ofOrigin) => {
        const noted = JSON.parse(JSON.stringify({ own, ofOrigin }));
        const input = { content: run('oak'), origin: { file: 'a.md', meta: ofOrigin }, meta: own } as SnippetInput;
        const [kept] = await drawer.keep(input);
        const id = kept && 'summary' in kept ? kept.summary.id : '';
        await drawer.mark(id, { label: 'Wood' });
        await drawer.move(id, 1);
        await drawer.edit(id, run('elm'));
        await drawer.renew({ id, content: run('ash') });
        expect(await drawer.get(id)).toMatchObject({ meta: noted.own, origin: { file: 'a.md', meta: noted.ofOrigin } });
        expect((await drawer.list(1, 1))[0]?.summary).toMatchObject({ meta: noted.own });
        const travelled = createDrawer();
        const { snippets } = exportSnippets([await drawer.get(id)], new Map());
        const [brought] = await travelled.keep(JSON.parse(JSON.stringify(snippets)));
        expect(brought).toMatchObject({ summary: { meta: noted.own, origin: { meta: noted.ofOrigin } } });
      }),
      { numRuns: 20 },
    );
    expect((await drawer.check()).faults).toEqual([]);
    const bare = { page: 12 };
    const refused = { reason: 'value-invalid', params: { path: 'meta.page' } };
    await expect(drawer.keep({ content: run('oak'), meta: bare })).rejects.toMatchObject(refused);
    const long = { 'example.org/x': 'x'.repeat(70_000) };
    await expect(drawer.keep({ content: run('oak'), meta: long })).rejects.toMatchObject({ reason: 'value-invalid' });
    await drawer.close();
  });

  it('renews several snippets as one action, all of them or none', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('oak', 'elm', 'ash'));
    const ids = (await drawer.list()).map(({ summary }) => summary.id);
    const before = await drawer.getMany(ids);
    const renewed = before.slice(0, 2).map(({ id, content: was }) => ({ id, was, content: run('larch') }));
    const wrong = renewed.map((each, at) => (at === 1 ? { ...each, was: run('yew') } : each));
    await expect(drawer.renew(wrong)).rejects.toMatchObject({ reason: 'snippet-changed' });
    expect(await drawer.getMany(ids)).toEqual(before);
    await drawer.renew(renewed);
    const after = await drawer.getMany(ids);
    expect(after.map(({ content }) => plainText(content))).toEqual(['larch', 'larch', 'ash']);
    expect(after.map(({ origin }) => origin)).toEqual(before.map(({ origin }) => origin));
    expect((after[0]?.takenAt ?? '') > (before[0]?.takenAt ?? '')).toBe(true);
    const happened = {
      action: { name: { kind: 'renewed', params: { count: 2 } } },
      changed: expect.arrayContaining(ids.slice(0, 2)),
    };
    expect(await drawer.undo()).toMatchObject({ ...happened, action: { ...happened.action, state: 'undone' } });
    expect(await drawer.getMany(ids)).toEqual(before);
    expect(await drawer.redo()).toMatchObject({ ...happened, action: { ...happened.action, state: 'done' } });
    expect(await drawer.getMany(ids)).toEqual(after);
    await drawer.close();
  });

  it('edits and splits only what is as it was read, when that is said', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('oak'));
    const id = await idAt(drawer, 1);
    const { content: was } = await drawer.get(id);
    await drawer.edit(id, run('larch'), { was });
    const changed = { code: 'changed', reason: 'snippet-changed' };
    await expect(drawer.edit(id, run('elm'), { was })).rejects.toMatchObject(changed);
    await expect(drawer.split(id, [run('o'), run('ak')], { was })).rejects.toMatchObject(changed);
    const { content: now } = await drawer.get(id);
    expect(now).toEqual(run('larch'));
    await drawer.split(id, [run('la'), run('rch')], { was: now });
    expect([did(await drawer.undo()), did(await drawer.undo()), did(await drawer.undo())]).toEqual([
      'Split 1 snippet into 2',
      'Edited 1 snippet',
      'Kept 1 snippet',
    ]);
    await drawer.close();
  });

  it('brings secrets back that were parted or put together, and forgets all of their kin when one goes', async () => {
    const drawer = await newDrawer(kind);
    const [picture] = samplePictures;
    const pictured = doc(paragraph('hunter'), { type: 'picture', media: picture?.hash ?? '', mediaType: 'image/png' });
    const words = async (): Promise<string[]> => (await contents(drawer)).map((each) => each.replace(/\n+/g, '|'));
    const told = async (): Promise<string> => JSON.stringify(await drawer.history());
    await drawer.keep([{ content: doc(paragraph('hunter'), paragraph('sword')), origin: {}, secret: true }]);
    await drawer.split(await idAt(drawer, 1), [run('hunter'), run('sword')]);
    expect([did(await drawer.undo()), await words()]).toEqual(['Split 1 snippet into 2', ['hunter|sword']]);
    expect([did(await drawer.redo()), await words()]).toEqual(['Split 1 snippet into 2', ['hunter', 'sword']]);
    await drawer.keep(gathered('oak'));
    const of = [await idAt(drawer, 1), await idAt(drawer, 3)];
    await drawer.merge({ of, content: run('hunter, oak'), takeOut: true });
    expect(await words()).toEqual(['sword', 'hunter, oak']);
    expect([did(await drawer.undo()), await words()]).toEqual(['Merged 2 snippets', ['hunter', 'sword', 'oak']]);
    await drawer.redo();
    expect(await told()).toMatch(/hunter/);
    await drawer.remove([await idAt(drawer, 2)], { builtUp: true });
    expect([await told(), await words()]).toEqual([expect.not.stringMatching(/hunter|sword/), ['sword']]);
    for (let more = true; more; ) more = (await undone(drawer)) !== undefined;
    for (let more = true; more; ) more = (await drawer.redo()) !== undefined;
    expect(await words()).toEqual(['sword']);
    // What was open when it was parted is forgotten too once a part of it was a secret, and goes.
    await drawer.keep([{ content: doc(paragraph('rope'), paragraph('lock 4711')), origin: {} }]);
    const [from] = [await drawer.split(await idAt(drawer, 2), [run('rope'), run('lock 4711')])];
    await drawer.mark([await idAt(drawer, from.to)], { secret: true });
    expect(await told()).toContain('lock 4711');
    await drawer.remove([await idAt(drawer, from.to)]);
    expect([await told(), await words()]).toEqual([expect.not.stringContaining('4711'), ['sword', 'rope']]);
    // A picture that something else shows, or undo brings back, stays when a secret goes that has it.
    await drawer.keep([{ content: pictured, origin: {}, media: allMedia }]);
    const id = (await drawer.list()).at(-1)?.summary.id ?? '';
    await drawer.append([{ content: run('swordfish'), origin: {}, secret: true }], { onto: id });
    expect((await drawer.get(id)).secret).toBe(true);
    expect([did(await drawer.undo()), (await drawer.get(id)).content]).toEqual(['Appended to 1 snippet', pictured]);
    expect([await drawer.findMedia(picture?.hash ?? ''), await told()]).toEqual([
      picture?.bytes,
      expect.not.stringMatching(/swordfish/),
    ]);
    await drawer.keep([{ content: pictured, origin: {}, secret: true }]);
    await drawer.remove([id]);
    await drawer.remove([(await drawer.list()).at(-1)?.summary.id ?? '']);
    for (const _ of ['the end of the secret', 'the removal']) await undone(drawer);
    expect([(await drawer.get(id)).content, await drawer.findMedia(picture?.hash ?? '')]).toEqual([
      pictured,
      picture?.bytes,
    ]);
    expect((await drawer.check()).faults).toEqual([]);
    await drawer.close();
  });

  it('behaves as a plain list does, through any changes with undo and redo among them', async () => {
    let steps = 0;
    await fc.assert(
      fc.asyncProperty(fc.commands(everyStep, { maxCommands: 40, size: '+1' }), async (commands) => {
        const drawer = await newDrawer(kind);
        await fc.asyncModelRun(() => ({ model: new Model(), real: drawer }), commands);
        steps += [...commands].length;
        expect((await drawer.check()).faults).toEqual([]);
        await drawer.close();
      }),
      { numRuns: Number(process.env.RUNS ?? 15) },
    );
    expect(steps).toBeGreaterThan(100);
  });
});

/** A snippet as the model knows it. */
interface Kept {
  readonly words: string;
  readonly label?: string;
  readonly held?: true;
}

/** The drawer as a plain array, with every state it has been in. */
class Model {
  states: (readonly Kept[])[] = [[]];
  at = 0;

  get now(): readonly Kept[] {
    return this.states[this.at] ?? [];
  }

  change(next: readonly Kept[]): void {
    this.states = [...this.states.slice(0, this.at + 1), next];
    this.at++;
  }
}

/** What the drawer holds, as the model would have it; its order keys rise. */
async function state(drawer: Drawer): Promise<readonly Kept[]> {
  const listed = await drawer.list(1, 1000);
  const orders = listed.map(({ summary }) => summary.order);
  expect(orders).toEqual([...new Set(orders)].sort());
  return Promise.all(
    listed.map(async ({ summary: { id, label, held } }) => ({
      words: plainText((await drawer.get(id)).content),
      ...(label !== undefined && { label }),
      ...(held && { held }),
    })),
  );
}

type Run = (model: Model, drawer: Drawer) => Promise<void>;

/** One thing that can be done to a drawer and its model; afterwards both hold the same. */
class Step implements fc.AsyncCommand<Model, Drawer> {
  constructor(
    readonly name: string,
    readonly does: Run,
    readonly needsSome = true,
  ) {}

  check = (model: Readonly<Model>): boolean => !this.needsSome || model.now.length > 0;

  async run(model: Model, drawer: Drawer): Promise<void> {
    await this.does(model, drawer);
    expect(await state(drawer)).toEqual(model.now);
    expect(await drawer.count()).toBe(model.now.length);
  }

  toString(): string {
    return this.name;
  }
}

const text = words.map((each) => `x${each.replaceAll('\n', '')}`);
const numbers = fc.tuple(fc.nat(9), fc.nat(9), fc.nat(9));
const idsAt = (drawer: Drawer, positions: readonly number[]): Promise<string[]> =>
  Promise.all(positions.map((position) => idAt(drawer, position + 1)));

const everyStep = [
  fc.array(text, { minLength: 1, maxLength: 3 }).map(
    (texts) =>
      new Step(
        `keep ${JSON.stringify(texts)}`,
        async (model, drawer) => {
          await drawer.keep(gathered(...texts));
          model.change([...model.now, ...texts.map((each) => ({ words: each }))]);
        },
        false,
      ),
  ),
  numbers.map(
    ([one, other]) =>
      new Step(`remove ${one} ${other}`, async (model, drawer) => {
        const positions = [...new Set([one % model.now.length, other % model.now.length])];
        await drawer.remove(await idsAt(drawer, positions));
        const next = model.now.filter((kept, at) => !positions.includes(at) || kept.held);
        if (next.length < model.now.length) model.change(next);
      }),
  ),
  numbers.map(
    ([one, other, to]) =>
      new Step(`move ${one} ${other} before ${to}`, async (model, drawer) => {
        const positions = [...new Set([one % model.now.length, other % model.now.length])];
        const gap = to % (model.now.length + 1);
        await drawer.move(await idsAt(drawer, positions), gap + 1);
        const stays = (_: Kept, at: number): boolean => !positions.includes(at);
        const next = [
          ...model.now.slice(0, gap).filter(stays),
          ...positions.map((at) => model.now[at] as Kept),
          ...model.now.slice(gap).filter((_, at) => !positions.includes(at + gap)),
        ];
        if (next.some((kept, at) => kept !== model.now[at])) model.change(next);
      }),
  ),
  fc.constant(
    new Step('reverse', async (model, drawer) => {
      const ids = (await drawer.list(1, 1000)).map(({ summary }) => summary.id).reverse();
      if ((await drawer.arrange(ids)) > 0) model.change([...model.now].reverse());
    }),
  ),
  fc.tuple(fc.nat(9), fc.constantFrom('hull', 'deck', '')).map(
    ([one, label]) =>
      new Step(`label ${one} ${label}`, async (model, drawer) => {
        const at = one % model.now.length;
        await drawer.mark(await idsAt(drawer, [at]), { label });
        const { label: _, ...rest } = model.now[at] as Kept;
        model.change(model.now.with(at, { ...rest, ...(label !== '' && { label }) }));
      }),
  ),
  fc.tuple(fc.nat(9), fc.boolean()).map(
    ([one, held]) =>
      new Step(`hold ${one} ${held}`, async (model, drawer) => {
        const at = one % model.now.length;
        await drawer.mark(await idsAt(drawer, [at]), { held });
        const { held: _, ...rest } = model.now[at] as Kept;
        model.change(model.now.with(at, { ...rest, ...(held && { held }) }));
      }),
  ),
  fc.tuple(fc.nat(9), text).map(
    ([one, edited]) =>
      new Step(`edit ${one}`, async (model, drawer) => {
        const at = one % model.now.length;
        const [id = ''] = await idsAt(drawer, [at]);
        await drawer.edit(id, run(edited));
        model.change(model.now.with(at, { ...(model.now[at] as Kept), words: edited }));
      }),
  ),
  fc.tuple(fc.nat(9), text, text).map(
    ([one, first, second]) =>
      new Step(`split ${one}`, async (model, drawer) => {
        const at = one % model.now.length;
        const [id = ''] = await idsAt(drawer, [at]);
        expect(await drawer.split(id, [run(first), run(second)])).toEqual({ from: at + 1, to: at + 2 });
        const { label: _, ...rest } = model.now[at] as Kept;
        model.change(model.now.toSpliced(at, 1, { ...rest, words: first }, { ...rest, words: second }));
      }),
  ),
  fc.constant(
    new Step('change a rule', async (model, drawer) => {
      const { capacity } = await drawer.settings();
      await drawer.changeSettings({ capacity: capacity + 1 });
      model.change(model.now);
    }),
  ),
  ...(['undo', 'undo', 'redo'] as const).map((way) =>
    fc.constant(
      new Step(
        way,
        async (model, drawer) => {
          const to = model.at + (way === 'undo' ? -1 : 1);
          const isThere = to >= 0 && to < model.states.length;
          expect((await drawer[way]()) !== undefined).toBe(isThere);
          if (isThere) model.at = to;
        },
        false,
      ),
    ),
  ),
];

describe.each(storageKinds)('what happens by itself in $name', (kind: StorageKind) => {
  it('tells who watches when the time of a snippet is up, and not that of one that is held', async () => {
    const tools = { clock: () => new Date(), generateId: () => crypto.randomUUID() };
    const drawer = createDrawer({ storage: await kind.open(), ...tools });
    const soon = (milliseconds: number): string => new Date(Date.now() + milliseconds).toISOString();
    const [held, brief, later] = gathered('held', 'brief', 'later') as [SnippetInput, SnippetInput, SnippetInput];
    await drawer.keep([
      { ...held, held: true, expiresAt: soon(100) },
      { ...brief, expiresAt: soon(2_000) },
      { ...later, expiresAt: soon(3_600_000) },
    ]);
    const told = new Promise<void>((resolve) => {
      const stop = drawer.watch(() => {
        stop();
        resolve();
      });
    });
    await told; // nothing else changes: without a timer this waits for ever
    expect(await contents(drawer)).toEqual(['held', 'later']);
    await drawer.close();
  });

  it('does what was asked before it is closed, and refuses all afterwards; nobody is called back any more', async () => {
    const drawer = await newDrawer(kind);
    const changes: string[] = [];
    drawer.watch(() => changes.push('before'));
    await drawer.keep(gathered('a'));
    const [listed] = await Promise.all([drawer.list(), drawer.close(), drawer.close()]);
    expect(listed).toHaveLength(1);
    const told = changes.length;
    const closed = { code: 'storage', reason: 'drawer-closed' };
    await expect(drawer.list()).rejects.toMatchObject(closed);
    await expect(drawer.keep(gathered('b'))).rejects.toMatchObject(closed);
    await expect(drawer.undo()).rejects.toMatchObject(closed);
    drawer.watch(() => changes.push('after'));
    await drawer.close();
    await new Promise((resolve) => setTimeout(resolve, 400)); // longer than files of others are left unlooked at
    expect(changes).toHaveLength(told);
  });

  it('moves beside a snippet wherever that has gone meanwhile', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep(gathered('a', 'b', 'c', 'd'));
    const [a, b, , d] = (await drawer.list(1, 4)).map(({ summary }) => summary.id) as [string, string, string, string];
    await drawer.move([a], { before: d });
    expect(await contents(drawer)).toEqual(['b', 'c', 'a', 'd']);
    await drawer.move([d, a], { after: b });
    expect(await contents(drawer)).toEqual(['b', 'd', 'a', 'c']);
    await drawer.move([b], { after: b });
    expect(await contents(drawer)).toEqual(['b', 'd', 'a', 'c']);
    await expect(drawer.move([a], { before: 'gone' })).rejects.toMatchObject({ code: 'not-found' });
    await drawer.close();
  });
});

it('keeps order keys short through any number of moves into one gap, and the sequence where it was', async () => {
  const drawer = await newDrawer(storageKinds[1] as StorageKind);
  await drawer.keep(gathered(...Array.from({ length: 400 }, (_, at) => `snippet ${at}`)));
  await drawer.moveSequence(151);
  let longest = 0;
  for (let turn = 0; turn < 700; turn++) {
    await drawer.move([await idAt(drawer, 3)], 2);
    const [moved] = await drawer.list(2, 1);
    longest = Math.max(longest, moved?.summary.order.length ?? 0);
  }
  expect(longest).toBeLessThanOrEqual(48);
  expect((await drawer.sequence()).next?.facts.preview).toBe('snippet 150');
  expect((await drawer.check()).faults).toEqual([]);
  await drawer.close();
}, 60_000);

it('counts thousands in a file as it does in memory, through changes anywhere', async () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  const steps = fc.array(
    fc.record({
      what: fc.constantFrom('keep', 'remove', 'move', 'undo', 'redo'),
      at: share,
      to: share,
      many: fc.integer({ min: 1, max: 900 }),
    }),
    { minLength: 4, maxLength: 8 },
  );
  await fc.assert(
    fc.asyncProperty(steps, async (all) => {
      const drawers = await Promise.all(storageKinds.slice(0, 2).map(newDrawer));
      const onBoth = <T>(work: (drawer: Drawer) => Promise<T>): Promise<T[]> => Promise.all(drawers.map(work));
      const texts = (many: number): SnippetInput[] =>
        gathered(...Array.from({ length: many }, (_, index) => 'x'.repeat(index % 50) + index));
      await onBoth((drawer) => drawer.keep(texts(2_600)));
      for (const { what, at, to, many } of all) {
        await onBoth(async (drawer) => {
          const from = 1 + Math.floor(at * (await drawer.count()));
          const ids = (await drawer.list(from, many)).map(({ summary }) => summary.id);
          if (what === 'keep') await drawer.keep(texts(many));
          if (what === 'remove') await drawer.remove(ids);
          if (what === 'move') await drawer.move(ids, 1 + Math.floor(to * (await drawer.count())));
          if (what === 'undo') await drawer.undo();
          if (what === 'redo') await drawer.redo();
        });
        const [plain, file] = await onBoth(async (drawer) => {
          const count = await drawer.count();
          const positions = [at, to, 0.999].map((each) => 1 + Math.floor(each * count));
          const pages = await Promise.all(positions.map((position) => drawer.list(position, 3)));
          const [first] = pages[0] ?? [];
          const position = first && (await drawer.positionOf(first.summary.id));
          return { count, pages, position, bytes: await drawer.bytes() };
        });
        expect(file).toEqual(plain);
      }
      await onBoth(async (drawer) => expect((await drawer.check()).faults).toEqual([]));
      await onBoth((drawer) => drawer.close());
    }),
    { numRuns: Number(process.env.RUNS ?? 2) },
  );
}, 120_000);

it('exports what its schema describes', async () => {
  const drawer = await newDrawer(storageKinds[0] as StorageKind);
  await drawer.keep([
    {
      content: { shape: 'picture', picture: { media: samplePictures[0]?.hash ?? '', mediaType: 'image/png' } },
      origin: { file: 'ferry.png' },
      media: allMedia,
    },
  ]);
  const snippet = await drawer.get(await idAt(drawer, 1));
  const exported = exportSnippets([snippet], allMedia);
  expect(parseWith(exportedSchema, JSON.parse(JSON.stringify(exported)), 'file')).toEqual(exported);
  expect(() => parseWith(exportedSchema, { ...exported, version: 2 }, 'file')).toThrow(DrawerError);
  const content: BlocksContent = doc('x');
  expect(() => parseWith(snippetSchema, { ...snippet, content, order: 'no key!' }, 'snippet')).toThrow(/order/);
});

describe('a stored head', () => {
  const origin = fc.record(
    { file: words, place: words, title: words, url: words, program: words },
    { requiredKeys: [], noNullPrototype: true },
  );
  const moment = fc
    .date({ min: new Date(0), max: new Date('2100-01-01'), noInvalidDate: true })
    .map((date) => date.toISOString());
  const count = fc.nat();
  const description = fc.record(
    { kind: fc.constantFrom(...descriptionKinds), params: fc.dictionary(words, fc.nat(), { noNullPrototype: true }) },
    { requiredKeys: ['kind'], noNullPrototype: true },
  );
  const facts = fc.record(
    {
      shape: fc.constantFrom(...shapes),
      what: description,
      preview: fc.string(),
      characters: count,
      words: count,
      lines: count,
      bytes: count,
      traits: fc.subarray([...traits]),
    },
    {
      requiredKeys: ['shape', 'what', 'preview', 'characters', 'words', 'lines', 'bytes'],
      noNullPrototype: true,
    },
  );
  const summary = fc.record(
    {
      id: words,
      order: fc.constantFrom('a0', 'Zz', 'a0V'),
      origin,
      takenAt: moment,
      facts,
      label: words,
      held: fc.constant(true),
      secret: fc.constantFrom(true, 'once'),
      expiresAt: moment,
      parts: fc.array(fc.record({ origin, takenAt: moment, what: description }, { noNullPrototype: true }), {
        maxLength: 2,
      }),
    },
    { requiredKeys: ['id', 'order', 'origin', 'takenAt', 'facts'], noNullPrototype: true },
  );
  const oddValue = fc.oneof(
    fc.constantFrom<unknown>(
      null,
      true,
      false,
      0,
      -1,
      1.5,
      1e300,
      '',
      'once',
      [],
      {},
      'a'.repeat(5000),
      '2026-05-04',
      'a-0',
    ),
    fc.jsonValue(),
  );
  const odd = fc.record({
    summary,
    at: fc.constantFrom('', 'origin', 'facts'),
    key: fc.constantFrom(
      ...['id', 'order', 'origin', 'takenAt', 'facts', 'label', 'held', 'secret', 'expiresAt', 'parts', 'file', 'url'],
      ...['shape', 'what', 'preview', 'characters', 'words', 'lines', 'bytes', 'traits', '__proto__', 'constructor'],
    ),
    value: oddValue,
  });

  it('is read as the schema says, whether it is right or has something odd in it', () => {
    const seen = { right: 0, wrong: 0 };
    const check = (stored: string): void => {
      const value: unknown = JSON.parse(stored);
      const judged = v.safeParse(summarySchema, value);
      seen[judged.success ? 'right' : 'wrong']++;
      if (judged.success) expect(readSummary(value)).toEqual(judged.output);
      else expect(() => readSummary(value)).toThrow(/^invalid\/value-invalid /);
    };
    fc.assert(
      fc.property(odd, ({ summary, at, key, value }) => {
        const stored = JSON.stringify(summary);
        check(stored);
        const whole = JSON.parse(stored) as Record<string, Record<string, unknown>>;
        const target = at === '' ? whole : (whole[at] as Record<string, unknown>);
        Object.defineProperty(target, key, { value, enumerable: true, configurable: true, writable: true });
        check(JSON.stringify(whole));
      }),
      { numRuns: 1000 },
    );
    expect(Math.min(seen.right, seen.wrong)).toBeGreaterThan(500);
  });
});
