import { Drawer } from '../drawer/index.ts';
import { indexedDbStorage } from '../storage/indexeddb/index.ts';

/** The drawer that this site keeps in the browser, made when it does not exist. */
export const openDrawer = async (name?: string): Promise<Drawer> =>
  new Drawer(await indexedDbStorage(name), { now: () => new Date(), newId: () => crypto.randomUUID() });
