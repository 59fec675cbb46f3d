import { DrawerError } from '../content/index.ts';
import type { SyncResult } from './platform.ts';
import type { Syncing } from './syncing.ts';

/** Options of `follow`. */
export interface FollowOptions {
  /** Called after every sync; the next one waits until it is done. */
  onSynced?(result: SyncResult): void | Promise<void>;
  /** Called where the server cannot be reached; it is tried again. */
  onUnreachable?(problem: DrawerError): void | Promise<void>;
  /** Ends it. */
  readonly signal: AbortSignal;
}

/** How long after a change it is sent, and how often it is looked for changes that nobody tells of, in milliseconds. */
const [shortly, atLeast] = [100, 5_000];
/** How long a sync may take that is under way at the end, in milliseconds. */
const grace = 1_000;

/** Syncs now, and again after every change, here or elsewhere, until its signal ends it. */
export async function follow(syncing: Pick<Syncing, 'sync' | 'watch'>, options: FollowOptions): Promise<void> {
  const { signal } = options;
  let isChanged = false;
  let wake = (): void => {};
  const unwatch = syncing.watch(() => {
    isChanged = true;
    wake();
  });
  try {
    while (!signal.aborted) {
      isChanged = false;
      // A server that is away is not waited for at the end.
      await within(signal, grace, (done, fail) => void attempt(syncing, options).then(done, fail));
      if (!isChanged)
        await within(signal, 0, (done) => {
          const late = setTimeout(done, atLeast);
          wake = () => {
            clearTimeout(late);
            done();
          };
        });
      if (isChanged) await within(signal, 0, (done) => void setTimeout(done, shortly));
    }
  } finally {
    wake();
    unwatch();
  }
}

/** Waits for some work, and no longer than some milliseconds after a signal has ended it. */
async function within(
  signal: AbortSignal,
  milliseconds: number,
  work: (done: () => void, fail: (error: unknown) => void) => void,
): Promise<void> {
  const isOver = new AbortController();
  let late: ReturnType<typeof setTimeout> | undefined;
  await new Promise<void>((done, fail) => {
    const end = (): void => {
      late = setTimeout(done, milliseconds);
    };
    if (signal.aborted) end();
    else signal.addEventListener('abort', end, { signal: isOver.signal });
    work(done, fail);
  }).finally(() => {
    isOver.abort();
    clearTimeout(late);
  });
}

async function attempt(
  syncing: Pick<Syncing, 'sync'>,
  { onSynced, onUnreachable, signal }: FollowOptions,
): Promise<void> {
  try {
    const result = await syncing.sync({ signal });
    await onSynced?.(result);
  } catch (error) {
    if (signal.aborted) return;
    if (!DrawerError.is(error) || error.reason !== 'sync-server-unreachable') throw error;
    await onUnreachable?.(error);
  }
}
