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
  type Query,
  type Snippet,
  type SnippetHead,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';
import { Finder } from './finder.ts';
import { Shelves } from './shelves.ts';

interface HeadRow {
  readonly head: string;
}
interface SnippetRow extends HeadRow {
  readonly content: string;
}
interface PlacedRow extends HeadRow {
  readonly row: number;
}
interface ActionRow extends Omit<Action, 'changes' | 'files'> {
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

  constructor(database: Database.Database) {
    this.#database = database;
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
    const { first, rest } = this.#shelves.find(Math.max(0, offset));
    return this.#heads(
      'SELECT head FROM snippet WHERE "order" >= ? ORDER BY "order" LIMIT ? OFFSET ?',
      first,
      limit,
      rest,
    );
  }

  async search(query: Query, limit: number): Promise<readonly SnippetHead[]> {
    return this.#finder
      .search(query, limit)
      .flatMap((row) => this.#heads('SELECT head FROM snippet WHERE row = ?', row));
  }

  async alike(facts: Facts): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT head FROM snippet WHERE alike = ? ORDER BY "order"', alikeKey(facts));
  }

  async due(now: string): Promise<readonly SnippetHead[]> {
    return this.#heads('SELECT head FROM snippet WHERE expires <= ? ORDER BY expires', now);
  }

  #heads(sql: string, ...parameters: unknown[]): SnippetHead[] {
    return (this.#prepare(sql).all(...parameters) as HeadRow[]).map(({ head }) =>
      parseWith(headSchema, parseJson(head), 'snippet'),
    );
  }

  async get(id: string): Promise<Snippet> {
    const row = this.#one<SnippetRow>('SELECT head, content FROM snippet WHERE id = ?', id);
    if (!row) throw noSnippet(id);
    return parseWith(snippetSchema, { ...(parseJson(row.head) as object), content: parseJson(row.content) }, 'snippet');
  }

  async findLast(): Promise<SnippetHead | undefined> {
    const row = this.#one<HeadRow>('SELECT head FROM snippet ORDER BY "order" DESC LIMIT 1');
    return row && parseWith(headSchema, parseJson(row.head), 'snippet');
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const row = this.#one<{ bytes: Uint8Array }>('SELECT bytes FROM media WHERE hash = ?', hash);
    return row && new Uint8Array(row.bytes);
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const order =
      which === 'last done' ? "WHERE state = 'done' ORDER BY number DESC" : "WHERE state = 'undone' ORDER BY number";
    const row = this.#one<ActionRow>(`SELECT number, state, name, at, changes, files FROM action ${order} LIMIT 1`);
    return row && toAction(row);
  }

  async actions(): Promise<readonly Action[]> {
    const rows = this.#prepare(
      `SELECT number, state, name, at, changes, files FROM action
       ORDER BY state, CASE state WHEN 'done' THEN -number ELSE number END`,
    ).all() as ActionRow[];
    return rows.map(toAction);
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
    ).run(row, head.id, ...columnsOf(head), JSON.stringify(head), JSON.stringify(content));
    this.#shelves.part(head.order);
    this.#finder.add(row, findable(snippet));
  }

  async remove(id: string): Promise<void> {
    const { row } = this.#placed(id);
    this.#finder.remove(row, findable(await this.get(id)));
    this.#prepare('DELETE FROM snippet WHERE row = ?').run(row);
  }

  async erase(id: string): Promise<void> {
    const { content, label } = await this.get(id);
    await this.remove(id);
    this.#finder.forget(foldWords(`${label ?? ''} ${plainText(content)}`));
    this.erased = true;
  }

  async setHead(head: SnippetHead): Promise<void> {
    const { row, head: before } = this.#placed(head.id);
    this.#prepare('UPDATE snippet SET "order" = ?, alike = ?, expires = ?, bytes = ?, head = ? WHERE row = ?').run(
      ...columnsOf(head),
      JSON.stringify(head),
      row,
    );
    const headBefore = parseWith(headSchema, parseJson(before), 'snippet');
    if (isFoundOtherwise(headBefore, head)) {
      const { content } = await this.get(head.id);
      this.#finder.remove(row, findable({ ...headBefore, content }));
      this.#finder.add(row, findable({ ...head, content }));
      if (head.secret) this.#finder.forget(foldWords(plainText(content)));
    }
    this.#shelves.part(head.order);
  }

  #placed(id: string): PlacedRow {
    const row = this.#one<PlacedRow>('SELECT row, head FROM snippet WHERE id = ?', id);
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
    this.#prepare('INSERT OR IGNORE INTO media (hash, bytes) VALUES (?, ?)').run(hash, bytes);
  }

  async findSettings(): Promise<string | undefined> {
    return this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'drawer'")?.value;
  }

  async putSettings(json: string): Promise<void> {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('drawer', ?)").run(json);
  }

  async putAction({ number, state, name, at, changes, files }: Action): Promise<void> {
    this.#prepare(
      'INSERT OR REPLACE INTO action (number, state, name, at, changes, files) VALUES (?, ?, ?, ?, ?, ?)',
    ).run(number, state, name, at, JSON.stringify(changes), files ? JSON.stringify(files) : null);
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
    return this.#one('SELECT 1 FROM snippet WHERE instr(content, ?) > 0 LIMIT 1', hash) !== undefined;
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
      ...(counted === indexed ? [] : [`${indexed} snippets can be found, not all ${counted}`]),
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

const columnsOf = ({ order, facts, expiresAt }: SnippetHead) =>
  [order, alikeKey(facts), expiresAt ?? null, facts.bytes] as const;

const alikeKey = ({ shape, characters, bytes, preview }: Facts): string =>
  JSON.stringify([shape, characters, bytes, preview]);

/** Whether the index has to learn of a head anew. */
function isFoundOtherwise(before: SnippetHead, after: SnippetHead): boolean {
  const told = ({ label, held, secret, expiresAt }: SnippetHead): string =>
    JSON.stringify([label, held, secret, expiresAt]);
  return told(before) !== told(after);
}

function toAction({ changes, files, number, state, name, at }: ActionRow): Action {
  return {
    number,
    state,
    name,
    at,
    changes: parseWith(changesSchema, parseJson(changes), 'history'),
    ...(files !== null && { files: parseWith(fileChangesSchema, parseJson(files), 'history') }),
  };
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
