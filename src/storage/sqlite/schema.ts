/** Marks a SQLite file as a drawer (`PRAGMA application_id`): the letters `Drwr`. */
export const applicationId = 0x44727772;

/** Rises with every change of the tables. */
export const schemaVersion = 3;

/**
 * Rows are numbered by when their snippets were taken, so that the newest come first from the index of words. Heads stand
 * before contents, so that a list reads no content; large contents lie on pages of their own.
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
  CREATE INDEX snippet_order ON snippet ("order");
  CREATE INDEX snippet_alike ON snippet (alike);
  CREATE INDEX snippet_expires ON snippet (expires) WHERE expires IS NOT NULL;
`;

/**
 * Shelves count the snippets of a stretch of order keys each, from \`first\` to the next one's, so that neither positions nor
 * the number of snippets are found by reading rows.
 */
const counts = `
  CREATE TABLE shelf (first TEXT PRIMARY KEY, snippets INTEGER NOT NULL) WITHOUT ROWID;
  INSERT INTO shelf VALUES ('', 0);
  CREATE TABLE total (bytes INTEGER NOT NULL);
  INSERT INTO total VALUES (0);
  CREATE TRIGGER snippet_added AFTER INSERT ON snippet BEGIN
    UPDATE total SET bytes = bytes + NEW.bytes;
    UPDATE shelf SET snippets = snippets + 1 WHERE first = (SELECT max(first) FROM shelf WHERE first <= NEW."order");
  END;
  CREATE TRIGGER snippet_removed AFTER DELETE ON snippet BEGIN
    UPDATE total SET bytes = bytes - OLD.bytes;
    UPDATE shelf SET snippets = snippets - 1 WHERE first = (SELECT max(first) FROM shelf WHERE first <= OLD."order");
  END;
  CREATE TRIGGER snippet_moved AFTER UPDATE OF "order" ON snippet WHEN OLD."order" <> NEW."order" BEGIN
    UPDATE shelf SET snippets = snippets - 1 WHERE first = (SELECT max(first) FROM shelf WHERE first <= OLD."order");
    UPDATE shelf SET snippets = snippets + 1 WHERE first = (SELECT max(first) FROM shelf WHERE first <= NEW."order");
  END;
  CREATE TRIGGER snippet_resized AFTER UPDATE OF bytes ON snippet BEGIN
    UPDATE total SET bytes = bytes + NEW.bytes - OLD.bytes;
  END;
`;

/**
 * The words of snippets as they are compared, under the rows' numbers; the texts themselves are not kept twice, so a row is
 * deleted by telling its words again. Words of labels, origins and kinds stand there once more behind a sign of their own
 * (`finder.ts` says which), so that looking there costs no more than looking anywhere. The table of words holds every word once, for
 * parts of words and slips.
 */
const words = `
  CREATE VIRTUAL TABLE finder USING fts5(words, content = '', prefix = '1 2 3 4', tokenize = 'ascii');
  CREATE TABLE word (word TEXT PRIMARY KEY) WITHOUT ROWID;
`;

const pictures = `
  CREATE TRIGGER media_added AFTER INSERT ON media BEGIN UPDATE total SET bytes = bytes + length(NEW.bytes); END;
  CREATE TRIGGER media_removed AFTER DELETE ON media BEGIN UPDATE total SET bytes = bytes - length(OLD.bytes); END;
`;

export const schema = `
  ${snippets}
  ${counts}
  ${words}
  CREATE TABLE media (hash TEXT PRIMARY KEY, bytes BLOB NOT NULL) WITHOUT ROWID;
  ${pictures}
  CREATE TABLE action (
    number INTEGER PRIMARY KEY,
    state TEXT NOT NULL CHECK (state IN ('done', 'undone')),
    name TEXT NOT NULL,
    at TEXT NOT NULL,
    changes TEXT NOT NULL,
    files TEXT
  );
  CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
  PRAGMA application_id = ${applicationId};
  PRAGMA user_version = ${schemaVersion};
`;

/** What brings a drawer of an older version to the next, by the version it has. */
export const upgrades: Readonly<Record<number, string>> = {
  1: `
    ALTER TABLE action ADD COLUMN files TEXT;
    CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
    PRAGMA user_version = 2;
  `,
  // Its snippets wait in \`snippet_2\`, from where the rows of version 3 are written.
  2: `
    DROP TRIGGER snippet_added;
    DROP TRIGGER snippet_removed;
    DROP TABLE total;
    DROP INDEX snippet_order;
    ALTER TABLE snippet RENAME TO snippet_2;
    ${snippets}
    ${counts}
    UPDATE total SET bytes = (SELECT coalesce(sum(length(bytes)), 0) FROM media);
    ${words}
    ${pictures}
    PRAGMA user_version = 3;
  `,
};
