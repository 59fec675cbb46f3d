import type Database from 'libsql';

/** What a pragma gives that gives one number. */
export const numberOf = (database: Database.Database, pragma: string): number => {
  const row = database.prepare(`PRAGMA ${pragma}`).get() as Record<string, number> | undefined;
  return row?.[pragma] ?? 0;
};

/** Which tables a drawer's file has; 0 where it is new. */
export const versionOf = (database: Database.Database): number => numberOf(database, 'user_version');
