import { resolve } from 'node:path';
import { DrawerError, plural } from '../../content/index.ts';
import type { Check } from '../../drawer/index.ts';
import { defaultDrawerPath, drawerPath, rescueDrawer } from '../../node/index.ts';
import type { Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { rescuedInWords, withDrawer } from '../with-drawer.ts';

/** `drawer check [FILE]`: reads all of a drawer, and says what is wrong with it. */
export async function check(file: string | undefined, { json }: { json?: boolean }, context: Context): Promise<void> {
  const here = file === undefined ? context : { ...context, drawerPath: resolve(file) };
  const result = await checked(here, context);
  if (result === undefined) return rescue(here, context);
  if (json) context.print(JSON.stringify(result, null, 2));
  else {
    const { snippets, pictures, actions, faults } = result;
    context.print(
      `Looked over ${plural(snippets, 'snippet')}, ${plural(pictures, 'picture')} and ${plural(actions, 'action')}: ${
        faults.length === 0 ? 'all is well.' : `${plural(faults.length, 'fault')}.`
      }`,
    );
    for (const fault of faults) context.print(`  ${fault}`);
  }
  if (result.faults.length === 0) return;
  if (result.faults.some((fault) => fault.startsWith('The file is damaged'))) return rescue(here, context);
  throw new DrawerError({
    code: 'storage',
    what: 'The drawer is not whole',
    next: 'What is named can be deleted; the rest is as it was',
  });
}

/** `undefined` when it is damaged so that it cannot be read to its end. */
async function checked(here: Context, context: Context): Promise<Check | undefined> {
  try {
    return await withProgress('Checking', context, (onRead) => withDrawer(here, (drawer) => drawer.check(onRead)));
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'damaged') return undefined;
    throw error;
  }
}

async function rescue({ drawerPath: named }: Context, { print }: Context): Promise<void> {
  print(rescuedInWords(await rescueDrawer(named === undefined ? defaultDrawerPath() : drawerPath(named))));
}
