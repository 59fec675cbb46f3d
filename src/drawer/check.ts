import { DrawerError, type Message, type Params, picturesIn } from '../content/index.ts';
import { hashOf } from './file-change.ts';
import type { CallOptions } from './schema.ts';
import { readSettings } from './settings.ts';
import { compareOrder, type SnippetSummary, type SortKey } from './snippet.ts';
import { getSnippet, type StoredRows } from './storage.ts';

/** What was looked over, and what is wrong with it. */
export interface Check {
  readonly snippets: number;
  /** That the snippets show. */
  readonly pictures: number;
  readonly actions: number;
  /** What is wrong: none where all is well. */
  readonly faults: readonly Message[];
  /** Whether some of it cannot be read, or not be found: `rescueDrawer` makes a new file of the rest. */
  readonly isDamaged: boolean;
}

const step = 500;

/** Reads everything: that each snippet is valid and in order, each picture there and itself, and the counts right. */
export async function checkRows(rows: StoredRows, { signal, onProgress }: CallOptions = {}): Promise<Check> {
  const faults: Message[] = [...(await rows.faults())];
  let isDamaged = faults.length > 0;
  /** What a work gives; `undefined`, and a fault of that kind, where it meets damage. */
  const readable = async <T>(work: () => Promise<T>, kind: string, params: Params = {}): Promise<T | undefined> => {
    try {
      return await work();
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      const problem = { kind: `problem.${error.reason}`, params: error.params };
      faults.push({ kind, params: { ...params, problem } });
      isDamaged = true;
      return undefined;
    }
  };
  const count = await rows.count();
  const hashes = await rows.mediaHashes();
  const known = new Set(hashes);
  const all = count + hashes.length;
  let before: SortKey = { order: '', id: '' };
  let snippets = 0;
  const shown = new Set<string>(); // others are bytes that undo needs
  for await (const summary of summariesOf(rows, count)) {
    const number = String(++snippets);
    const snippet = await readable(async () => getSnippet(rows, (await summary()).id), 'fault.snippet', { number });
    for (const { media } of snippet ? picturesIn(snippet.content) : []) {
      shown.add(media);
      if (!known.has(media)) faults.push({ kind: 'fault.pictureMissing', params: { number } });
    }
    if (snippet && compareOrder(snippet, before) <= 0) faults.push({ kind: 'fault.order', params: { number } });
    before = snippet ?? before;
    signal?.throwIfAborted();
    if (snippets % step === 0) onProgress?.(snippets, all);
  }
  if (snippets !== count) faults.push({ kind: 'fault.count', params: { found: snippets, count } });
  for (const [index, hash] of hashes.entries()) {
    const bytes = await readable(() => rows.findMedia(hash), 'fault.picture');
    if (bytes && hashOf(bytes) !== hash)
      faults.push({ kind: 'fault.pictureBytes', params: { hash: hash.slice(0, 12) } });
    signal?.throwIfAborted();
    if (index % step === 0) onProgress?.(snippets + index, all);
  }
  const actions = await readable(() => rows.actions(), 'fault.history');
  await readable(() => readSettings(rows), 'fault.rules');
  return { snippets, pictures: shown.size, actions: actions?.length ?? 0, faults, isDamaged };
}

/** Every summary in order; what cannot be read fails when it is asked for, and the others do not. */
async function* summariesOf(rows: StoredRows, count: number): AsyncGenerator<() => Promise<SnippetSummary>> {
  for (let from = 0; from < count; from += step) {
    const summaries = await several(rows, from);
    if (summaries) yield* summaries.map((summary) => async () => summary);
    else for (let at = from; at < Math.min(count, from + step); at++) yield () => one(rows, at);
  }
}

async function several(rows: StoredRows, from: number): Promise<readonly SnippetSummary[] | undefined> {
  try {
    return await rows.summaries(from, step);
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
  }
}

async function one(rows: StoredRows, at: number): Promise<SnippetSummary> {
  const [summary] = await rows.summaries(at, 1);
  if (!summary) throw new DrawerError('damaged/row-missing');
  return summary;
}
