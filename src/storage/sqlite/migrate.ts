import { closeSync, existsSync, fsyncSync, openSync, renameSync, rmSync } from 'node:fs';
import Database from 'libsql';
import { parseWith } from '../../content/index.ts';
import { snippetSchema } from '../../drawer/index.ts';
import { versionOf } from './file.ts';
import { SqliteRows } from './rows.ts';
import { checkOwnSchema, schema, upgrades } from './schema.ts';

/** The path of the copy that stays when a drawer of an older version is migrated. */
export const copyOf = (path: string, version: number): string => `${path}.version-${version}`;

/** Creates or migrates the tables. If several processes try at once, one does it and the others wait. */
export function migrate(database: Database.Database, path: string): void {
  database.exec('BEGIN IMMEDIATE');
  try {
    const version = versionOf(database);
    if (version === 0) database.exec(schema);
    else if (version in upgrades) keepCopy(path, version);
    for (let upgrade = upgrades[version]; upgrade; upgrade = upgrades[versionOf(database)]) database.exec(upgrade);
    moveRows(database);
    if (version === 3 || version === 4) renewLooks(database);
    checkOwnSchema(database);
    database.exec('COMMIT');
  } catch (error) {
    if (database.inTransaction) database.exec('ROLLBACK');
    throw error;
  }
}

/**
 * Keeps a copy of an older drawer beside the migrated one. Nobody writes meanwhile. The copy gets its name when it is complete, and
 * an incomplete one is replaced.
 */
function keepCopy(path: string, version: number): void {
  const copy = copyOf(path, version);
  if (existsSync(copy)) return;
  const begun = `${copy}.part`;
  rmSync(begun, { force: true });
  try {
    copyWhole(path, begun);
    renameSync(begun, copy);
  } finally {
    rmSync(begun, { force: true }); // exists only after a failure, such as a full disk
  }
}

function copyWhole(path: string, to: string): void {
  const file = openSync(to, 'wx', 0o600);
  const reader = new Database(path); // the writing connection cannot copy during its transaction
  try {
    reader.prepare('VACUUM INTO ?').run(to);
    fsyncSync(file);
  } finally {
    reader.close();
    closeSync(file);
  }
}

/** Encrypted values stay as they are. */
function renewLooks(database: Database.Database): void {
  const rows = new SqliteRows(database);
  if (rows.findLock() === undefined) rows.renewLooks();
}

/** Rewrites the snippets of an older version with the keys that are stored beside them now. */
function moveRows(database: Database.Database): void {
  if (!database.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'snippet_2'").get()) return;
  const rows = new SqliteRows(database);
  const old = database.prepare('SELECT head, content FROM snippet_2 ORDER BY "order"').all() as {
    head: string;
    content: string;
  }[];
  for (const { head, content } of old) {
    const stored = { ...JSON.parse(head), content: JSON.parse(content) };
    rows.add(parseWith(snippetSchema, stored, 'snippet'));
  }
  rows.catchUp(old.length);
  database.exec('DROP TABLE snippet_2');
}
