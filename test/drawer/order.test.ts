import { createDrawer, type Drawer, run, type Snippet, type SnippetInput, type Storage } from 'drawer';
import * as fc from 'fast-check';
import { getSnippet } from '../../src/drawer/index.ts';
import { keyBetween, keysBetween } from '../../src/drawer/order-keys.ts';

import { countingTools, storageKinds } from '../support/storages.ts';

/** The order of snippets: keys that two devices make apart do not meet, and what the drawer does where they do. */

const idIn = fc.uuid();
const gathered = (...all: string[]): SnippetInput[] => all.map((words) => ({ content: run(words), origin: {} }));

it('makes ascending keys in any gap, so that other ids give other keys', () => {
  const steps = fc.array(
    fc.record({ at: fc.double({ min: 0, max: 1, noNaN: true }), ids: fc.uniqueArray(idIn, { maxLength: 40 }) }),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(steps, idIn, idIn, (all, one, other) => {
      let keys: string[] = ['a0', 'a1', 'a2'];
      for (const { at, ids } of all) {
        const gap = Math.round(at * keys.length);
        keys = keys.toSpliced(gap, 0, ...keysBetween(keys[gap - 1] ?? null, keys[gap] ?? null, ids));
      }
      expect(keys).toEqual([...new Set(keys)].sort());
      for (let gap = 0; gap <= keys.length; gap++) {
        const [left, right] = [keys[gap - 1] ?? null, keys[gap] ?? null];
        const made = [one, other].map((id) => keyBetween(left, right, id));
        expect(new Set(made).size).toBe(new Set([one, other]).size);
        for (const key of made) expect((left ?? '') < key && (right === null || key < right)).toBe(true);
      }
    }),
  );
});

it('makes keys that grow with the logarithm of their number', () => {
  const ids = Array.from({ length: 10_000 }, (_, index) => `id-${index}`);
  const lengthOf = (keys: readonly string[]): number => Math.max(...keys.map(({ length }) => length));
  expect(lengthOf(keysBetween(null, null, ids))).toBeLessThanOrEqual(8);
  expect(lengthOf(keysBetween('a1', 'a2', ids))).toBeLessThanOrEqual(24);
});

describe.each(storageKinds)('in $name', (kind) => {
  let storage: Storage;
  let drawer: Drawer;
  beforeEach(async () => {
    storage = await kind.open();
    drawer = createDrawer({ storage, ...countingTools() });
  });
  afterEach(() => drawer.close());

  const previews = async (): Promise<string[]> => (await drawer.list()).map(({ summary }) => summary.facts.preview);

  // More than a shelf of the order index has room for; an imitated IndexedDB takes long over each.
  const many = kind.name === 'IndexedDB' ? 1_100 : 4_000;

  it('counts and lists more than a thousand with few order keys by key and id', async () => {
    await drawer.keep(gathered('template'));
    const [template] = (await drawer.getMany((await drawer.list()).map(({ summary }) => summary.id))) as [Snippet];
    const all = Array.from({ length: many }, (_, index): Snippet => {
      const scattered = (index * 1_237) % many;
      return { ...template, id: `n-${String(scattered).padStart(5, '0')}`, order: `b${index % 3}0V` };
    });
    await storage.write(async (rows) => {
      await rows.remove(template.id);
      for (const snippet of all) await rows.insert(snippet);
      for (const { id } of all.slice(500, 900)) await rows.remove(id);
    });
    const sorted = all
      .toSpliced(500, 400)
      .sort((one, other) => (`${one.order} ${one.id}` < `${other.order} ${other.id}` ? -1 : 1));
    await storage.read(async (rows) => {
      expect((await rows.summaries(0, 5_000)).map(({ id }) => id)).toEqual(sorted.map(({ id }) => id));
      const some = [0, 1, 299, 300, 511, 512, 600, many - 401];
      for (const offset of some) expect((await rows.summaries(offset, 1))[0]?.id).toBe(sorted[offset]?.id);
      expect(await rows.countsBefore(some.map((offset) => sorted[offset] as Snippet))).toEqual(some);
      expect(await rows.faults()).toEqual([]);
    });
    expect((await drawer.check()).faults).toEqual([]);
    const seen: string[] = [];
    for await (const { id } of drawer.entries()) seen.push(id);
    expect(seen).toEqual(sorted.map(({ id }) => id));
  });

  it('moves, splits and pastes one after another where snippets have the same order key', async () => {
    await drawer.keep(gathered('ash', 'beech', 'cedar', 'elm', 'oak'));
    await storage.write(async (rows) => {
      for (const { id } of await rows.summaries(1, 3)) {
        const { content: _, ...summary } = await getSnippet(rows, id);
        await rows.setSummary({ ...summary, order: 'a1' });
      }
    });
    expect(await previews()).toEqual(['ash', 'beech', 'cedar', 'elm', 'oak']);
    await drawer.moveSequence(4);
    expect((await drawer.sequence()).next?.facts.preview).toBe('elm');
    const [ash, , cedar] = await drawer.list();
    await drawer.move(ash?.summary.id as string, { before: cedar?.summary.id as string });
    expect(await previews()).toEqual(['beech', 'ash', 'cedar', 'elm', 'oak']);
    expect((await drawer.sequence()).next?.facts.preview).toBe('elm');
    await drawer.undo();
    expect(await previews()).toEqual(['ash', 'beech', 'cedar', 'elm', 'oak']);
    expect((await drawer.check()).faults).toEqual([]);
  });

  describe('undo, beside what another device did', () => {
    const idOf = async (preview: string): Promise<string> =>
      (await drawer.list()).find(({ summary }) => summary.facts.preview === preview)?.summary.id as string;
    /** Removes a snippet as another device does: without an action here. */
    const removeElsewhere = async (id: string): Promise<void> => storage.write((rows) => rows.remove(id));

    it('leaves out the snippets that are gone, and says which', async () => {
      await drawer.keep(gathered('ash', 'beech', 'cedar'));
      const [ash, beech] = [await idOf('ash'), await idOf('beech')];
      await drawer.mark([ash, beech], { label: 'wood' });
      await removeElsewhere(ash);
      expect(await drawer.undo()).toMatchObject({ changed: [beech], gone: [ash] });
      expect((await drawer.get(beech)).label).toBeUndefined();
      expect(await drawer.redo()).toMatchObject({ changed: [beech] });
      expect((await drawer.get(beech)).label).toBe('wood');
    });

    it('refuses an action whose snippets are all gone, once, and goes on with the one before it', async () => {
      await drawer.keep(gathered('ash', 'beech'));
      const ash = await idOf('ash');
      await drawer.mark(ash, { held: true });
      await removeElsewhere(ash);
      await expect(drawer.undo()).rejects.toMatchObject({ code: 'refused', reason: 'action-snippets-gone' });
      expect(await drawer.undo()).toMatchObject({ action: { name: { kind: 'kept' } }, gone: [ash] });
      expect(await drawer.count()).toBe(0);
    });

    it('does not put back a snippet that is there again', async () => {
      await drawer.keep(gathered('ash', 'beech'));
      const [ash, beech] = [await drawer.get(await idOf('ash')), await idOf('beech')];
      await drawer.remove([ash.id, beech]);
      await storage.write((rows) => rows.insert(ash));
      expect(await drawer.undo()).toMatchObject({ added: [beech], gone: [ash.id] });
      expect(await previews()).toEqual(['ash', 'beech']);
    });

    it('takes back the words of an edit, and leaves place, label, hold and expiry as they are now', async () => {
      await drawer.keep(gathered('ash', 'beech'));
      const id = await idOf('ash');
      const { content, facts } = await drawer.get(id);
      await drawer.edit(id, run('rowan'));
      const marks = { order: 'b00', label: 'wood', held: true, expiresAt: '2096-01-01T00:00:00.000Z' } as const;
      await storage.write(async (rows) => {
        const { content: _, ...summary } = await getSnippet(rows, id);
        await rows.setSummary({ ...summary, ...marks });
      });
      await drawer.undo();
      expect(await drawer.get(id)).toMatchObject({ ...marks, content, facts });
      expect(await previews()).toEqual(['beech', 'ash']);
      await drawer.redo();
      expect(await drawer.get(id)).toMatchObject({ ...marks, facts: { preview: 'rowan' } });
    });

    it('shows nothing of a snippet that has become secret since its edit', async () => {
      await drawer.keep(gathered('ash'));
      const id = await idOf('ash');
      await drawer.edit(id, run('rowan'));
      await storage.write(async (rows) => {
        const { content: _, ...summary } = await getSnippet(rows, id);
        await rows.setSummary({ ...summary, secret: true, facts: { ...summary.facts, preview: '••••••' } });
      });
      await drawer.undo();
      expect(await drawer.get(id)).toMatchObject({ secret: true, facts: { preview: '••••••', characters: 0 } });
    });
  });
});
