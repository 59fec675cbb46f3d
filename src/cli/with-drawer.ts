import { resolve } from 'node:path';
import type { Drawer } from '../drawer/index.ts';
import { openDrawer } from '../node/index.ts';

/** Opens the drawer at `path` (the user's own when empty or `undefined`), works on it, and closes it whatever happens. */
export async function withDrawer<T>(path: string | undefined, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  const drawer = await openDrawer(path ? resolve(path) : undefined);
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}
