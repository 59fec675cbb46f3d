import { DrawerError } from '../../content/index.ts';
import type { Hints, Words } from '../../messages/index.ts';
import { Refusal } from './host.ts';

/** What went wrong, and what to do next in the panel. */
export async function problemInWords(words: Words, error: unknown): Promise<string> {
  if (error instanceof Refusal) return words.say(error.phrase);
  const problem = isQuota(error) ? new DrawerError('storage/browser-full', {}, { cause: error }) : error;
  if (!DrawerError.is(problem)) return words.say('problem.unknown');
  return (await words.load()).error(problem, hintsIn(words));
}

/** A browser that has no more room says so wherever it is asked to keep something. */
const isQuota = (error: unknown): boolean => error instanceof DOMException && error.name === 'QuotaExceededError';

function hintsIn({ catalogue: { phrases } }: Words): Hints {
  const [full, consent] = [phrases['hint.full'], phrases['hint.consent']];
  return {
    'drawer-full': full,
    'drawer-nearly-full': full,
    'drawer-bytes-full': full,
    'snippets-would-go': consent,
    'snippet-built-up': consent,
    'snippet-changed': phrases['hint.changed'],
    'drawer-newer': phrases['hint.newer'],
  };
}
