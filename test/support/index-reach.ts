import Database from 'libsql';

/**
 * Says in a drawer's file that the words of all taken up to a moment (in milliseconds; without it, ever) are in the index, so
 * that those kept from now on go into it at once. Otherwise few wait, and are found by reading.
 */
export function indexUpTo(path: string, moment = Number.MAX_SAFE_INTEGER / 1000): void {
  const database = new Database(path);
  database.prepare('UPDATE indexed SET "to" = ?').run(Math.floor(moment * 1000));
  database.close();
}

/** How many snippets' words are in the index of a drawer's file. */
export function indexedCount(path: string): number {
  const database = new Database(path);
  const { count } = database.prepare('SELECT count(*) AS count FROM finder_docsize').get() as { count: number };
  database.close();
  return count;
}
