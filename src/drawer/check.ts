import { DrawerError, picturesIn } from '../content/index.ts';
import { hashOf } from './file-change.ts';
import { readSettings } from './settings.ts';
import type { SnippetHead } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** What was looked over, and what is wrong with it. */
export interface Check {
  readonly snippets: number;
  readonly pictures: number;
  readonly actions: number;
  /** Whole sentences without their full stop; none where all is well. */
  readonly faults: readonly string[];
  /** Whether some of it cannot be read, or not be found: `rescueDrawer` makes a new file of the rest. */
  readonly isDamaged: boolean;
}

const step = 500;

/** Reads everything: that each snippet is valid and in order, each picture there and itself, and the counts right. */
export async function checkRows(rows: StoredRows, onChecked?: (done: number, all: number) => void): Promise<Check> {
  const faults = [...(await rows.faults())];
  let isDamaged = faults.length > 0;
  /** What a work gives; `undefined`, and a fault by that name, where it meets damage. */
  const readable = async <T>(work: () => Promise<T>, name?: string): Promise<T | undefined> => {
    try {
      return await work();
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      faults.push(name === undefined ? error.details.what : `${name}: ${error.details.what}`);
      isDamaged = true;
      return undefined;
    }
  };
  const count = await rows.count();
  const hashes = await rows.mediaHashes();
  const known = new Set(hashes);
  const all = count + hashes.length;
  let before = '';
  let snippets = 0;
  for await (const head of headsOf(rows, count)) {
    const name = `Snippet ${++snippets}`;
    const snippet = await readable(async () => rows.get((await head()).id), name);
    for (const { media } of snippet ? picturesIn(snippet.content) : [])
      if (!known.has(media)) faults.push(`${name}: a picture of it is missing`);
    if (snippet && snippet.order <= before) faults.push(`${name}: its order key is not above the one before`);
    before = snippet?.order ?? before;
    if (snippets % step === 0) onChecked?.(snippets, all);
  }
  if (snippets !== count) faults.push(`There are ${snippets} snippets, not the ${count} that were counted`);
  for (const [index, hash] of hashes.entries()) {
    const bytes = await readable(() => rows.findMedia(hash), 'A picture');
    if (bytes && hashOf(bytes) !== hash) faults.push(`The bytes kept as ${hash.slice(0, 12)}… are not those`);
    if (index % step === 0) onChecked?.(snippets + index, all);
  }
  const actions = await readable(() => rows.actions(), 'The history');
  await readable(() => readSettings(rows));
  return { snippets, pictures: hashes.length, actions: actions?.length ?? 0, faults, isDamaged };
}

/** Every head in order; what cannot be read fails when it is asked for, and the others do not. */
async function* headsOf(rows: StoredRows, count: number): AsyncGenerator<() => Promise<SnippetHead>> {
  for (let from = 0; from < count; from += step) {
    const heads = await several(rows, from);
    if (heads) yield* heads.map((head) => async () => head);
    else for (let at = from; at < Math.min(count, from + step); at++) yield () => one(rows, at);
  }
}

async function several(rows: StoredRows, from: number): Promise<readonly SnippetHead[] | undefined> {
  try {
    return await rows.heads(from, step);
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
  }
}

async function one(rows: StoredRows, at: number): Promise<SnippetHead> {
  const [head] = await rows.heads(at, 1);
  if (!head) throw new DrawerError({ code: 'damaged', what: 'It is counted, but not there' });
  return head;
}
