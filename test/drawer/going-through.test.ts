import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createDrawer, type Drawer, type DrawerChangeEvent, type KeepResult, run, type SnippetInput } from 'drawer';
import { sqliteStorage } from 'drawer/node';
import * as fc from 'fast-check';
import { countingTools, newDrawer, type StorageKind, storageKinds } from '../support/storages.ts';

const words = (text: string): SnippetInput => ({ content: run(text) });
const idsOf = (results: readonly KeepResult[]): string[] =>
  results.flatMap((result) => ('summary' in result ? result.summary.id : []));
const previews = async (drawer: Drawer): Promise<string[]> =>
  (await drawer.list(1, 1000)).map(({ summary }) => summary.facts.preview);

describe.each(storageKinds)('a drawer in $name', (kind: StorageKind) => {
  let drawer: Drawer;
  beforeEach(async () => {
    drawer = await newDrawer(kind);
  });
  afterEach(() => drawer.close());

  it('takes one thing where it takes several, and needs no origin', async () => {
    const [kept] = await drawer.keep(words('oak'));
    expect(kept).toMatchObject({ kind: 'kept', summary: { origin: {} } });
    const [ash = ''] = idsOf(await drawer.keep(words('ash')));
    await drawer.append(words('bark'), { onto: ash });
    await drawer.mark(ash, { label: 'wood' });
    await drawer.move(ash, 1);
    expect((await drawer.find('label:wood')).map(({ position }) => position)).toEqual([1]);
    expect((await drawer.select('2')).map(({ summary }) => summary.facts.preview)).toEqual(['oak']);
    await drawer.remove(ash, { builtUp: true });
    expect(await previews(drawer)).toEqual(['oak']);
  });

  it('gives many snippets in the order they are asked for, or says which is not there', async () => {
    const ids = idsOf(await drawer.keep(Array.from({ length: 250 }, (_, at) => words(`plank ${at}`))));
    const told: number[] = [];
    const found = await drawer.getMany(ids.toReversed(), { onProgress: (done) => told.push(done) });
    expect(found.map(({ id }) => id)).toEqual(ids.toReversed());
    expect([told.at(-1), told.length > 1]).toEqual([250, true]);
    await expect(drawer.getMany([ids[0] as string, 'gone'])).rejects.toMatchObject({ reason: 'snippet-unknown' });
  });

  it('is gone through in order, each once, while others put in, take out and move', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.constantFrom('keep', 'remove', 'top'), fc.nat(200)), { maxLength: 30 }),
        async (deeds) => {
          const changing = await newDrawer(kind);
          const ids = idsOf(await changing.keep(Array.from({ length: 120 }, (_, at) => words(`plank ${at}`))));
          const touched = new Set<string>();
          const met: string[] = [];
          for await (const snippet of changing.entries()) {
            met.push(snippet.id);
            const [deed, number] = deeds[met.length] ?? [];
            const id = ids[(number ?? 0) % ids.length] as string;
            if (deed === 'keep') await changing.keep(words(`new ${number}`));
            else if (deed !== undefined && !touched.has(id)) {
              touched.add(id);
              if (deed === 'remove') await changing.remove(id);
              else await changing.move(id, 1);
            }
          }
          await changing.close();
          expect(new Set(met).size).toBe(met.length);
          expect(met.filter((id) => ids.includes(id) && !touched.has(id))).toEqual(
            ids.filter((id) => !touched.has(id)),
          );
        },
      ),
      { numRuns: 8 },
    );
  });

  it('is gone through from any snippet on, as far as is asked', async () => {
    const ids = idsOf(await drawer.keep(Array.from({ length: 130 }, (_, at) => words(`plank ${at}`))));
    const met = async (options: Parameters<Drawer['entries']>[0]): Promise<string[]> => {
      const found: string[] = [];
      for await (const { id } of drawer.entries(options)) found.push(id);
      return found;
    };
    expect(await met({ after: ids[9] as string, limit: 60 })).toEqual(ids.slice(10, 70));
    expect(await met({ after: ids.at(-1) as string })).toEqual([]);
    expect(await met({ limit: 0 })).toEqual([]);
    await expect(met({ after: 'gone' })).rejects.toMatchObject({ reason: 'snippet-unknown' });
  });

  it('keeps nothing of what is stopped, at whatever point', async () => {
    await drawer.keep(words('oak'));
    const many = Array.from({ length: 40 }, (_, at) => words(`plank ${at}`));
    const stopping = new AbortController();
    const stopped = drawer.keep(many, {
      signal: stopping.signal,
      onProgress: (done) => done === 20 && stopping.abort(new Error('enough')),
    });
    await expect(stopped).rejects.toThrow('enough');
    expect([await previews(drawer), (await drawer.history()).length]).toEqual([['oak'], 1]);
    await expect(drawer.keep(many, { signal: stopping.signal })).rejects.toThrow('enough');
    const { signal } = stopping;
    await expect(drawer.find('oak', { signal })).rejects.toThrow('enough');
    await expect(drawer.getMany([], { signal })).rejects.toThrow('enough');
    await expect(drawer.check({ signal })).rejects.toThrow('enough');
    await expect(drawer.entries({ signal }).next()).rejects.toThrow('enough');
    expect(await drawer.keep(many)).toHaveLength(40);
  });

  it('tells its listeners what was added, taken out and changed, and what was undone', async () => {
    const [oak = ''] = idsOf(await drawer.keep(words('oak')));
    const heard: DrawerChangeEvent[] = [];
    const ending = new AbortController();
    const next = (): Promise<DrawerChangeEvent> =>
      new Promise((resolve) => drawer.addEventListener('change', resolve, { once: true, signal: ending.signal }));
    drawer.addEventListener('change', (event) => heard.push(event), { signal: ending.signal });
    let done: unknown;
    const after = async (deed: () => Promise<unknown>): Promise<unknown> => {
      const told = next();
      done = await deed();
      const { type, change, isAll } = await told;
      const { action, ...rest } = change ?? {};
      return { type, isAll, did: action && `${action.state} ${action.name.kind}`, ...rest };
    };
    const event = { type: 'change', isAll: true, added: [], removed: [], changed: [] };
    let ash = '';
    const keepAsh = async (): Promise<void> => {
      [ash = ''] = idsOf(await drawer.keep(words('ash')));
    };
    const kept = await after(keepAsh);
    expect(kept).toEqual({ ...event, did: 'done kept', added: [ash] });
    expect(await after(() => drawer.move(ash, 1))).toEqual({ ...event, did: 'done moved', changed: [ash] });
    expect(await after(() => drawer.mark(oak, { label: 'x' }))).toEqual({
      ...event,
      did: 'done labelled',
      changed: [oak],
    });
    expect(await after(() => drawer.remove(oak))).toEqual({ ...event, did: 'done deleted', removed: [oak] });
    expect(await after(() => drawer.undo())).toEqual({ ...event, did: 'undone deleted', added: [oak] });
    expect(done).toEqual(heard.at(-1)?.change);
    expect(await after(() => drawer.redo())).toEqual({ ...event, did: 'done deleted', removed: [oak] });
    expect(done).toEqual(heard.at(-1)?.change);
    ending.abort();
    const count = heard.length;
    await drawer.keep(words('elm'));
    await drawer.list();
    expect([count >= 6, heard.length]).toEqual([true, count]);
  });

  it('is closed at the end of its scope', async () => {
    await drawer[Symbol.asyncDispose]();
    await expect(drawer.count()).rejects.toMatchObject({ code: 'storage' });
  });
});

it('tells what another program did', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-events-'));
  const path = join(folder, 'shared.drawer');
  const [one, other] = [1, 2].map(() => createDrawer({ storage: sqliteStorage(path), ...countingTools() }));
  if (!one || !other) throw new Error('no drawers');
  const told = new Promise<DrawerChangeEvent>((resolve) => one.addEventListener('change', resolve, { once: true }));
  await one.count();
  const ids = idsOf(await other.keep([words('oak'), words('ash')]));
  expect((await told).change).toMatchObject({ action: { name: { kind: 'kept' } }, added: ids });
  await Promise.all([one.close(), other.close()]);
  rmSync(folder, { recursive: true });
});
