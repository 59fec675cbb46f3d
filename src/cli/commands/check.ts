import { resolve } from 'node:path';
import { countOf, DrawerError } from '../../content/index.ts';
import type { Check } from '../../drawer/index.ts';
import { identityOf, rescueDrawer } from '../../node/index.ts';
import { snippetCount } from '../command-words.ts';
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
    return tell(rescued ? rescuedInWords(rescued, words) : words.tell('rescuedElsewhere'));
  }
  if (result.faults.length > 0) throw new DrawerError('storage/drawer-not-whole');
}

const checkedInWords = ({ snippets, pictures, actions, faults }: Check, words: Context['words']): string =>
  [
    words.tell('checked', {
      snippets: snippetCount(snippets),
      pictures: countOf('pictures', pictures),
      actions: countOf('actions', actions),
      verdict: faults.length === 0 ? words.tell('checkedWell') : words.tell('checkedFaults', { count: faults.length }),
    }),
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
  const checking = withProgress(context.words.tell('checking'), context, (onRead) =>
    withDrawer(heard, (drawer) => drawer.check({ onProgress: onRead }), { rescues: false }),
  );
  try {
    return { result: await checking, passphrase };
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'damaged') return { passphrase, problem: error };
    throw error;
  }
}
