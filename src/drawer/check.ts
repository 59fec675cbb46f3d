import { DrawerError, picturesIn } from '../content/index.ts';
import { hashOf } from './file-change.ts';
import type { StoredRows } from './storage.ts';

/** What was looked over, and what is wrong with it. */
export interface Check {
  readonly snippets: number;
  readonly pictures: number;
  readonly actions: number;
  /** Whole sentences without their full stop; none where all is well. */
  readonly faults: readonly string[];
}

const step = 500;

/** Reads everything: that each snippet is valid and in order, each picture there and itself, and the counts right. */
export async function checkRows(rows: StoredRows, onChecked?: (done: number, all: number) => void): Promise<Check> {
  const faults = [...(await rows.faults())];
  const count = await rows.count();
  const hashes = await rows.mediaHashes();
  const known = new Set(hashes);
  const all = count + hashes.length;
  let before = '';
  let snippets = 0;
  for (let from = 0; from < count; from += step) {
    for (const { id, order } of await rows.heads(from, step)) {
      snippets++;
      const fault = await snippetFault(rows, id, known);
      if (fault) faults.push(`Snippet ${snippets}: ${fault}`);
      if (order <= before) faults.push(`Snippet ${snippets}: its order key is not above the one before`);
      before = order;
    }
    onChecked?.(snippets, all);
  }
  if (snippets !== count) faults.push(`There are ${snippets} snippets, not the ${count} that were counted`);
  for (const [index, hash] of hashes.entries()) {
    const bytes = await rows.findMedia(hash);
    if (!bytes || hashOf(bytes) !== hash) faults.push(`The bytes kept as ${hash.slice(0, 12)}… are not those`);
    if (index % step === 0) onChecked?.(snippets + index, all);
  }
  return { snippets, pictures: hashes.length, actions: (await actionsOf(rows, faults)).length, faults };
}

async function snippetFault(rows: StoredRows, id: string, known: ReadonlySet<string>): Promise<string | undefined> {
  try {
    const { content } = await rows.get(id);
    for (const { media } of picturesIn(content)) if (!known.has(media)) return 'a picture of it is missing';
    return undefined;
  } catch (error) {
    if (DrawerError.is(error)) return error.details.what;
    throw error;
  }
}

async function actionsOf(rows: StoredRows, faults: string[]): Promise<readonly unknown[]> {
  try {
    return await rows.actions();
  } catch (error) {
    if (!DrawerError.is(error)) throw error;
    faults.push(`The history: ${error.details.what}`);
    return [];
  }
}
