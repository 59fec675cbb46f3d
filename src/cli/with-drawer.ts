import { DrawerError } from '../content/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { drawerPath, openDrawer } from '../node/index.ts';
import type { Context } from './context.ts';

/** Opens the command's drawer, works on it, and closes it whatever happens. */
export async function withDrawer<T>(context: Context, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  const { drawerPath: named } = context;
  const drawer = await opened(named === undefined ? undefined : drawerPath(named), context);
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}

/** Where the passphrase of a locked drawer is looked for before anybody is asked. */
export const passphraseVariable = 'DRAWER_PASSPHRASE';

async function opened(path: string | undefined, { environment, askSecret }: Context): Promise<Drawer> {
  const told = environment[passphraseVariable];
  try {
    return await openDrawer(path, { passphrase: told });
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'locked' || told !== undefined) throw error;
    if (!askSecret)
      throw new DrawerError({
        ...error.details,
        next: `Give its passphrase on a terminal, or in the variable ${passphraseVariable}`,
      });
    return openDrawer(path, { passphrase: await askSecret('Passphrase') });
  }
}
