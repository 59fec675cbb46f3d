import { plural } from '../content/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { drawerPath, openDrawer, type Rescue } from '../node/index.ts';
import type { Context } from './context.ts';
import { passphraseVariable } from './passphrases.ts';

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

/** The drawer, and the passphrase of a locked one. */
async function opened(
  path: string | undefined,
  { environment, passphraseOf, remark }: Context,
): Promise<{ readonly drawer: Drawer; readonly passphrase: string | undefined }> {
  let passphrase = environment[passphraseVariable]; // a locked drawer is opened once where that is right
  const drawer = await openDrawer(path, {
    passphrase,
    passphraseOf: async (_, problem, tried) => {
      passphrase = await passphraseOf('', problem, tried);
      return passphrase;
    },
    onRescued: (rescue) => remark(rescuedInWords(rescue)),
  });
  return { drawer, passphrase };
}

/** What could be saved of a damaged drawer. */
export const rescuedInWords = ({ snippets, pictures, lost, kept }: Rescue): string =>
  `The drawer’s file was damaged. Rescued: ${plural(snippets, 'snippet')} and ${plural(pictures, 'picture')}${
    lost === 0 ? '' : `; lost: ${plural(lost, 'snippet')}`
  }. The damaged file is kept as ${kept}. There is no undo for what was before.`;
