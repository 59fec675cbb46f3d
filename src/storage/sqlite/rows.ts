import type Database from 'libsql';
import { DrawerError, parseWith } from '../../content/index.ts';
import {
  type Action,
  changesSchema,
  fileChangesSchema,
  headSchema,
  noSnippet,
  type Snippet,
  type SnippetHead,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';

interface HeadRow {
  readonly head: string;
}
interface SnippetRow extends HeadRow {
  readonly content: string;
}
interface ActionRow extends Omit<Action, 'changes' | 'files'> {
  readonly changes: string;
  readonly files: string | null;
}

/** The rows of an open database; statements are prepared on first use and kept. */
export class SqliteRows implements WritableRows {
  readonly #database: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();

  constructor(database: Database.Database) {
    this.#database = database;
  }

  async count(): Promise<number> {
    return this.#one<{ snippets: number }>('SELECT snippets FROM total')?.snippets ?? 0;
  }

  async heads(offset: number, limit: number): Promise<readonly SnippetHead[]> {
    const rows = this.#prepare('SELECT head FROM snippet ORDER BY "order" LIMIT ? OFFSET ?').all(
      limit,
      offset,
    ) as HeadRow[];
    return rows.map(({ head }) => parseWith(headSchema, parseJson(head), 'snippet'));
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
    if (!row) return undefined;
    const { changes, files, ...rest } = row;
    return {
      ...rest,
      changes: parseWith(changesSchema, parseJson(changes), 'history'),
      ...(files !== null && { files: parseWith(fileChangesSchema, parseJson(files), 'history') }),
    };
  }

  async insert({ content, ...head }: Snippet): Promise<void> {
    this.#prepare('INSERT INTO snippet (id, "order", head, content) VALUES (?, ?, ?, ?)').run(
      head.id,
      head.order,
      JSON.stringify(head),
      JSON.stringify(content),
    );
  }

  async remove(id: string): Promise<void> {
    this.#prepare('DELETE FROM snippet WHERE id = ?').run(id);
  }

  async setHead(head: SnippetHead): Promise<void> {
    this.#prepare('UPDATE snippet SET "order" = ?, head = ? WHERE id = ?').run(
      head.order,
      JSON.stringify(head),
      head.id,
    );
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
