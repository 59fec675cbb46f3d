import type Database from 'libsql';
import { DrawerError } from '../../content/index.ts';
import { schema } from './schema.ts';

interface Entry {
  readonly type: string;
  readonly name: string;
  readonly sql: string | null;
}

/** What stands in a drawer's file, by its name: how it was made, where that says what it does by itself. */
let known: ReadonlyMap<string, string> | undefined;

const statements = /CREATE (?:VIRTUAL )?(TABLE|INDEX|TRIGGER) (\w+)[\s\S]*?;(?=\s*(?:CREATE|INSERT|PRAGMA|$))/g;
/** The tables that FTS5 makes for itself (without `content`, which this index has not). */
const indexTables = ['data', 'idx', 'docsize', 'config'];

function knownEntries(): ReadonlyMap<string, string> {
  if (known) return known;
  const entries = new Map<string, string>();
  for (const [sql, type = '', name = ''] of schema.matchAll(statements)) {
    entries.set(`${type.toLowerCase()} ${name}`, actsByItself(type, sql) ? normalised(sql) : '');
    if (sql.includes('USING fts5')) for (const each of indexTables) entries.set(`table ${name}_${each}`, '');
  }
  known = entries;
  return entries;
}

/** Of a plain table or an index only the name matters: what older versions made has other words. */
const actsByItself = (type: string, sql: string): boolean => type === 'TRIGGER' || /^CREATE VIRTUAL/.test(sql);

const normalised = (sql: string): string => sql.replace(/;\s*$/, '').replace(/\s+/g, ' ').trim();

/**
 * A drawer may come from anybody, and a trigger, a view or a table that is not ours could make it do what nobody asked for.
 * @throws DrawerError `damaged` for one that holds anything but what every drawer does
 */
export function checkOwnSchema(database: Database.Database): void {
  const found = database.prepare('SELECT type, name, sql FROM sqlite_schema').all() as Entry[];
  for (const { type, name, sql } of found) {
    const made = knownEntries().get(`${type} ${name}`);
    const isOurs = sql === null ? /^sqlite_autoindex_/.test(name) : made === '' || made === normalised(sql);
    if (!isOurs) throw new DrawerError('damaged/drawer-has-foreign-parts', { name, type });
  }
}
