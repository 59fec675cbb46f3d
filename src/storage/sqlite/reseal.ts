import type Database from 'libsql';
import { associatedData, type Encryption } from './lock.ts';
import { SqliteRows } from './rows.ts';

/** Every table's values that are sealed in a locked drawer, by the column that names the row. */
const tables = [
  { table: 'snippet', key: 'id', columns: ['head', 'content'] },
  { table: 'action', key: 'number', columns: ['name', 'changes', 'files'] },
  { table: 'media', key: 'hash', columns: ['bytes'] },
  { table: 'settings', key: 'name', columns: ['value'] },
] as const;

/** Writes all that a drawer holds anew, and puts the lock (as JSON) on it or takes it off; gives its rows as they are now. */
export function reseal(
  database: Database.Database,
  before: Encryption,
  after: Encryption,
  lock: string | undefined,
): SqliteRows {
  database.exec("DELETE FROM settings WHERE name IN ('lock', 'whole')");
  for (const { table, key, columns } of tables) {
    const set = columns.map((column) => `"${column}" = ?`).join(', ');
    const update = database.prepare(`UPDATE ${table} SET ${set} WHERE ${key} = ?`);
    const read = database.prepare(`SELECT * FROM ${table} WHERE ${key} = ?`);
    for (const { name } of database.prepare(`SELECT ${key} AS name FROM ${table}`).all() as {
      name: string | number;
    }[]) {
      const row = read.get(name) as Record<string, string | Uint8Array | null>;
      const values = columns.map((column) => {
        const value = row[column] ?? null;
        const place = associatedData(table, column, name);
        if (typeof value === 'string') return after.sealText(before.openText(value, place), place);
        return value && after.seal(before.open(value, place), place);
      });
      update.run(...values, name);
    }
  }
  const rows = new SqliteRows(database, after);
  rows.rebuild();
  if (lock !== undefined) rows.putLock(lock);
  return rows;
}
