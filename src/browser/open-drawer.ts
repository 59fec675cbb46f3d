import { type Drawer, StoredDrawer } from '../drawer/index.ts';
import { type IndexedDbOptions, indexedDbStorage } from '../storage/indexeddb/index.ts';

/**
 * The drawer that this site keeps in the browser, made when it does not exist. The browser is asked to keep it for good.
 * @throws DrawerError `locked` without the right passphrase, `storage` where the browser keeps nothing.
 */
export async function openDrawer(name?: string, options?: IndexedDbOptions): Promise<Drawer> {
  const storage = await indexedDbStorage(name, options);
  // Some browsers clear what nobody asked to keep when they need room; some ask the person, and no is an answer.
  void navigator.storage?.persist?.().catch(() => false);
  return new StoredDrawer(storage, { clock: () => new Date(), generateId: () => crypto.randomUUID() });
}
