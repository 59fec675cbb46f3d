import { type Content, createDrawer, type Drawer, DrawerError, run, type SnippetInput } from 'drawer';
import * as fc from 'fast-check';
import { newDrawer, type StorageKind, storageKinds } from '../support/storages.ts';

/** Calls with something in the place of what is asked for, as a program in plain JavaScript may make them. */
const calls: Readonly<Record<string, (drawer: Drawer, given: never, id: string) => unknown>> = {
  'list from': (drawer, given) => drawer.list(given),
  'list limit': (drawer, given) => drawer.list(1, given),
  'find all': (drawer, given) => drawer.find(given),
  'find one': (drawer, given) => drawer.find([given]),
  'find options': (drawer, given) => drawer.find(['oak'], given),
  'find limit': (drawer, given) => drawer.find(['oak'], { limit: given }),
  'find signal': (drawer, given) => drawer.find(['oak'], { signal: given }),
  'select all': (drawer, given) => drawer.select(given),
  'select one': (drawer, given) => drawer.select([given]),
  get: (drawer, given) => drawer.get(given),
  'get many': (drawer, given) => drawer.getMany(given),
  'get one of many': (drawer, given) => drawer.getMany([given]),
  'get many options': (drawer, given, id) => drawer.getMany([id], given),
  'get many, heard': (drawer, given, id) => drawer.getMany([id], { onProgress: given }),
  'read after': (drawer, given) => drawer.readAfter(given, 2),
  'go through options': (drawer, given) => drawer.entries(given).next(),
  'go through after': (drawer, given) => drawer.entries({ after: given }).next(),
  'go through so many': (drawer, given) => drawer.entries({ limit: given }).next(),
  'position of': (drawer, given) => drawer.positionOf(given),
  'keep all': (drawer, given) => drawer.keep(given),
  'keep one': (drawer, given) => drawer.keep([given]),
  'keep options': (drawer, given) => drawer.keep([oak], given),
  'keep signal': (drawer, given) => drawer.keep([oak], { signal: given }),
  'keep, heard': (drawer, given) => drawer.keep([oak], { onProgress: given }),
  'append options': (drawer, given) => drawer.append([oak], given),
  'append one': (drawer, given) => drawer.append([given]),
  'append onto': (drawer, given) => drawer.append([oak], { onto: given }),
  'append join': (drawer, given) => drawer.append([oak], { join: given }),
  'append and take out': (drawer, given) => drawer.append([oak], { takeOut: given }),
  merge: (drawer, given) => drawer.merge(given),
  'merge content': (drawer, given, id) => drawer.merge({ of: [id], content: given }),
  'merge of': (drawer, given) => drawer.merge({ of: given, content: oak.content }),
  'merge label': (drawer, given, id) => drawer.merge({ of: [id], content: oak.content, label: given }),
  'mark all': (drawer, given) => drawer.mark(given, { held: true }),
  mark: (drawer, given, id) => drawer.mark([id], given),
  'mark label': (drawer, given, id) => drawer.mark([id], { label: given }),
  'mark held': (drawer, given, id) => drawer.mark([id], { held: given }),
  'mark secret': (drawer, given, id) => drawer.mark([id], { secret: given }),
  'mark lasts': (drawer, given, id) => drawer.mark([id], { lasts: given }),
  'move all': (drawer, given) => drawer.move(given, 1),
  'move to': (drawer, given, id) => drawer.move([id], given),
  'move before': (drawer, given, id) => drawer.move([id], { before: given }),
  arrange: (drawer, given) => drawer.arrange(given),
  'edit which': (drawer, given) => drawer.edit(given, oak.content),
  'edit content': (drawer, given, id) => drawer.edit(id, given),
  'edit options': (drawer, given, id) => drawer.edit(id, oak.content, given),
  'edit media': (drawer, given, id) => drawer.edit(id, oak.content, { media: given }),
  'edit was': (drawer, given, id) => drawer.edit(id, oak.content, { was: given }),
  renew: (drawer, given) => drawer.renew(given),
  'renew one': (drawer, given) => drawer.renew([given]),
  'renew content': (drawer, given, id) => drawer.renew({ id, content: given }),
  'renew media': (drawer, given, id) => drawer.renew({ id, content: oak.content, media: given }),
  'split which': (drawer, given) => drawer.split(given, [oak.content]),
  'split into': (drawer, given, id) => drawer.split(id, given),
  'split into one': (drawer, given, id) => drawer.split(id, [given]),
  'split options': (drawer, given, id) => drawer.split(id, [oak.content], given),
  'split was': (drawer, given, id) => drawer.split(id, [oak.content], { was: given }),
  'move sequence': (drawer, given) => drawer.moveSequence(given),
  'sequence into': (drawer, given) => drawer.moveSequence(1, given),
  rules: (drawer, given) => drawer.changeSettings(given),
  'rule capacity': (drawer, given) => drawer.changeSettings({ capacity: given }),
  'rule ignored': (drawer, given) => drawer.changeSettings({ ignored: given }),
  'rule options': (drawer, given) => drawer.changeSettings({ capacity: 4 }, given),
  'forget rules': (drawer, given) => drawer.forgetSettings(given),
  write: (drawer, given) => drawer.writeFiles(given),
  'write name': (drawer, given) => drawer.writeFiles({ name: given, files: [] }),
  'write files': (drawer, given) => drawer.writeFiles({ name: 'written', files: given }),
  remove: (drawer, given) => drawer.remove(given),
  'remove options': (drawer, given, id) => drawer.remove([id], given),
  'check options': (drawer, given) => drawer.check(given),
  'check, heard': (drawer, given) => drawer.check({ onProgress: given }),
  'undo options': (drawer, given) => drawer.undo(given),
  'undo, skipped': (drawer, given) => drawer.undo({ onSkipped: given }),
  listen: (drawer, given) => drawer.addEventListener('change', given),
  'listen options': (drawer, given) => drawer.addEventListener('change', () => {}, given),
  'listen signal': (drawer, given) => drawer.addEventListener('change', () => {}, { signal: given }),
  watch: (drawer, given) => drawer.watch(given),
  lock: (drawer, given) => drawer.lock(given),
  spend: (drawer, given) => drawer.spend(given),
  picture: (drawer, given) => drawer.findMedia(given),
};

const oak: SnippetInput = { content: run('oak'), origin: { file: 'costs.xlsx' } };

/** Anything at all, and much that is nearly right. */
const anything = fc.oneof(
  fc.anything({ withBigInt: true, withDate: true, withMap: true, withTypedArray: true }),
  fc.constantFrom(NaN, Infinity, -1, 0, 1.5, 2 ** 53, '', '\0', '\ud800', 'oak', ['oak'], [], {}, null, undefined),
  fc.constantFrom(
    { ...oak, content: { shape: 'run' } },
    { content: null, origin: {} },
    { shape: 'run', inlines: [{}] },
  ),
  fc.record({ content: fc.constant(oak.content), origin: fc.anything() }),
  fc
    .tuple(
      fc.constantFrom('label', 'takenAt', 'expiresAt', 'held', 'secret', 'parts', 'media', 'language', 'meta'),
      fc.anything(),
    )
    .map(([name, value]) => ({ ...oak, [name]: value })),
  fc.anything().map((value) => ({ ...oak, meta: { 'example.org/any': value } })),
);

/** Whether a call was refused in words; any other end but a good one is an error of ours. */
async function isRefused(call: () => unknown): Promise<boolean> {
  try {
    await call();
    return false;
  } catch (error) {
    if (DrawerError.is(error)) return true;
    throw error;
  }
}

/** Hands something to calls, each on a drawer of its own that has to be whole afterwards; notes which of them refused it. */
function handing(opened: () => Promise<Drawer>) {
  const refused = new Set<string>();
  return {
    refused,
    isWhole: async (name: string, given: unknown): Promise<void> => {
      const drawer = await opened();
      const [kept] = await drawer.keep([oak]);
      const id = kept && 'summary' in kept ? kept.summary.id : '';
      if (await isRefused(() => calls[name]?.(drawer, given as never, id))) refused.add(name);
      // By a rule that was taken it may be full.
      expect((await isRefused(() => drawer.keep([oak]))) && !name.startsWith('rule')).toBe(false);
      for (const { summary } of await drawer.list()) await drawer.get(summary.id);
      expect((await drawer.check()).faults).toEqual([]);
      while (await drawer.undo());
      expect(await drawer.count()).toBe(0);
      await drawer.close();
    },
  };
}

it('refuses in words, in every call, each kind of value that programs hand over by mistake', async () => {
  const { refused, isWhole } = handing(async () => createDrawer());
  for (const name of Object.keys(calls))
    for (const given of [null, 0, -1.5, NaN, '', 'oak', true, {}, [], [null], { signal: {} }, () => {}, Symbol('oak')])
      await isWhole(name, given);
  expect(Object.keys(calls).filter((name) => !refused.has(name))).toEqual([]);
});

describe.each(storageKinds)('a drawer in $name that is handed anything', (kind: StorageKind) => {
  const drawers: Drawer[] = [];
  const opened = async (): Promise<Drawer> => {
    const drawer = await newDrawer(kind);
    drawers.push(drawer);
    return drawer;
  };
  afterEach(() => Promise.all(drawers.splice(0).map((drawer) => drawer.close())));

  it('refuses in words what it could not read again, and is whole afterwards', async () => {
    const { refused, isWhole } = handing(opened);
    await fc.assert(fc.asyncProperty(fc.constantFrom(...Object.keys(calls)), anything, isWhole), {
      numRuns: Number(process.env.RUNS ?? 120),
    });
    expect(refused.size).toBeGreaterThan(20);
  }, 120_000);

  it('knows the same content, however its parts are put, and keeps it as it was handed over', async () => {
    const drawer = await opened();
    await drawer.keep([oak]);
    const text = { text: 'oak', type: 'text' as const };
    const content: Content = { inlines: [text], shape: 'run' };
    const keeping = drawer.keep({ origin: oak.origin ?? {}, content });
    text.text = '\0';
    const [again] = await keeping;
    expect(again).toMatchObject({ kind: 'kept', position: 2, sameAs: 1 });
    expect((await drawer.check()).faults).toEqual([]);
  });

  it('keeps any words, labels and names that it takes so that they can be read, found and listed', async () => {
    const words = fc.string({ unit: 'binary', minLength: 1, maxLength: 80 });
    const content: fc.Arbitrary<Content> = words.map((text) => run(text));
    const drawer = await opened();
    await fc.assert(
      fc.asyncProperty(content, words, words, words, async (any, label, file, language) => {
        const [kept] = await drawer.keep([{ content: any, origin: { file }, label, language }]);
        const id = kept && 'summary' in kept ? kept.summary.id : undefined;
        if (id !== undefined) expect((await drawer.get(id)).content).toEqual(any);
        for (const each of [label, `from:${file}`, file]) expect(Array.isArray(await drawer.find([each]))).toBe(true);
      }),
      { numRuns: Number(process.env.RUNS ?? 40) },
    );
    expect((await drawer.check()).faults).toEqual([]);
  });
});
