import { type Drawer, deviceNote, type Storage, StoredDrawer, withMethods } from '../drawer/index.ts';
import { type IndexedDbOptions, indexedDbStorage } from '../storage/indexeddb/index.ts';

/**
 * The drawer that this site keeps in the browser, made when it does not exist. The browser is asked to keep it for good.
 * @throws DrawerError `locked` without the right passphrase, `storage` where the browser keeps nothing.
 */
export async function openDrawer(name?: string, options?: IndexedDbOptions): Promise<Drawer> {
  const storage = await indexedDbStorage(name, options);
  // Some browsers clear what nobody asked to keep when they need room; some ask the person, and no is an answer.
  void navigator.storage?.persist?.().catch(() => false);
  return new StoredDrawer(await stampedOnceShared(storage), {
    clock: () => new Date(),
    generateId: () => crypto.randomUUID(),
  });
}

/** A storage that notes what this device changes once the drawer is shared. The code for that is loaded then. */
async function stampedOnceShared(storage: Storage): Promise<Storage> {
  let stamped: Storage | undefined;
  const load = async (): Promise<Storage> => {
    const { stampedStorage } = await import('../sync/index.ts');
    stamped = stampedStorage(storage, Date.now);
    return stamped;
  };
  const write: Storage['write'] = async (work) => {
    if (stamped) return stamped.write(work);
    // Nothing may be loaded within a transaction, which would end meanwhile.
    const before = await storage.write(async (rows) =>
      (await rows.findNote(deviceNote)) === undefined ? { done: await work(rows) } : undefined,
    );
    return before ? before.done : (await load()).write(work);
  };
  // Now rather than at the first change, when the network may be away.
  if ((await storage.read((rows) => rows.findNote(deviceNote))) !== undefined) await load();
  return withMethods(storage, { write });
}
