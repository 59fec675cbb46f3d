import { type Content, type Drawer, doc, run, type SnippetInput, table } from 'drawer';
import * as fc from 'fast-check';
import { indexedKinds, newDrawer, type StorageKind, storageKinds } from '../support/storages.ts';

const gathered = (words: string | Content, file = 'survey.docx', more: Partial<SnippetInput> = {}): SnippetInput => ({
  content: typeof words === 'string' ? run(words) : words,
  origin: { file },
  ...more,
});

const found = async (drawer: Drawer, ...words: string[]): Promise<number[]> =>
  (await drawer.find(words, { limit: 1000 })).map(({ position }) => position);

describe.each([...storageKinds, ...indexedKinds])('finding in $name', (kind: StorageKind) => {
  let drawer: Drawer;
  const holds = async (...all: SnippetInput[]): Promise<void> => {
    drawer = await newDrawer(kind);
    for (const each of all) await drawer.keep([each]);
  };
  afterEach(() => drawer.close());

  it('looks for words in any order, without regard to accents and capitals', async () => {
    await holds(gathered('Oak from Årdal'), gathered('from the oak'), gathered('larch'));
    expect(await found(drawer, 'from', 'OAK')).toEqual([2, 1]);
    expect(await found(drawer, 'ardal')).toEqual([1]);
    expect(await found(drawer, 'oak', 'larch')).toEqual([]);
  });

  it('puts labels first, then whole words, beginnings, parts and typos, the newest first among equals', async () => {
    await holds(
      gathered('cardboard'),
      gathered('boarding'),
      gathered('a board'),
      gathered('the board'),
      gathered('nothing of it', 'survey.docx', { label: 'Board of the trust' }),
    );
    expect(await found(drawer, 'board')).toEqual([5, 4, 3, 2, 1]);
    expect(await found(drawer, 'baord')).toEqual([5, 4, 3]);
    expect(await found(drawer, 'bo')).toEqual([5, 4, 3, 2]);
    expect((await drawer.find('board', { limit: 2 })).map(({ position }) => position)).toEqual([5, 4]);
  });

  it('finds signs of scripts without spaces wherever they stand', async () => {
    await holds(gathered('渡船の木材を買う'), gathered('木の船'), gathered('เรือข้ามฟาก'));
    expect(await found(drawer, '木材')).toEqual([1]);
    expect(await found(drawer, '船')).toEqual([2, 1]);
    expect(await found(drawer, 'ข้าม')).toEqual([3]);
  });

  it('is narrowed by origin, label and kind', async () => {
    const timber = doc(table(1, ['Timber', 'Price'], ['oak', '£12.00']));
    await holds(
      gathered(timber, 'costs.xlsx'),
      gathered('oak', 'costs.xlsx', { held: true, label: 'Hull planks' }),
      gathered('oak', 'survey.docx'),
      gathered('£12.00', 'letters.html'),
    );
    expect(await found(drawer, 'oak', 'from:costs')).toEqual([2, 1]);
    expect(await found(drawer, 'oak', 'is:table')).toEqual([1]);
    expect(await found(drawer, 'from:costs.xlsx', 'is:held')).toEqual([2]);
    expect(await found(drawer, 'label:pla')).toEqual([2]);
    expect(await found(drawer, 'is:money')).toEqual([4]);
    expect((await drawer.select(['from:costs', 'held', '1'])).map(({ position }) => position)).toEqual([1, 2, 2, 1]);
    await expect(drawer.select(['is:picture'])).rejects.toMatchObject({ code: 'not-found' });
  });

  it('follows every change, and its undo', async () => {
    await holds(gathered('oak'), gathered('larch'));
    const [first] = await drawer.select(['1']);
    const id = first?.summary.id ?? '';
    await drawer.edit(id, run('elm'));
    expect([await found(drawer, 'oak'), await found(drawer, 'elm')]).toEqual([[], [1]]);
    await drawer.move([id], 3);
    expect(await found(drawer, 'elm')).toEqual([2]);
    await drawer.mark([id], { secret: true, label: 'tree' });
    expect([await found(drawer, 'elm'), await found(drawer, 'from:survey'), await found(drawer, 'tree')]).toEqual([
      [],
      [1],
      [2],
    ]);
    await drawer.undo();
    expect(await found(drawer, 'elm')).toEqual([2]);
    await drawer.remove([id]);
    expect(await found(drawer, 'elm')).toEqual([]);
    await drawer.undo();
    expect(await found(drawer, 'elm')).toEqual([2]);
  });
});

const letters = fc.constantFrom(...'abcdeé木');
const word = fc.array(letters, { minLength: 1, maxLength: 7 }).map((all) => all.join(''));
const sentence = fc.array(word, { minLength: 1, maxLength: 5 }).map((all) => all.join(' '));

it('finds the same in the same order whether there is an index or not, also when some were edited since', async () => {
  let hits = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          words: sentence,
          label: fc.option(word, { nil: undefined }),
          file: word,
          later: fc.option(sentence),
        }),
        {
          minLength: 3,
          maxLength: 12,
        },
      ),
      fc.array(fc.array(word, { minLength: 1, maxLength: 2 }), { minLength: 5, maxLength: 5 }),
      async (snippets, queries) => {
        const drawers = await Promise.all([...storageKinds.slice(0, 2), ...indexedKinds].map(newDrawer));
        for (const drawer of drawers)
          for (const { words, label, file } of snippets)
            await drawer.keep([gathered(words, file, { ...(label !== undefined && { label }) })]);
        for (const drawer of drawers)
          for (const [index, { summary }] of (await drawer.list()).entries()) {
            const later = snippets[index]?.later;
            if (later) await drawer.edit(summary.id, run(later));
          }
        for (const query of queries) {
          const [plain, ...others] = await Promise.all(drawers.map((drawer) => found(drawer, ...query)));
          for (const other of others) expect([query, other]).toEqual([query, plain]);
          hits += plain?.length ?? 0;
        }
        await Promise.all(drawers.map((drawer) => drawer.close()));
      },
    ),
    { numRuns: 40 },
  );
  expect(hits).toBeGreaterThan(60);
});
