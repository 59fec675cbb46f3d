import { DrawerError } from '../content/index.ts';
import type { ReadTools } from '../formats/index.ts';
import type { DesktopClipboard } from './clipboard.ts';
import { type CopiedExcerpt, isOutOfDrawer, readCopied } from './read-copied.ts';

/** Who gathers what is copied. */
export interface CopyListener {
  /** Receives each copy, one after another. */
  keep(taken: CopiedExcerpt): Promise<void>;
  /** Hears why some were passed over: `refused/clipboard-overtaken` for `count` that others overtook before they were read. */
  passedOver(problem: DrawerError): void;
}

/** What is copied, as long as it is followed. */
export interface FollowedCopies {
  /** Fails where following cannot go on; without that it does not settle. */
  readonly failed: Promise<never>;
  /** Ends it when what was copied before is kept. */
  stop(): Promise<void>;
}

/** Passes each copy made in any program to the listener, in order. Snippets pasted from a drawer are silently ignored. */
export async function followCopies(
  clipboard: DesktopClipboard,
  listener: CopyListener,
  tools: ReadTools = {},
): Promise<FollowedCopies> {
  let waiting = 0;
  let working = Promise.resolve();
  let fail: (error: unknown) => void = () => {};
  const failed = new Promise<never>((_, failing) => {
    fail = failing;
  });
  failed.catch(() => {}); // for those who do not ask
  const takeNext = async (): Promise<void> => {
    const count = waiting;
    waiting = 0;
    if (count === 0) return;
    if (count > 1) listener.passedOver(overtaken(count - 1));
    let isOvertaken = false;
    try {
      const copied = await clipboard.copied();
      isOvertaken = waiting > 0;
      if (!copied || isOvertaken) return;
      // What is read when another copy has come may be of that one.
      const read = async (form: string): Promise<Uint8Array | undefined> => {
        const bytes = await copied.read(form);
        isOvertaken ||= waiting > 0;
        return bytes;
      };
      const watched = { ...copied, read };
      if (await isOutOfDrawer(watched)) return;
      const taken = await readCopied(watched, tools);
      if (!isOvertaken) await listener.keep(taken);
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      if (!isOvertaken) listener.passedOver(error);
    } finally {
      if (isOvertaken) listener.passedOver(overtaken(1));
    }
  };
  const end = await clipboard.watch(() => {
    waiting++;
    working = working.then(takeNext);
    working.catch(fail);
  });
  const stop = async (): Promise<void> => {
    end();
    await working;
  };
  return { failed, stop };
}

const overtaken = (count: number): DrawerError => new DrawerError('refused/clipboard-overtaken', { count });
