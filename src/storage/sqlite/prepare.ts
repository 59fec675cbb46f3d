import type Database from 'libsql';

/** A statement, prepared on first use and kept. */
export type Prepare = (sql: string) => Database.Statement;
