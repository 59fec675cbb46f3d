import { resolve } from 'node:path';
import { DrawerError, plural } from '../../content/index.ts';
import type { Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { withDrawer } from '../with-drawer.ts';

/** `drawer check [FILE]`: reads all of a drawer, and says what is wrong with it. */
export async function check(file: string | undefined, { json }: { json?: boolean }, context: Context): Promise<void> {
  const here = file === undefined ? context : { ...context, drawerPath: resolve(file) };
  const result = await withProgress('Checking', context, (onRead) =>
    withDrawer(here, (drawer) => drawer.check((done, all) => onRead(done, all))),
  );
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
  if (result.faults.length > 0)
    throw new DrawerError({
      code: 'storage',
      what: 'The drawer is not whole',
      next: 'Copy its file away, then take what is good into a new one: drawer copy FILE --drawer NEW',
    });
}
