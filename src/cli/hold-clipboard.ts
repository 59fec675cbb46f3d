import { DrawerError } from '../content/index.ts';
import { type Offering, openClipboard, secretStays } from '../desktop/index.ts';

/** What the command hands to the program that holds the clipboard after it has ended. */
export interface ToHold {
  readonly offering: Offering;
  readonly isSecret: boolean;
}

/** What is answered: no problem where it is on the clipboard. */
export interface Held {
  readonly isWordsAlone?: true;
  readonly problem?: Pick<DrawerError, 'problem' | 'params'>;
}

/** A program of its own: on most desktops what is on the clipboard is asked of whoever put it there, as long as it is there. */
async function hold({ offering, isSecret }: ToHold): Promise<void> {
  const clipboard = await openClipboard(process.env);
  const offer = await clipboard.offer(offering);
  const ended = new Promise<void>((end) => {
    process.once('SIGTERM', end);
    if (isSecret) setTimeout(end, secretStays).unref();
  });
  await new Promise((sent) => process.send?.(offer.isWordsAlone ? { isWordsAlone: true } : {}, sent));
  process.disconnect?.();
  if (offer.isKept && !isSecret) return clipboard.close();
  const isTaken = await Promise.race([Promise.race([offer.gone, clipboard.ended]).then(() => true), ended]);
  if (isSecret && !isTaken) offer.end();
  await clipboard.close();
}

process.once('message', (held: ToHold) => {
  hold(held).catch((error: unknown) => {
    if (!DrawerError.is(error)) throw error;
    const { problem, params } = error;
    process.send?.({ problem: { problem, params } });
    process.disconnect?.();
  });
});
