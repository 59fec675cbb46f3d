import type { Drawer } from '../drawer/index.ts';
import { drawerPath, openDrawer } from '../node/index.ts';
import type { Context } from './context.ts';

/** Opens the command's drawer, works on it, and closes it whatever happens. */
export async function withDrawer<T>({ drawerPath: named }: Context, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  const drawer = await openDrawer(named === undefined ? undefined : drawerPath(named));
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}
