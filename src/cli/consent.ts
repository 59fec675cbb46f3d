import { DrawerError } from '../content/index.ts';
import type { Context } from './context.ts';

/** How somebody is asked for what has to be said for certain. */
interface Asking {
  /** Whether it was said already. */
  readonly yes: boolean | undefined;
  /** Follows what there is to say, on a terminal. */
  readonly question: string;
}

/**
 * Does what may need a consent: given already, or by an answer; `undefined` when it was refused.
 * @throws DrawerError `consent` where nobody can be asked.
 */
export async function withConsent<T>(
  work: (given: boolean) => Promise<T>,
  { yes, question }: Asking,
  { ask, words }: Pick<Context, 'ask' | 'words'>,
): Promise<T | undefined> {
  try {
    return await work(yes === true);
  } catch (error) {
    if (!DrawerError.is(error) || error.code !== 'consent') throw error;
    if (!ask) throw error;
    return (await ask(`${(await words.load()).problem(error)}. ${question}`)) ? work(true) : undefined;
  }
}
