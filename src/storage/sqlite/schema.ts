import type Database from 'libsql';
import { DrawerError } from '../../content/index.ts';

/** Marks a SQLite file as a drawer (`PRAGMA application_id`): the letters `Drwr`. */
export const applicationId = 0x44727772;

/** Rises with every change of the tables. */
export const schemaVersion = 9;

/**
 * Rows are numbered by when their snippets were taken, so that the newest come first from the index of words. Summaries (`head`) stand
 * before contents, so that a list reads no content; large contents lie on pages of their own. `alike` is a digest of what a
 * list shows of one.
 */
const snippets = `
  CREATE TABLE snippet (
    row INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    "order" TEXT NOT NULL,
    alike TEXT NOT NULL,
    expires TEXT,
    bytes INTEGER NOT NULL,
    head TEXT NOT NULL,
    content TEXT NOT NULL
  );
  CREATE INDEX snippet_order ON snippet ("order", bytes);
  CREATE INDEX snippet_alike ON snippet (alike);
  CREATE INDEX snippet_expires ON snippet (expires) WHERE expires IS NOT NULL;
`;

/**
 * Shelves count the snippets of a stretch of order keys each, from `first` to the next one's, and their bytes, so that
 * neither positions nor the number of snippets are found by reading rows. The last one is open: it holds no counts, so that
 * what is kept at the end writes none; what stands there is counted by its index when that is asked.
 */
const shelves = `
  CREATE TABLE shelf (first TEXT PRIMARY KEY, snippets INTEGER, bytes INTEGER) WITHOUT ROWID;
`;

/**
 * The words of snippets as they are compared, under the rows' numbers; the texts themselves are not kept twice, so a row is
 * deleted by telling its words again. Words of labels, origins and kinds stand there once more behind a sign of their own
 * (`finder.ts` says which), so that looking there costs no more than looking anywhere. The table of words holds every word once, for
 * parts of words and typos. Rows behind the number in `indexed` are not in it yet.
 */
const words = `
  CREATE VIRTUAL TABLE finder USING fts5(words, content = '', prefix = '1 2 3 4', tokenize = 'ascii');
  CREATE TABLE word (word TEXT PRIMARY KEY) WITHOUT ROWID;
`;
const reach = `
  CREATE TABLE indexed ("to" INTEGER NOT NULL);
`;

const pictures = `
  CREATE TABLE pictures (bytes INTEGER NOT NULL);
  CREATE TRIGGER media_added AFTER INSERT ON media BEGIN UPDATE pictures SET bytes = bytes + length(NEW.bytes); END;
  CREATE TRIGGER media_removed AFTER DELETE ON media BEGIN UPDATE pictures SET bytes = bytes - length(OLD.bytes); END;
`;

export const schema = `
  ${snippets}
  ${shelves}
  INSERT INTO shelf VALUES ('', NULL, NULL);
  ${words}
  ${reach}
  INSERT INTO indexed VALUES (0);
  CREATE TABLE media (hash TEXT PRIMARY KEY, bytes BLOB NOT NULL) WITHOUT ROWID;
  ${pictures}
  INSERT INTO pictures VALUES (0);
  CREATE TABLE action (
    number INTEGER PRIMARY KEY,
    state TEXT NOT NULL CHECK (state IN ('done', 'undone')),
    name TEXT NOT NULL,
    at TEXT NOT NULL,
    changes TEXT NOT NULL,
    files TEXT,
    reshapes INTEGER
  );
  CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
  PRAGMA application_id = ${applicationId};
  PRAGMA user_version = ${schemaVersion};
`;

/** What a drawer's file has to have: tables, indexes and triggers. */
export const schemaNames = (): readonly string[] =>
  [...schema.matchAll(/CREATE (?:VIRTUAL )?(?:TABLE|INDEX|TRIGGER) (\w+)/g)].map(([, name]) => name as string);

/** What brings a drawer of an older version to the next, by the version it has. */
export const upgrades: Readonly<Record<number, string>> = {
  1: `
    ALTER TABLE action ADD COLUMN files TEXT;
    CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
    PRAGMA user_version = 2;
  `,
  // Its snippets wait in `snippet_2`, from where they are written anew.
  2: `
    DROP TRIGGER snippet_added;
    DROP TRIGGER snippet_removed;
    DROP TABLE total;
    DROP INDEX snippet_order;
    ALTER TABLE snippet RENAME TO snippet_2;
    ${snippets}
    ${shelves}
    INSERT INTO shelf VALUES ('', NULL, NULL);
    ${words}
    ${reach}
    INSERT INTO indexed VALUES (0);
    ${pictures}
    INSERT INTO pictures SELECT coalesce(sum(length(bytes)), 0) FROM media;
    ALTER TABLE action ADD COLUMN reshapes INTEGER;
    PRAGMA user_version = 5;
  `,
  3: `
    DROP TRIGGER snippet_added;
    DROP TRIGGER snippet_removed;
    DROP TRIGGER snippet_moved;
    DROP TRIGGER snippet_resized;
    DROP TRIGGER media_added;
    DROP TRIGGER media_removed;
    DROP TABLE total;
    DROP INDEX snippet_order;
    CREATE INDEX snippet_order ON snippet ("order", bytes);
    ALTER TABLE shelf RENAME TO shelf_3;
    ${shelves}
    INSERT INTO shelf
      SELECT first, snippets, (SELECT sum(bytes) FROM snippet WHERE "order" >= first AND "order" < next)
      FROM (SELECT first, snippets, lead(first) OVER (ORDER BY first) AS next FROM shelf_3) WHERE next IS NOT NULL
      UNION ALL SELECT max(first), NULL, NULL FROM shelf_3;
    DROP TABLE shelf_3;
    ${reach}
    INSERT INTO indexed SELECT coalesce(max(row), 0) FROM snippet;
    ${pictures}
    INSERT INTO pictures SELECT coalesce(sum(length(bytes)), 0) FROM media;
    ALTER TABLE action ADD COLUMN reshapes INTEGER;
    PRAGMA user_version = 4;
  `,
  // What is in `alike` is written anew.
  4: 'PRAGMA user_version = 5',
  // Summaries may tell a language from here on, tables a value and ranges that they have no types, which older programs refuse.
  5: 'PRAGMA user_version = 6',
  // Ranges may have gaps, and changes of files have marks, which older programs refuse.
  6: 'PRAGMA user_version = 7',
  // Locked drawers have a mark of all their rows, which older programs would not renew.
  7: 'PRAGMA user_version = 8',
  // Kinds stand where English words did, and the index names every origin of a snippet: it is made anew, as time allows.
  8: `
    INSERT INTO finder (finder) VALUES ('delete-all');
    DELETE FROM word;
    UPDATE indexed SET "to" = 0;
    PRAGMA user_version = 9;
  `,
};

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
