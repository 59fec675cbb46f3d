import { closeSync, copyFileSync, existsSync, openSync, readSync, rmSync, statSync, truncateSync } from 'node:fs';
import Database from 'libsql';
import { DrawerError, parseWith } from '../../content/index.ts';
import { findable, hashesOf, hashOf, settingsSchema } from '../../drawer/index.ts';
import { busyTimeout, claim, createFile, filesOf, identityOf, replaceDamaged, rescuedName } from './file.ts';
import { FullTextIndex } from './full-text-index.ts';
import { History } from './history.ts';
import type { RescueOptions } from './index.ts';
import { openLock, parseLock, plaintext, type ValueEncryption } from './lock.ts';
import { OrderIndex } from './order-index.ts';
import { RowCache } from './row-cache.ts';
import { SqliteRows } from './rows.ts';
import { schema } from './schema.ts';
import { columnsOf, type SnippetRow, snippetIn } from './snippet-row.ts';

/** The result of rescuing a damaged drawer. */
export interface Rescue {
  /** The number of snippets and pictures that could be read and are in the new drawer. */
  readonly snippets: number;
  readonly pictures: number;
  /** The number of snippets known to be lost. */
  readonly lost: number;
  /** Whether the history is kept; it is if nothing that it refers to is lost. */
  readonly history: boolean;
  /** The path of the damaged file. */
  readonly kept: string;
}

interface RawSnippet extends SnippetRow {
  readonly order: string;
  readonly alike: string;
  readonly expires: string | null;
  readonly bytes: number;
}

/**
 * Replaces a damaged drawer by a new one with the rows that can be read; the damaged file stays beside it. Rows of a locked drawer
 * stay encrypted and are read only with the passphrase. The history is kept if nothing that it may refer to is lost.
 * @throws DrawerError `storage` if nothing can be read; then nothing is changed
 */
export function rescueDrawer(
  path: string,
  { passphrase, file = identityOf(path) }: RescueOptions = {},
): Rescue | undefined {
  if (file === undefined) throw new DrawerError('not-found/drawer-missing', {}, { where: path });
  const release = claim(path);
  try {
    return identityOf(path) === file ? rescueNow(path, passphrase) : undefined;
  } finally {
    release();
  }
}

function rescueNow(path: string, passphrase: string | undefined): Rescue {
  const made = rescuedName(path);
  for (const name of filesOf(made)) rmSync(name, { force: true });
  const source = readableCopy(path, `${path}.copy`);
  const damaged = new Database(source, { timeout: busyTimeout });
  attempt(() => damaged.exec('BEGIN IMMEDIATE')); // writes of others would be lost now
  try {
    const result = makeOf(damaged, made, path, passphrase);
    if (process.platform === 'win32') damaged.close(); // Windows does not rename open files
    return { ...result, kept: replaceDamaged(path) };
  } finally {
    attempt(() => damaged.exec('ROLLBACK')); // or others would wait
    damaged.close(); // SQLite leaves the journal alone, since the file has moved
    if (source !== path) for (const name of filesOf(source)) rmSync(name, { force: true });
  }
}

/** Creates a drawer of the rows that can be read. @throws DrawerError `storage` if there are none */
function makeOf(
  damaged: Database.Database,
  made: string,
  path: string,
  passphrase: string | undefined,
): Omit<Rescue, 'kept'> {
  createFile(made);
  const whole = new Database(made);
  try {
    whole.exec(schema);
    whole.exec('BEGIN');
    const result = copyReadable(damaged, whole, passphrase);
    whole.exec('COMMIT');
    return result;
  } catch (cause) {
    throw new DrawerError('storage/rescue-failed', {}, { where: path, cause });
  } finally {
    whole.close();
  }
}

/** SQLite does not read a truncated file, so a copy gets empty pages for the missing ones. */
function readableCopy(path: string, copy: string): string {
  const header = Buffer.alloc(32);
  const file = openSync(path, 'r');
  readSync(file, header, 0, header.length, 0);
  closeSync(file);
  // SQLite's database header: the page size stands at byte 16 (1 means 65,536), the number of pages at byte 28.
  const pageSize = header.readUInt16BE(16);
  const size = (pageSize === 1 ? 65_536 : pageSize) * header.readUInt32BE(28);
  if (statSync(path).size >= size || size > largest) return path;
  filesOf(path).forEach((name, index) => {
    if (existsSync(name)) copyFileSync(name, filesOf(copy)[index] as string);
  });
  truncateSync(copy, size);
  return copy;
}

/** A damaged header may claim any size, in bytes. */
const largest = 2 ** 36;

function copyReadable(
  damaged: Database.Database,
  whole: Database.Database,
  passphrase: string | undefined,
): Omit<Rescue, 'kept'> {
  const lock = attempt(() => damaged.prepare("SELECT value FROM settings WHERE name = 'lock'").get()) as
    | { value: string }
    | undefined;
  const sealing = sealingOf(lock?.value, passphrase);
  const insert = whole.prepare(
    'INSERT INTO snippet (row, id, "order", alike, expires, bytes, head, content) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
  );
  const finder = new FullTextIndex((sql) => whole.prepare(sql));
  // A statement fails for good once it meets damage, so each row is read by a new one.
  const known = knownRows(damaged);
  if (known.size === 0 && !attempt(() => damaged.prepare('SELECT count(*) FROM snippet').get()))
    throw new Error('no table of snippets');
  let snippets = 0;
  for (const row of known) {
    const found = attempt(() => damaged.prepare('SELECT * FROM snippet WHERE row = ?').get(row)) as
      | RawSnippet
      | undefined;
    const snippet = found && sealing ? attempt(() => snippetIn(found, sealing)) : undefined;
    if (!found || (sealing && !snippet)) continue;
    const { id, head, content } = found;
    const columns = snippet && sealing ? columnsOf(snippet, sealing) : found;
    const { order, alike, expires, bytes } = columns;
    if (!attempt(() => insert.run(row, id, order, alike, expires, bytes, head, content))) continue;
    if (snippet && !lock) finder.add(row, findable(snippet));
    snippets++;
  }
  finder.settle();
  new OrderIndex((sql) => whole.prepare(sql), new RowCache(() => 0)).part();
  whole.exec('UPDATE indexed SET "to" = (SELECT coalesce(max(row), 0) FROM snippet)');
  const pictures = copyMedia(damaged, whole, lock !== undefined);
  for (const name of ['drawer', 'lock']) copySetting(damaged, whole, name, lock !== undefined);
  const lost = known.size - snippets;
  const history = sealing !== undefined && lost === 0 && copyHistory(damaged, whole, sealing);
  if (lock && sealing) new SqliteRows(whole, sealing).putLock(lock.value);
  return { snippets, pictures, lost, history };
}

/** `undefined` if rows are encrypted and the passphrase is unknown. */
function sealingOf(lock: string | undefined, passphrase: string | undefined): ValueEncryption | undefined {
  if (lock === undefined) return plaintext;
  return passphrase === undefined ? undefined : attempt(() => openLock(parseLock(lock), passphrase).sealing);
}

/** Collects row numbers in every possible way: from both ends of the table and from its indexes. */
function knownRows(damaged: Database.Database): ReadonlySet<number> {
  const ways = [
    'SELECT row FROM snippet ORDER BY row',
    'SELECT row FROM snippet ORDER BY row DESC',
    'SELECT row FROM snippet ORDER BY "order"',
    'SELECT row FROM snippet ORDER BY "order" DESC',
    'SELECT row FROM snippet ORDER BY alike',
    'SELECT id AS row FROM finder_docsize',
  ];
  const rows = new Set<number>();
  for (const way of ways)
    attempt(() => {
      for (const { row } of damaged.prepare(way).iterate() as Iterable<{ row: number }>) rows.add(row);
    });
  return rows;
}

function copyMedia(damaged: Database.Database, whole: Database.Database, isSealed: boolean): number {
  const hashes = new Set<string>();
  for (const direction of ['', 'DESC'])
    attempt(() => {
      for (const { hash } of damaged
        .prepare(`SELECT hash FROM media ORDER BY hash ${direction}`)
        .iterate() as Iterable<{
        hash: string;
      }>)
        hashes.add(hash);
    });
  let pictures = 0;
  for (const hash of hashes) {
    const found = attempt(() => damaged.prepare('SELECT bytes FROM media WHERE hash = ?').get(hash)) as
      | { bytes: Uint8Array }
      | undefined;
    if (!found || (!isSealed && hashOf(found.bytes) !== hash)) continue;
    whole.prepare('INSERT INTO media (hash, bytes) VALUES (?, ?)').run(hash, found.bytes);
    pictures++;
  }
  return pictures;
}

function copySetting(damaged: Database.Database, whole: Database.Database, name: string, isSealed: boolean): void {
  const found = attempt(() => damaged.prepare('SELECT value FROM settings WHERE name = ?').get(name)) as
    | { value: string }
    | undefined;
  const isGood = found && (isSealed || attempt(() => parseWith(settingsSchema, JSON.parse(found.value), 'settings')));
  if (isGood) whole.prepare('INSERT INTO settings (name, value) VALUES (?, ?)').run(name, found.value);
}

/** Copies all actions, or none if one cannot be read or refers to lost bytes. Returns whether they were copied. */
function copyHistory(damaged: Database.Database, whole: Database.Database, sealing: ValueEncryption): boolean {
  const actions = attempt(() => new History((sql) => damaged.prepare(sql), new RowCache(() => 0), sealing).all());
  const has = whole.prepare('SELECT 1 FROM media WHERE hash = ?');
  if (!actions?.flatMap(hashesOf).every((hash) => has.get(hash))) return false;
  const rows = damaged.prepare('SELECT number, state, name, at, changes, files, reshapes FROM action').all() as Record<
    string,
    string | number | null
  >[];
  const insert = whole.prepare(
    'INSERT INTO action (number, state, name, at, changes, files, reshapes) VALUES (?, ?, ?, ?, ?, ?, ?)',
  );
  for (const { number, state, name, at, changes, files, reshapes } of rows)
    insert.run([number, state, name, at, changes, files, reshapes]);
  return true;
}

/** The result of a call; `undefined` if damage stops it. */
function attempt<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}
