import type Database from 'libsql';
import { DrawerError } from '../../content/index.ts';

/** Marks a SQLite file as a drawer (`PRAGMA application_id`): the letters `Drwr`. */
export const applicationId = 0x44727772;

/** The version of the tables; increases with every change of them. */
export const schemaVersion = 10;

/**
 * Rows are numbered in the order in which snippets were gathered, so that the full-text index returns the newest first. Summaries
 * (`head`) precede contents, so that a list reads no content; large contents have pages of their own. `alike` is a digest of what
 * a list shows.
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
  CREATE INDEX snippet_order ON snippet ("order", id, bytes);
  CREATE INDEX snippet_alike ON snippet (alike);
  CREATE INDEX snippet_expires ON snippet (expires) WHERE expires IS NOT NULL;
`;

/**
 * Each shelf counts the snippets with order keys from `first` up to the next shelf's, and their bytes, so that positions and totals
 * need no reading of rows. The last shelf is open: it has no counts, so that keeping at the end writes none; its snippets are
 * counted by their index when needed.
 */
const shelves = `
  CREATE TABLE shelf (first TEXT PRIMARY KEY, snippets INTEGER, bytes INTEGER) WITHOUT ROWID;
`;

/**
 * The folded words of snippets by row number. The texts are not stored twice, so deleting a row needs its words again. Words of
 * labels, origins and kinds occur a second time with a sign of their own (`signs` in `full-text-index.ts`), so that searching only
 * there costs no more. The table of words contains every word once, for parts of words and typos. Rows after the number in
 * `indexed` are not in it yet.
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

const notes = `
  CREATE TABLE note (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
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
  ${notes}
  PRAGMA application_id = ${applicationId};
  PRAGMA user_version = ${schemaVersion};
`;

/** The tables, indexes and triggers of a drawer. */
export const schemaNames = (): readonly string[] =>
  [...schema.matchAll(/CREATE (?:VIRTUAL )?(?:TABLE|INDEX|TRIGGER) (\w+)/g)].map(([, name]) => name as string);

/** Migrations to the next version, by the version they start from. */
export const upgrades: Readonly<Record<number, string>> = {
  1: `
    ALTER TABLE action ADD COLUMN files TEXT;
    CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
    PRAGMA user_version = 2;
  `,
  // Its snippets wait in `snippet_2` to be rewritten.
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
  // `alike` is rewritten.
  4: 'PRAGMA user_version = 5',
  // From here on, summaries may have a language, tables values, and ranges no types; older programs refuse these.
  5: 'PRAGMA user_version = 6',
  // Ranges may have gaps, and file changes have marks; older programs refuse these.
  6: 'PRAGMA user_version = 7',
  // Locked drawers have a mark of all rows, which older programs would not update.
  7: 'PRAGMA user_version = 8',
  // Kinds replace English words, and the index contains every origin of a snippet; it is rebuilt over time.
  8: `
    INSERT INTO finder (finder) VALUES ('delete-all');
    DELETE FROM word;
    UPDATE indexed SET "to" = 0;
    PRAGMA user_version = 9;
  `,
  // Snippets with the same order key are sorted by their ids, and programs may keep notes.
  9: `
    DROP INDEX snippet_order;
    CREATE INDEX snippet_order ON snippet ("order", id, bytes);
    ${notes}
    PRAGMA user_version = 10;
  `,
};

interface Entry {
  readonly type: string;
  readonly name: string;
  readonly sql: string | null;
}

/** The schema of a drawer by name, with its SQL where that matters. */
let known: ReadonlyMap<string, string> | undefined;

const statements = /CREATE (?:VIRTUAL )?(TABLE|INDEX|TRIGGER) (\w+)[\s\S]*?;(?=\s*(?:CREATE|INSERT|PRAGMA|$))/g;
/** The tables that FTS5 creates for itself (this index has no `content`). */
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

/** For plain tables and indexes only the name matters, because older versions used other SQL. */
const actsByItself = (type: string, sql: string): boolean => type === 'TRIGGER' || /^CREATE VIRTUAL/.test(sql);

const normalised = (sql: string): string => sql.replace(/;\s*$/, '').replace(/\s+/g, ' ').trim();

/**
 * Checks the schema. A drawer may come from anybody, and a foreign trigger, view or table could do harm.
 * @throws DrawerError `damaged` if it contains anything but the schema of a drawer
 */
export function checkOwnSchema(database: Database.Database): void {
  const found = database.prepare('SELECT type, name, sql FROM sqlite_schema').all() as Entry[];
  for (const { type, name, sql } of found) {
    const made = knownEntries().get(`${type} ${name}`);
    const isOurs = sql === null ? /^sqlite_autoindex_/.test(name) : made === '' || made === normalised(sql);
    if (!isOurs) throw new DrawerError('damaged/drawer-has-foreign-parts', { name, type });
  }
}
