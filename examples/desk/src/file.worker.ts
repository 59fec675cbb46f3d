import { expose } from 'comlink';
import { DrawerError, parseFragment } from 'drawer';
import { blobSource, browserInflate } from 'drawer/browser/files';
import { formatOf, type Outline, type Taken } from 'drawer/formats';

/** An error as it crosses to the page. */
export interface Problem {
  readonly problem: Pick<DrawerError, 'problem' | 'params' | 'where'>;
}

let file: File | undefined;
let onRead: ((share: number) => void) | undefined;

/** Reads one file off the page's own thread; ending the worker stops it at once. */
const reader = {
  /** Which file it is; `told` hears how much of it has been read, from 0 to 1. */
  open(chosen: File, told: (share: number) => void): void {
    file = chosen;
    onRead = told;
  },
  outline: (): Promise<Outline | Problem> =>
    guarded(async (source, format) => (await format.outline?.(source, { inflate: browserInflate })) ?? nothing),
  /** What a place holds; with `enough`, at least so many of its first blocks. */
  take: (place: string, enough?: number): Promise<Taken | Problem> =>
    guarded(async (source, format) => {
      const tools = { inflate: browserInflate, ...(enough !== undefined && { enough }) };
      const taken = await format.take?.(source, parseFragment(place), tools);
      if (taken) return taken;
      throw new DrawerError('unsupported/format-not-read', { format: format.name });
    }),
};
export type Reader = typeof reader;

const nothing: Outline = { entries: [], notes: [] };

type Work<T> = (
  source: ReturnType<typeof blobSource>,
  format: Awaited<ReturnType<Awaited<ReturnType<typeof formatOf>>['load']>>,
) => Promise<T>;

async function guarded<T>(work: Work<T>): Promise<T | Problem> {
  try {
    if (!file) throw new DrawerError('usage/file-not-open');
    const { size } = file;
    const bare = blobSource(file, file.name);
    const source: typeof bare = {
      ...bare,
      read: (start, end) => {
        onRead?.(end / Math.max(1, size));
        return bare.read(start, end);
      },
    };
    return await work(source, await (await formatOf(source)).load());
  } catch (error) {
    if (DrawerError.is(error)) {
      const { problem, params, where = file?.name } = error;
      return { problem: { problem, params, where } };
    }
    throw error;
  }
}

expose(reader);
