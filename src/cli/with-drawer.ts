import { DrawerError, plural } from '../content/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { drawerPath, openDrawer, type Rescue } from '../node/index.ts';
import type { Context } from './context.ts';

/** Opens the command's drawer, works on it, and closes it whatever happens. The work is told the passphrase that it opened with. */
export async function withDrawer<T>(
  context: Context,
  work: (drawer: Drawer, passphrase: string | undefined) => Promise<T>,
): Promise<T> {
  const { drawerPath: named } = context;
  const { drawer, passphrase } = await opened(named === undefined ? undefined : drawerPath(named), context);
  try {
    return await work(drawer, passphrase);
  } finally {
    await drawer.close();
  }
}

/** Where the passphrase of a locked drawer is looked for before anybody is asked. */
export const passphraseVariable = 'DRAWER_PASSPHRASE';

interface Opened {
  readonly drawer: Drawer;
  readonly passphrase: string | undefined;
}

async function opened(path: string | undefined, { environment, askSecret, remark }: Context): Promise<Opened> {
  const told = environment[passphraseVariable];
  const onRescued = (rescue: Rescue): void => remark(rescuedInWords(rescue));
  try {
    return { drawer: await openDrawer(path, { passphrase: told, onRescued }), passphrase: told };
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'locked' || told !== undefined) throw error;
    if (!askSecret)
      throw new DrawerError({
        ...error.details,
        next: `Give its passphrase on a terminal, or in the variable ${passphraseVariable}`,
      });
    const passphrase = await askSecret('Passphrase');
    return { drawer: await openDrawer(path, { passphrase, onRescued }), passphrase };
  }
}

/** What could be saved of a damaged drawer. */
export const rescuedInWords = ({ snippets, pictures, lost, kept }: Rescue): string =>
  `The drawer’s file was damaged. Rescued: ${plural(snippets, 'snippet')} and ${plural(pictures, 'picture')}${
    lost === 0 ? '' : `; lost: ${plural(lost, 'snippet')}`
  }. The damaged file is kept as ${kept}. There is no undo for what was before.`;
