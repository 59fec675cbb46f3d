import { resolve } from 'node:path';
import type { Drawer } from '../drawer/index.ts';
import { openDrawer } from '../node/index.ts';
import type { Context } from './context.ts';

/** Opens the command's drawer, works on it, and closes it whatever happens. */
export async function withDrawer<T>({ drawerPath }: Context, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  const drawer = await openDrawer(drawerPath && resolve(drawerPath));
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}
