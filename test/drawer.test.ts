import {
  type BlocksContent,
  type Drawer,
  DrawerError,
  doc,
  exportedSchema,
  exportSnippets,
  type Gathered,
  paragraph,
  parseWith,
  plainText,
  run,
  snippetSchema,
} from 'drawer';
import * as fc from 'fast-check';
import { allMedia, blocks, words } from './support/arbitrary.ts';
import { samplePictures } from './support/pictures.ts';
import { newDrawer, type StorageKind, storageKinds } from './support/storages.ts';

const gathered = (...texts: string[]): Gathered[] =>
  texts.map((text) => ({ content: run(text), origin: { file: 'survey.docx' } }));

/** What the drawer holds, in order: the words of each snippet. */
async function contents(drawer: Drawer): Promise<string[]> {
  const listed = await drawer.list(1, 1000);
  return Promise.all(listed.map(async ({ head }) => plainText((await drawer.get(head.id)).content)));
}

const idAt = async (drawer: Drawer, position: number): Promise<string> =>
  (await drawer.list(position, 1))[0]?.head.id ?? 'none';

describe.each(storageKinds)('a drawer in $name', (kind: StorageKind) => {
  it('keeps in order, and says as what', async () => {
    const drawer = await newDrawer(kind);
    const results = await drawer.keep(gathered('oak', 'larch'));
    expect(results.map((result) => result.kind === 'kept' && [result.position, result.head.facts.words])).toEqual([
      [1, 1],
      [2, 1],
    ]);
    await drawer.keep(gathered('elm'));
    expect(await contents(drawer)).toEqual(['oak', 'larch', 'elm']);
    expect((await drawer.list(2, 1)).map(({ position, head }) => [position, head.facts.preview])).toEqual([
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
        const snippet = await drawer.get(result.head.id);
        expect(snippet.content).toEqual(content);
        expect(parseWith(snippetSchema, JSON.parse(JSON.stringify(snippet)), 'snippet')).toEqual(snippet);
      }),
      { numRuns: 25 },
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
      message: expect.stringContaining('holds 4 snippets'),
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
    expect(await drawer.undo()).toBe('Deleted 2 snippets');
    expect(await contents(drawer)).toEqual(['a', 'b', 'c']);
    expect(await drawer.undo()).toBe('Kept 3 snippets');
    expect([await contents(drawer), await drawer.undo()]).toEqual([[], undefined]);
    expect([await drawer.redo(), await drawer.redo(), await drawer.redo()]).toEqual([
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
    expect(await drawer.undo()).toBe('Kept 2 snippets');
    await drawer.close();
  });

  it('behaves as a plain list does, through any changes with undo and redo among them', async () => {
    let steps = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 25 }), async (plan) => {
        const drawer = await newDrawer(kind);
        const model = new Model();
        for (const each of plan) {
          await take(each, drawer, model);
          steps++;
          expect(await contents(drawer)).toEqual(model.now);
          const orders = (await drawer.list(1, 1000)).map(({ head }) => head.order);
          expect(orders).toEqual([...new Set(orders)].sort());
        }
        await drawer.close();
      }),
      { numRuns: 30 },
    );
    expect(steps).toBeGreaterThan(100);
  });
});

/** The drawer as a list of words with every state it has been in. */
class Model {
  states: string[][] = [[]];
  at = 0;

  get now(): string[] {
    return this.states[this.at] ?? [];
  }

  change(next: string[]): void {
    this.states = [...this.states.slice(0, this.at + 1), next];
    this.at++;
  }
}

type Step =
  | { readonly do: 'keep'; readonly texts: string[] }
  | { readonly do: 'remove'; readonly one: number }
  | { readonly do: 'move'; readonly one: number; readonly other: number }
  | { readonly do: 'label'; readonly one: number }
  | { readonly do: 'undo' }
  | { readonly do: 'redo' };

const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant('keep' as const),
      texts: fc.array(
        words.map((each) => `x${each.replaceAll('\n', '')}`),
        { minLength: 1, maxLength: 3 },
      ),
    }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant('remove' as const), one: fc.nat(9) }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constant('move' as const), one: fc.nat(9), other: fc.nat(9) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant('label' as const), one: fc.nat(9) }) },
  { weight: 3, arbitrary: fc.constantFrom<Step>({ do: 'undo' }, { do: 'redo' }) },
);

async function take(each: Step, drawer: Drawer, model: Model): Promise<void> {
  const { now } = model;
  if (each.do === 'keep') {
    await drawer.keep(gathered(...each.texts));
    model.change([...now, ...each.texts]);
  } else if (each.do === 'undo') {
    expect((await drawer.undo()) !== undefined).toBe(model.at > 0);
    model.at = Math.max(0, model.at - 1);
  } else if (each.do === 'redo') {
    expect((await drawer.redo()) !== undefined).toBe(model.at < model.states.length - 1);
    model.at = Math.min(model.states.length - 1, model.at + 1);
  } else if (now.length > 0) {
    const from = each.one % now.length;
    const id = await idAt(drawer, from + 1);
    if (each.do === 'remove') {
      await drawer.remove([id]);
      model.change(now.toSpliced(from, 1));
    } else if (each.do === 'label') {
      await drawer.mark([id], { label: 'hull' });
      expect((await drawer.get(id)).label).toBe('hull');
      model.change(now);
    } else {
      const to = each.other % (now.length + 1);
      await drawer.move([id], to + 1);
      const moved = now
        .map((text, index) => ({ text, key: index === from ? to - 0.5 : index }))
        .sort((one, other) => one.key - other.key)
        .map(({ text }) => text);
      if (to !== from && to !== from + 1) model.change(moved);
    }
  }
}

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
