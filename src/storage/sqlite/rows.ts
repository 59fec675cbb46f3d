import type Database from 'libsql';
import { DrawerError, parseWith, plainText } from '../../content/index.ts';
import {
  type Action,
  changesSchema,
  type Facts,
  fileChangesSchema,
  findable,
  foldWords,
  headSchema,
  noSnippet,
  picturesOf,
  type Query,
  type Snippet,
  type SnippetHead,
  searchThrough,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';
import { Finder } from './finder.ts';
import type { Seal } from './lock.ts';
import { Shelves } from './shelves.ts';

/** Text, or the same sealed and in Base64 where the drawer is locked. */
type Stored = string;

interface HeadRow {
  readonly id: string;
  readonly head: Stored;
}
interface SnippetRow extends HeadRow {
  readonly content: Stored;
}
interface PlacedRow extends HeadRow {
  readonly row: number;
}
interface ActionRow extends Omit<Action, 'name' | 'changes' | 'files'> {
  readonly name: Stored;
  readonly changes: Stored;
  readonly files: Stored | null;
}

/** The rows of an open database; statements are prepared on first use and kept. */
export class SqliteRows implements WritableRows {
  readonly #database: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();
  readonly #shelves = new Shelves((sql) => this.#prepare(sql));
  readonly #finder = new Finder((sql) => this.#prepare(sql));
  /** Whether something was erased that journals may still hold. */
  erased = false;
  /** Seals all that is written, and opens all that is read, where the drawer is locked. */
  #seal: Seal | undefined;

  constructor(database: Database.Database, seal?: Seal) {
    this.#database = database;
    this.#seal = seal;
  }

  /** The lock that the drawer has, as JSON. */
  findLock(): string | undefined {
    return this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'lock'")?.value;
  }

  /** Writes everything anew, sealed or in the clear. Words are not indexed while they are sealed. */
  reseal(seal: Seal | undefined, lock: string | undefined): void {
    const before = this.#seal;
    const open = (stored: string, place: string): string => (before ? before.openText(stored, place) : stored);
    const put = (clear: string, place: string): string => (seal ? seal.sealText(clear, place) : clear);
    const openBytes = (stored: Uint8Array, place: string): Uint8Array => (before ? before.open(stored, place) : stored);
    const putBytes = (clear: Uint8Array, place: string): Uint8Array => (seal ? seal.seal(clear, place) : clear);
    const rewrite = (table: string, key: string, columns: readonly string[]): void => {
      const named = columns.map((column) => `"${column}"`);
      const update = this.#prepare(
        `UPDATE ${table} SET ${named.map((column) => `${column} = ?`).join(', ')} WHERE ${key} = ?`,
      );
      const keys = this.#prepare(`SELECT ${key} AS key FROM ${table}`).all() as { key: string | number }[];
      for (const { key: value } of keys) {
        const row = this.#one<Record<string, string | Uint8Array | null>>(
          `SELECT ${named.join(', ')} FROM ${table} WHERE ${key} = ?`,
          value,
        );
        const values = columns.map((column) => {
          const stored = row?.[column] ?? null;
          const place = `${table}.${column}:${value}`;
          if (typeof stored === 'string') return put(open(stored, place), place);
          return stored && putBytes(openBytes(stored, place), place);
        });
        update.run(...values, value);
      }
    };
    rewrite('snippet', 'id', ['head', 'content']);
    rewrite('action', 'number', ['name', 'changes', 'files']);
    rewrite('media', 'hash', ['bytes']);
    this.#database.exec("DELETE FROM settings WHERE name = 'lock'");
    rewrite('settings', 'name', ['value']);
    if (lock !== undefined) this.#prepare("INSERT INTO settings (name, value) VALUES ('lock', ?)").run(lock);
    this.#seal = seal;
    this.#database.exec(
      `INSERT INTO finder (finder) VALUES ('delete-all');
       DELETE FROM word;
       UPDATE total SET bytes = (SELECT coalesce(sum(bytes), 0) FROM snippet) + (SELECT coalesce(sum(length(bytes)), 0) FROM media)`,
    );
    for (const { row, id } of this.#prepare('SELECT row, id FROM snippet').all() as { row: number; id: string }[]) {
      const snippet = this.#get(id);
      this.#prepare('UPDATE snippet SET alike = ? WHERE row = ?').run(this.#alike(snippet.facts), row);
      if (!seal) this.#finder.add(row, findable(snippet));
    }
  }

  #told(head: SnippetHead): readonly [Stored] {
    return [this.#write(JSON.stringify(head), `snippet.head:${head.id}`)];
  }

  #write(words: string, place: string): Stored {
    return this.#seal ? this.#seal.sealText(words, place) : words;
  }

  #read(stored: Stored, place: string): string {
    return this.#seal ? this.#seal.openText(stored, place) : stored;
  }

  #alike(facts: Facts): string {
    const look = alikeKey(facts);
    return this.#seal ? this.#seal.digest(look) : look;
  }

  #columns({ order, facts, expiresAt }: SnippetHead) {
    return [order, this.#alike(facts), expiresAt ?? null, facts.bytes] as const;
  }

  async count(): Promise<number> {
    return this.#shelves.count();
  }

  async countBefore(order: string): Promise<number> {
    return this.#shelves.countBefore(order);
  }

  async bytes(): Promise<number> {
    return this.#one<{ bytes: number }>('SELECT bytes FROM total')?.bytes ?? 0;
  }

  async heads(offset: number, limit: number): Promise<readonly SnippetHead[]> {
    if (limit <= 0) return [];
    const place = this.#shelves.find(Math.max(0, offset));
    if (!place) return [];
    const { first, rest } = place;
    return this.#heads(
      'SELECT id, head FROM snippet WHERE "order" >= ? ORDER BY "order" LIMIT ? OFFSET ?',
      first,
      limit,
      rest,
    );
  }

  async search(query: Query, limit: number): Promise<readonly SnippetHead[]> {
    if (this.#seal) return searchThrough(this.#everySnippet(), query, limit);
    return this.#finder
      .search(query, limit)
      .flatMap((row) => this.#heads('SELECT id, head FROM snippet WHERE row = ?', row));
  }

  async alike(facts: Facts): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT id, head FROM snippet WHERE alike = ? ORDER BY "order"', this.#alike(facts));
  }

  async due(now: string): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT id, head FROM snippet WHERE expires <= ? ORDER BY expires', now);
  }

  #heads(sql: string, ...parameters: unknown[]): SnippetHead[] {
    return (this.#prepare(sql).all(...parameters) as HeadRow[]).map((row) => this.#toHead(row));
  }

  #toHead({ id, head }: HeadRow): SnippetHead {
    return parseWith(headSchema, parseJson(this.#read(head, `snippet.head:${id}`)), 'snippet');
  }

  *#everySnippet(): Generator<Snippet> {
    for (const { id } of this.#prepare('SELECT id FROM snippet').all() as { id: string }[]) yield this.#get(id);
  }

  async get(id: string): Promise<Snippet> {
    return this.#get(id);
  }

  #get(id: string): Snippet {
    const row = this.#one<SnippetRow>('SELECT id, head, content FROM snippet WHERE id = ?', id);
    if (!row) throw noSnippet(id);
    const head = parseJson(this.#read(row.head, `snippet.head:${id}`)) as object;
    const content = parseJson(this.#read(row.content, `snippet.content:${id}`));
    return parseWith(snippetSchema, { ...head, content }, 'snippet');
  }

  async findLast(): Promise<SnippetHead | undefined> {
    return this.#heads('SELECT id, head FROM snippet ORDER BY "order" DESC LIMIT 1')[0];
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const row = this.#one<{ bytes: Uint8Array }>('SELECT bytes FROM media WHERE hash = ?', hash);
    return row && new Uint8Array(this.#seal ? this.#seal.open(row.bytes, `media.bytes:${hash}`) : row.bytes);
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const order =
      which === 'last done' ? "WHERE state = 'done' ORDER BY number DESC" : "WHERE state = 'undone' ORDER BY number";
    const row = this.#one<ActionRow>(`SELECT number, state, name, at, changes, files FROM action ${order} LIMIT 1`);
    return row && this.#toAction(row);
  }

  async actions(): Promise<readonly Action[]> {
    const rows = this.#prepare(
      `SELECT number, state, name, at, changes, files FROM action
       ORDER BY state, CASE state WHEN 'done' THEN -number ELSE number END`,
    ).all() as ActionRow[];
    return rows.map((row) => this.#toAction(row));
  }

  #toAction({ changes, files, number, state, name, at }: ActionRow): Action {
    const read = (stored: Stored, column: string): string => this.#read(stored, `action.${column}:${number}`);
    return {
      number,
      state,
      name: read(name, 'name'),
      at,
      changes: parseWith(changesSchema, parseJson(read(changes, 'changes')), 'history'),
      ...(files !== null && { files: parseWith(fileChangesSchema, parseJson(read(files, 'files')), 'history') }),
    };
  }

  async insert(snippet: Snippet): Promise<void> {
    this.add(snippet);
  }

  /** As `insert`, at once. */
  add(snippet: Snippet): void {
    const { content, ...head } = snippet;
    const row = this.#rowFor(head.takenAt);
    this.#prepare(
      'INSERT INTO snippet (row, id, "order", alike, expires, bytes, head, content) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
    ).run(
      row,
      head.id,
      ...this.#columns(head),
      ...this.#told(head),
      this.#write(JSON.stringify(content), `snippet.content:${head.id}`),
    );
    this.#shelves.part(head.order);
    if (!this.#seal) this.#finder.add(row, findable(snippet));
  }

  async remove(id: string): Promise<void> {
    const { row } = this.#placed(id);
    if (!this.#seal) this.#finder.remove(row, findable(this.#get(id)));
    this.#prepare('DELETE FROM snippet WHERE row = ?').run(row);
  }

  async erase(id: string): Promise<void> {
    const { content, label } = await this.get(id);
    await this.remove(id);
    if (!this.#seal) this.#finder.forget(foldWords(`${label ?? ''} ${plainText(content)}`));
    this.erased = true;
  }

  async setHead(head: SnippetHead): Promise<void> {
    const { row, head: before } = this.#placed(head.id);
    this.#prepare('UPDATE snippet SET "order" = ?, alike = ?, expires = ?, bytes = ?, head = ? WHERE row = ?').run(
      ...this.#columns(head),
      ...this.#told(head),
      row,
    );
    const headBefore = this.#toHead({ id: head.id, head: before });
    if (!this.#seal && isFoundOtherwise(headBefore, head)) {
      const { content } = await this.get(head.id);
      this.#finder.remove(row, findable({ ...headBefore, content }));
      this.#finder.add(row, findable({ ...head, content }));
      if (head.secret) this.#finder.forget(foldWords(plainText(content)));
    }
    this.#shelves.part(head.order);
  }

  #placed(id: string): PlacedRow {
    const row = this.#one<PlacedRow>('SELECT row, id, head FROM snippet WHERE id = ?', id);
    if (!row) throw noSnippet(id);
    return row;
  }

  /** Rows are numbered by when snippets were taken, a thousand to the millisecond; who comes later goes on from there. */
  #rowFor(takenAt: string): number {
    const first = Date.parse(takenAt) * 1000;
    const last = this.#one<{ last: number | null }>('SELECT max(row) AS last FROM snippet')?.last ?? 0;
    if (first > last) return first;
    if (last - first < 100_000) return last + 1;
    let row = first;
    while (this.#one('SELECT 1 FROM snippet WHERE row = ?', row)) row++;
    return row;
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    this.#prepare('INSERT OR IGNORE INTO media (hash, bytes) VALUES (?, ?)').run(
      hash,
      this.#seal ? this.#seal.seal(bytes, `media.bytes:${hash}`) : bytes,
    );
  }

  async findSettings(): Promise<string | undefined> {
    const row = this.#one<{ value: Stored }>("SELECT value FROM settings WHERE name = 'drawer'");
    return row && this.#read(row.value, 'settings.value:drawer');
  }

  async putSettings(json: string): Promise<void> {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('drawer', ?)").run(
      this.#write(json, 'settings.value:drawer'),
    );
  }

  async putAction({ number, state, name, at, changes, files }: Action): Promise<void> {
    this.#prepare(
      'INSERT OR REPLACE INTO action (number, state, name, at, changes, files) VALUES (?, ?, ?, ?, ?, ?)',
    ).run(
      number,
      state,
      this.#write(name, `action.name:${number}`),
      at,
      this.#write(JSON.stringify(changes), `action.changes:${number}`),
      files ? this.#write(JSON.stringify(files), `action.files:${number}`) : null,
    );
  }

  async trimActions(depth: number): Promise<void> {
    this.#prepare(
      "DELETE FROM action WHERE state = 'undone' OR number <= (SELECT coalesce(max(number), 0) FROM action WHERE state = 'done') - ?",
    ).run(depth);
  }

  async forgetAction(number: number): Promise<void> {
    this.#prepare('DELETE FROM action WHERE number = ?').run(number);
  }

  async mediaHashes(): Promise<readonly string[]> {
    return (this.#prepare('SELECT hash FROM media ORDER BY hash').all() as { hash: string }[]).map(({ hash }) => hash);
  }

  async showsMedia(hash: string): Promise<boolean> {
    if (!this.#seal) return this.#one('SELECT 1 FROM snippet WHERE instr(content, ?) > 0 LIMIT 1', hash) !== undefined;
    for (const { content } of this.#everySnippet()) if (picturesOf(content).has(hash)) return true;
    return false;
  }

  async removeMedia(hash: string): Promise<void> {
    this.#prepare('DELETE FROM media WHERE hash = ?').run(hash);
  }

  async faults(): Promise<readonly string[]> {
    const broken = (this.#prepare('PRAGMA integrity_check(20)').all() as { integrity_check: string }[])
      .map((row) => row.integrity_check)
      .filter((words) => words !== 'ok');
    const counted = this.#one<{ count: number }>('SELECT count(*) AS count FROM snippet')?.count;
    const indexed = this.#one<{ count: number }>('SELECT count(*) AS count FROM finder')?.count;
    const count = this.#shelves.count();
    return [
      ...broken.map((words) => `The file is damaged: ${words}`),
      ...(counted === count ? [] : [`There are ${counted} snippets, not the ${count} that were counted`]),
      ...(this.#seal || counted === indexed ? [] : [`${indexed} snippets can be found, not all ${counted}`]),
    ];
  }

  #prepare(sql: string): Database.Statement {
    const known = this.#statements.get(sql);
    if (known) return known;
    const statement = this.#database.prepare(sql);
    this.#statements.set(sql, statement);
    return statement;
  }

  #one<T>(sql: string, ...parameters: unknown[]): T | undefined {
    return this.#prepare(sql).get(...parameters) as T | undefined;
  }
}

const alikeKey = ({ shape, characters, bytes, preview }: Facts): string =>
  JSON.stringify([shape, characters, bytes, preview]);

/** Whether the index has to learn of a head anew. */
function isFoundOtherwise(before: SnippetHead, after: SnippetHead): boolean {
  const told = ({ label, held, secret, expiresAt }: SnippetHead): string =>
    JSON.stringify([label, held, secret, expiresAt]);
  return told(before) !== told(after);
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new DrawerError(
      {
        code: 'storage',
        what: 'A row of the drawer is damaged',
        next: 'Copy the drawer’s file away before anything else',
      },
      { cause },
    );
  }
}
