import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { memoryStorage, type Storage } from 'drawer';
import { indexedDbStorage } from 'drawer/browser';
import { type FormatSubject, formatCases, type StorageSubject, storageCases } from 'drawer/conformance';
import { type Format, formatNamed, formatNames, sourceOf } from 'drawer/formats';
import { sqliteStorage } from 'drawer/node';
import 'fake-indexeddb/auto';
import { demoFileOf, demoFiles } from '../support/cli.ts';

const folder = mkdtempSync(join(tmpdir(), 'drawer-conformance-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Storages by a name that is new each time, and opened again by it. */
function named(openNamed: (name: string) => Promise<Storage>): StorageSubject {
  const names = new WeakMap<Storage, string>();
  let made = 0;
  const openAs = async (name: string): Promise<Storage> => {
    const storage = await openNamed(name);
    names.set(storage, name);
    return storage;
  };
  return { open: () => openAs(`conformance-${++made}`), reopen: (closed) => openAs(names.get(closed) ?? '') };
}

const storages: Readonly<Record<string, StorageSubject>> = {
  memory: { open: async () => memoryStorage() },
  'a SQLite file': named(async (name) => sqliteStorage(join(folder, `${name}.drawer`))),
  IndexedDB: named((name) => indexedDbStorage(name)),
};

describe.each(Object.entries(storages))('a storage in %s', (_, subject) => {
  it.each(storageCases)('$name', ({ run }) => run(subject));
});

const subjects = formatNames.filter((name) => demoFileOf[name] !== undefined);

async function subjectOf(name: (typeof formatNames)[number]): Promise<FormatSubject> {
  const fileName = demoFileOf[name] ?? '';
  const format = await formatNamed(name).load();
  return { format, fileName, bytes: new Uint8Array(readFileSync(join(demoFiles, fileName))) };
}

describe.each(subjects)('the format %s', (name) => {
  it.each(formatCases)('$name', async ({ run }) => run(await subjectOf(name)));
});

describe('what does not conform', () => {
  /** Of each way to be wrong, the cases that notice it. */
  const noticed = async (subject: StorageSubject): Promise<string[]> => {
    const found: string[] = [];
    for (const { name, run } of storageCases) await run(subject).catch(() => found.push(name));
    return found;
  };
  const wrong = (change: (storage: Storage) => Partial<Storage>): StorageSubject => ({
    open: async () => {
      const storage = memoryStorage();
      return Object.assign(Object.create(storage), {
        read: storage.read.bind(storage),
        write: storage.write.bind(storage),
        watch: storage.watch.bind(storage),
        close: storage.close.bind(storage),
        ...change(storage),
      });
    },
  });

  it('is found out in a storage', async () => {
    expect(await noticed({ open: async () => memoryStorage() })).toEqual([]);
    const keepsHalf = wrong((storage) => ({
      write: (work) =>
        storage
          .write(async (rows) => [await work(rows).catch((error: unknown) => ({ error }))] as const)
          .then(([result]) => {
            if (result !== null && typeof result === 'object' && 'error' in result) throw result.error;
            return result as never;
          }),
    }));
    expect(await noticed(keepsHalf)).toContain('does all of a write, or nothing of it');
    expect(await noticed(wrong(() => ({ close: async () => {} })))).toEqual([
      'closes behind what waits, and refuses what comes later',
    ]);
    const forgetsNobody = wrong((storage) => ({
      watch: (changed) => {
        storage.watch(changed);
        return () => {};
      },
    }));
    expect(await noticed(forgetsNobody)).toEqual(['calls back on a change, and no more when that was ended']);
  });

  it('is found out in a format', async () => {
    const subject = await subjectOf('markdown');
    const { format } = subject;
    const broken: Format = {
      ...format,
      read: async (...given) => (await format.read?.(...given)) as never,
      insert: async (source, _, { content, media }) => {
        const bytes = await format.write?.(content, { media });
        return { bytes: bytes ?? (await source.read(0, source.size)), notes: [], where: { kind: 'landed.after' } };
      },
      outline: async () => ({ entries: [{ place: 'table=77', kind: 'table', depth: 0, label: '' }], notes: [] }),
    };
    const found: string[] = [];
    for (const { name, run } of formatCases) await run({ ...subject, format: broken }).catch(() => found.push(name));
    expect(found).toEqual([
      'takes every place that it outlines, and the same again by the place that it then gives',
      'inserts at the end, and keeps all that was there',
      'removes what it inserted, and nothing else',
    ]);
    await expect(format.read?.(sourceOf(new Uint8Array([65]), 'a.md'), { kind: 'whole' })).resolves.toBeDefined();
  });
});
