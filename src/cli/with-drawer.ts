import { DrawerError, plural } from '../content/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { drawerPath, openDrawer, type Rescue } from '../node/index.ts';
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

async function opened(path: string | undefined, { environment, askSecret, remark }: Context): Promise<Drawer> {
  const told = environment[passphraseVariable];
  const onRescued = (rescue: Rescue): void => remark(rescuedInWords(rescue));
  try {
    return await openDrawer(path, { passphrase: told, onRescued });
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'locked' || told !== undefined) throw error;
    if (!askSecret)
      throw new DrawerError({
        ...error.details,
        next: `Give its passphrase on a terminal, or in the variable ${passphraseVariable}`,
      });
    return openDrawer(path, { passphrase: await askSecret('Passphrase'), onRescued });
  }
}

/** What could be saved of a damaged drawer. */
export const rescuedInWords = ({ snippets, pictures, lost, kept }: Rescue): string =>
  `The drawer’s file was damaged. Rescued: ${plural(snippets, 'snippet')} and ${plural(pictures, 'picture')}${
    lost === 0 ? '' : `; lost: ${plural(lost, 'snippet')}`
  }. The damaged file is kept as ${kept}. There is no undo for what was before.`;
