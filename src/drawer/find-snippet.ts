import { DrawerError } from '../content/index.ts';
import type { Snippet } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** The snippet, where it is still there. */
export async function findSnippet(rows: StoredRows, id: string): Promise<Snippet | undefined> {
  try {
    return await rows.get(id);
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'not-found') return undefined;
    throw error;
  }
}
