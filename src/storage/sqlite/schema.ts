/** Marks a SQLite file as a drawer (`PRAGMA application_id`): the letters `Drwr`. */
export const applicationId = 0x44727772;

/** Rises with every change of the tables. */
export const schemaVersion = 2;

/**
 * Heads stand before contents, so that a list reads no content; large contents lie on pages of their own. Positions come
 * from the index of order keys alone, and their number is kept, since counting rows reads them.
 */
export const schema = `
  CREATE TABLE snippet (
    id TEXT NOT NULL UNIQUE,
    "order" TEXT NOT NULL,
    head TEXT NOT NULL,
    content TEXT NOT NULL
  );
  CREATE UNIQUE INDEX snippet_order ON snippet ("order");
  CREATE TABLE total (snippets INTEGER NOT NULL);
  INSERT INTO total VALUES (0);
  CREATE TRIGGER snippet_added AFTER INSERT ON snippet BEGIN UPDATE total SET snippets = snippets + 1; END;
  CREATE TRIGGER snippet_removed AFTER DELETE ON snippet BEGIN UPDATE total SET snippets = snippets - 1; END;
  CREATE TABLE media (hash TEXT PRIMARY KEY, bytes BLOB NOT NULL) WITHOUT ROWID;
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
};
