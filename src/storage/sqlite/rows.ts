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
  lookOf,
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
import { inTheClear, placeOf, type Sealing } from './lock.ts';
import { Shelves } from './shelves.ts';

interface HeadRow {
  readonly id: string;
  readonly head: string;
}
interface SnippetRow extends HeadRow {
  readonly content: string;
}
interface PlacedRow extends HeadRow {
  readonly row: number;
}
interface ActionRow extends Omit<Action, 'name' | 'changes' | 'files'> {
  readonly name: string;
  readonly changes: string;
  readonly files: string | null;
}

/** The rows of an open database; statements are prepared on first use and kept. */
export class SqliteRows implements WritableRows {
  readonly #database: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();
  readonly #shelves = new Shelves((sql) => this.#prepare(sql));
  readonly #finder = new Finder((sql) => this.#prepare(sql));
  /** Whether something was erased that journals may still hold. */
  erased = false;
  readonly #sealing: Sealing;

  constructor(database: Database.Database, sealing: Sealing = inTheClear) {
    this.#database = database;
    this.#sealing = sealing;
  }

  /** The lock that the drawer has, as JSON. */
  findLock(): string | undefined {
    return this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'lock'")?.value;
  }

  /** Writes what waits, before all is committed. */
  settle(): void {
    this.#finder.settle();
  }

  /** What waits was taken back with the transaction. */
  drop(): void {
    this.#finder.drop();
  }

  /** Writes again what follows from the snippets: how they look alike, and the index of words, which is empty while they are sealed. */
  rebuild(): void {
    this.#finder.clear();
    for (const { row, id } of this.#prepare('SELECT row, id FROM snippet').all() as { row: number; id: string }[]) {
      const snippet = this.#get(id);
      this.#prepare('UPDATE snippet SET alike = ? WHERE row = ?').run(this.#alike(snippet.facts), row);
      this.#index(row, snippet);
    }
    this.settle();
    this.#prepare(
      `UPDATE total SET bytes = (SELECT coalesce(sum(bytes), 0) FROM snippet)
                              + (SELECT coalesce(sum(length(bytes)), 0) FROM media)`,
    ).run();
  }

  #index(row: number, snippet: Snippet): void {
    if (!this.#sealing.isSealed) this.#finder.add(row, findable(snippet));
  }

  #unindex(row: number, snippet: Snippet): void {
    if (!this.#sealing.isSealed) this.#finder.remove(row, findable(snippet));
  }

  #headText(head: SnippetHead): string {
    return this.#sealing.sealText(JSON.stringify(head), placeOf('snippet', 'head', head.id));
  }

  #alike(facts: Facts): string {
    return this.#sealing.digest(lookOf(facts));
  }

  #columns({ order, facts, expiresAt }: SnippetHead) {
    return [order, this.#alike(facts), expiresAt ?? null, facts.bytes] as const;
  }

  async count(): Promise<number> {
    return this.#shelves.count();
  }

  async countBefore(order: string): Promise<number> {
    return this.#shelves.countsBefore([order])[0] ?? 0;
  }

  async countsBefore(orders: readonly string[]): Promise<readonly number[]> {
    return this.#shelves.countsBefore(orders);
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
    if (this.#sealing.isSealed) return searchThrough(this.#everySnippet(), query, limit);
    // All at once: a statement each takes longer than what it reads.
    return this.#heads(
      'SELECT snippet.id, head FROM json_each(?) AS found JOIN snippet ON snippet.row = found.value ORDER BY found.key',
      JSON.stringify(this.#finder.search(query, limit)),
    );
  }

  async alike(facts: Facts): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT id, head FROM snippet WHERE alike = ? ORDER BY "order"', this.#alike(facts));
  }

  async due(now: string, limit = -1): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT id, head FROM snippet WHERE expires <= ? ORDER BY expires LIMIT ?', now, limit);
  }

  #heads(sql: string, ...parameters: unknown[]): SnippetHead[] {
    return (this.#prepare(sql).all(...parameters) as HeadRow[]).map((row) => this.#toHead(row));
  }

  #toHead({ id, head }: HeadRow): SnippetHead {
    return parseWith(headSchema, parseJson(this.#sealing.openText(head, placeOf('snippet', 'head', id))), 'snippet');
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
    const head = parseJson(this.#sealing.openText(row.head, placeOf('snippet', 'head', id))) as object;
    const content = parseJson(this.#sealing.openText(row.content, placeOf('snippet', 'content', id)));
    return parseWith(snippetSchema, { ...head, content }, 'snippet');
  }

  async findLast(): Promise<SnippetHead | undefined> {
    return this.#heads('SELECT id, head FROM snippet ORDER BY "order" DESC LIMIT 1')[0];
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const row = this.#one<{ bytes: Uint8Array }>('SELECT bytes FROM media WHERE hash = ?', hash);
    return row && new Uint8Array(this.#sealing.open(row.bytes, placeOf('media', 'bytes', hash)));
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
    const read = (stored: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.openText(stored, placeOf('action', column, number));
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
      this.#headText(head),
      this.#sealing.sealText(JSON.stringify(content), placeOf('snippet', 'content', head.id)),
    );
    this.#shelves.part(head.order);
    this.#index(row, snippet);
  }

  async remove(id: string): Promise<void> {
    const { row } = this.#placed(id);
    this.#unindex(row, this.#get(id));
    this.#prepare('DELETE FROM snippet WHERE row = ?').run(row);
  }

  async erase(id: string): Promise<void> {
    const { content, label } = await this.get(id);
    await this.remove(id);
    if (!this.#sealing.isSealed) this.#finder.forget(foldWords(`${label ?? ''} ${plainText(content)}`));
    this.erased = true;
  }

  async setHead(head: SnippetHead): Promise<void> {
    const { row, head: before } = this.#placed(head.id);
    this.#prepare('UPDATE snippet SET "order" = ?, alike = ?, expires = ?, bytes = ?, head = ? WHERE row = ?').run(
      ...this.#columns(head),
      this.#headText(head),
      row,
    );
    const headBefore = this.#toHead({ id: head.id, head: before });
    if (isFoundOtherwise(headBefore, head)) {
      const { content } = this.#get(head.id);
      this.#unindex(row, { ...headBefore, content });
      this.#index(row, { ...head, content });
      if (head.secret && !this.#sealing.isSealed) this.#finder.forget(foldWords(plainText(content)));
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
      this.#sealing.seal(bytes, placeOf('media', 'bytes', hash)),
    );
  }

  async findSettings(): Promise<string | undefined> {
    const row = this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'drawer'");
    return row && this.#sealing.openText(row.value, placeOf('settings', 'value', 'drawer'));
  }

  async putSettings(json: string): Promise<void> {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('drawer', ?)").run(
      this.#sealing.sealText(json, placeOf('settings', 'value', 'drawer')),
    );
  }

  async putAction({ number, state, name, at, changes, files }: Action): Promise<void> {
    const seal = (words: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.sealText(words, placeOf('action', column, number));
    this.#prepare(
      'INSERT OR REPLACE INTO action (number, state, name, at, changes, files) VALUES (?, ?, ?, ?, ?, ?)',
    ).run(
      number,
      state,
      seal(name, 'name'),
      at,
      seal(JSON.stringify(changes), 'changes'),
      files ? seal(JSON.stringify(files), 'files') : null,
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
    if (!this.#sealing.isSealed)
      return this.#one('SELECT 1 FROM snippet WHERE instr(content, ?) > 0 LIMIT 1', hash) !== undefined;
    for (const { content } of this.#everySnippet()) if (picturesOf(content).has(hash)) return true;
    return false;
  }

  async removeMedia(hash: string): Promise<void> {
    this.#prepare('DELETE FROM media WHERE hash = ?').run(hash);
  }

  async faults(): Promise<readonly string[]> {
    this.settle();
    const broken = (this.#prepare('PRAGMA integrity_check(20)').all() as { integrity_check: string }[])
      .map((row) => row.integrity_check)
      .filter((words) => words !== 'ok');
    const counted = this.#one<{ count: number }>('SELECT count(*) AS count FROM snippet')?.count;
    const indexed = this.#one<{ count: number }>('SELECT count(*) AS count FROM finder')?.count;
    const count = this.#shelves.count();
    return [
      ...broken.map((words) => `The file is damaged: ${words}`),
      ...(counted === count ? [] : [`There are ${counted} snippets, not the ${count} that were counted`]),
      ...(this.#sealing.isSealed || counted === indexed
        ? []
        : [`${indexed} snippets can be found, not all ${counted}`]),
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
