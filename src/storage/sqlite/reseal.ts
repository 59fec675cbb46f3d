import type Database from 'libsql';
import { associatedData, type ValueEncryption } from './lock.ts';
import { SqliteRows } from './rows.ts';

/** The encrypted columns of each table, and the column that identifies a row. */
const tables = [
  { table: 'snippet', key: 'id', columns: ['head', 'content'] },
  { table: 'action', key: 'number', columns: ['name', 'changes', 'files'] },
  { table: 'media', key: 'hash', columns: ['bytes'] },
  { table: 'settings', key: 'name', columns: ['value'] },
  { table: 'note', key: 'name', columns: ['value'] },
] as const;

/** Rewrites all values of a drawer and sets or removes its lock (as JSON). Returns the new rows. */
export function reseal(
  database: Database.Database,
  before: ValueEncryption,
  after: ValueEncryption,
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
