import { checkOptions, checkWhole } from './schema.ts';
import type { Snippet, SortKey } from './snippet.ts';

/** Which snippets to go through. */
export interface EntriesOptions {
  /** Begins behind the snippet of this id; at the start where none is named. */
  readonly after?: string | undefined;
  /** How many at most. */
  readonly limit?: number | undefined;
  /** Ends it: the next step rejects with the signal's reason. */
  readonly signal?: AbortSignal | undefined;
}

/** What snippets are read from. */
interface Readable {
  get(id: string): Promise<Snippet>;
  readAfter(after: SortKey | undefined, limit: number): Promise<readonly Snippet[]>;
}

/** How many are read at once. */
const portion = 50;

/**
 * Goes through snippets by their order keys, so that none is met twice or passed over for what is put in or taken out
 * meanwhile.
 */
export async function* entriesIn(drawer: Readable, options: EntriesOptions): AsyncGenerator<Snippet, void, undefined> {
  const { after, limit, signal } = checkOptions(options);
  if (limit !== undefined) checkWhole(limit, 'limit', 0);
  let last: SortKey | undefined = after === undefined ? undefined : await drawer.get(after);
  for (let left = limit ?? Number.POSITIVE_INFINITY; left > 0; ) {
    const read = await drawer.readAfter(last, Math.min(portion, left));
    for (const snippet of read) {
      signal?.throwIfAborted();
      yield snippet;
      last = { order: snippet.order, id: snippet.id };
    }
    if (read.length === 0) return;
    left -= read.length;
  }
}
