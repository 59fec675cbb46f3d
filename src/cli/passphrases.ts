import type { PassphraseOf } from '../node/index.ts';
import type { Context } from './context.ts';

/** Where the passphrase of a locked drawer is looked for before anybody is asked. */
export const passphraseVariable = 'DRAWER_PASSPHRASE';

/** The passphrases of locked drawers: from the variable, or of who sits at the terminal, asked once for each; '' is the command's own. */
export function passphrasesFrom({ environment, askSecret }: Pick<Context, 'environment' | 'askSecret'>): PassphraseOf {
  const given = new Map<string, string>();
  return async (file, problem, tried) => {
    const known = given.get(file) ?? environment[passphraseVariable];
    if (known !== undefined && tried === undefined) return known;
    if (given.has(file)) throw problem;
    if (!askSecret) throw problem;
    const passphrase = await askSecret(file === '' ? 'Passphrase' : `Passphrase of ${file}`);
    given.set(file, passphrase);
    return passphrase;
  };
}
