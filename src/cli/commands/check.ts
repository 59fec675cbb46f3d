import { resolve } from 'node:path';
import { DrawerError, plural } from '../../content/index.ts';
import type { Check } from '../../drawer/index.ts';
import type { Words } from '../../messages/index.ts';
import { identityOf, rescueDrawer } from '../../node/index.ts';
import { type Context, passphraseVariable } from '../context.ts';
import { withProgress } from '../gather.ts';
import { pathOf, rescuedInWords, withDrawer } from '../with-drawer.ts';

/** `drawer check [FILE]`: reads all of a drawer, says what is wrong with it, and rescues what can be read of a damaged one. */
export async function check(named: string | undefined, { json }: { json?: boolean }, context: Context): Promise<void> {
  const here = named === undefined ? context : { ...context, drawerPath: resolve(named) };
  const path = pathOf(here);
  const file = identityOf(path);
  const { result, problem, passphrase } = await checked(here, context);
  const words = await context.words.load();
  if (result && json)
    context.print(JSON.stringify({ ...result, faults: result.faults.map((fault) => words.part(fault)) }, null, 2));
  else if (result) context.print(checkedInWords(result, words));
  if (problem !== undefined) context.remark(`${words.problem(problem)}.`);
  if (!result || result.isDamaged) {
    const rescued = await rescueDrawer(path, { passphrase, file });
    const tell = json ? context.remark : context.print;
    return tell(rescued ? rescuedInWords(rescued) : 'Another program has rescued what can be read of it.');
  }
  if (result.faults.length > 0) throw new DrawerError('storage/drawer-not-whole');
}

const checkedInWords = ({ snippets, pictures, actions, faults }: Check, words: Words): string =>
  [
    `Looked over ${plural(snippets, 'snippet')}, ${plural(pictures, 'picture')} and ${plural(actions, 'action')}: ${
      faults.length === 0 ? 'all is well.' : `${plural(faults.length, 'fault')}.`
    }`,
    ...faults.map((fault) => `  ${words.part(fault)}`),
  ].join('\n');

interface Checked {
  readonly result?: Check;
  readonly problem?: DrawerError;
  readonly passphrase?: string | undefined;
}

/** Without a result when it is damaged so that it cannot be read to its end. */
async function checked(here: Context, context: Context): Promise<Checked> {
  let passphrase = here.environment[passphraseVariable];
  const heard: Context = {
    ...here,
    passphraseOf: async (...asked) => {
      passphrase = await here.passphraseOf(...asked);
      return passphrase;
    },
  };
  const checking = withProgress('Checking', context, (onRead) =>
    withDrawer(heard, (drawer) => drawer.check(onRead), { rescues: false }),
  );
  try {
    return { result: await checking, passphrase };
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'damaged') return { passphrase, problem: error };
    throw error;
  }
}
