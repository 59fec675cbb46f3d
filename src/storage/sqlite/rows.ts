import type Database from 'libsql';
import { DrawerError, parseWith, plainText } from '../../content/index.ts';
import {
  type Action,
  changesSchema,
  type Facts,
  type Findable,
  fileChangesSchema,
  findable,
  foldWords,
  lookOf,
  noSnippet,
  picturesOf,
  type Query,
  readHead,
  type Snippet,
  type SnippetHead,
  searchThrough,
  snippetSchema,
  type WritableRows,
} from '../../drawer/index.ts';
import { Finder } from './finder.ts';
import { Known } from './known.ts';
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
interface ActionRow extends Omit<Action, 'name' | 'changes' | 'files' | 'reshapes'> {
  readonly reshapes: number | null;
  readonly name: string;
  readonly changes: string;
  readonly files: string | null;
}

/** So many snippets at most are kept in memory until their words are in the index. */
const mostFresh = 10_000;

/** So often, counted in snippets, shelves are looked over when one is added. */
const often = 64;

/** The rows of an open database; statements are prepared on first use and kept. */
export class SqliteRows implements WritableRows {
  readonly #database: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();
  readonly #known = new Known(() => this.#one<{ data_version: number }>('PRAGMA data_version')?.data_version ?? 0);
  readonly #shelves = new Shelves((sql) => this.#prepare(sql), this.#known);
  readonly #finder = new Finder((sql) => this.#prepare(sql));
  /** Whether something was erased that journals may still hold. */
  erased = false;
  readonly #sealing: Sealing;

  constructor(database: Database.Database, sealing: Sealing = inTheClear) {
    this.#database = database;
    this.#sealing = sealing;
  }

  /** Runs one of the statements that begin and end transactions. */
  run(sql: string): void {
    this.#prepare(sql).run();
  }

  /** A transaction has begun. */
  begin(): void {
    this.#known.begin();
  }

  /** The lock that the drawer has, as JSON. */
  findLock(): string | undefined {
    return this.#known.of(
      'lock',
      () => this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'lock'")?.value,
    );
  }

  /** Writes what waits to be, before all is committed. */
  settle(): void {
    this.#finder.settle();
  }

  /** What was written was taken back with the transaction. */
  drop(): void {
    this.#finder.drop();
    this.#known.clear();
  }

  /** How many snippets can only be found by reading them, since their words are not in the index. */
  waiting(): number {
    if (this.#sealing.isSealed) return 0;
    const sql = 'SELECT count(*) AS count FROM snippet WHERE row > ?';
    return this.#known.of('waiting', () => this.#one<{ count: number }>(sql, this.#indexedTo())?.count ?? 0);
  }

  /** The same as far as it is known. */
  waitingSeen(): number {
    return this.#known.peek('waiting') ?? 0;
  }

  /** Puts the words of the oldest of those into the index, at most of so many. */
  catchUp(most: number): void {
    const rows = this.#newerThan(this.#indexedTo(), most);
    for (const { row, found } of rows) if (found) this.#finder.add(row, found);
    this.settle();
    this.#known.change('waiting', (waiting) => waiting - rows.length);
    this.#setIndexedTo(rows.at(-1)?.row ?? this.#indexedTo());
    for (const { row } of rows) for (const name of ['fresh', 'newer'] as const) this.#known.peek(name)?.delete(row);
  }

  /** What rows behind this one are found by; a damaged one by nothing, which `check` tells of. */
  #newerThan(after: number, most = -1): { readonly row: number; readonly found: Findable | undefined }[] {
    const sql = 'SELECT row, id FROM snippet WHERE row > ? ORDER BY row LIMIT ?';
    const rows = this.#prepare(sql).all(after, most) as Pick<PlacedRow, 'row' | 'id'>[];
    const [fresh, newer] = [this.#known.peek('fresh'), this.#known.peek('newer')];
    return rows.map(({ row, id }) => ({
      row,
      found: newer?.get(row) ?? unlessDamaged(() => findable(fresh?.get(row) ?? this.#get(id))),
    }));
  }

  #newer(): ReadonlyMap<number, Findable> {
    if (this.waiting() === 0) return new Map();
    return this.#known.of('newer', () => {
      const fresh = this.#known.peek('fresh');
      if (fresh?.size === this.waiting()) return newestFirst(fresh);
      const rows = this.#newerThan(this.#indexedTo()).reverse();
      return new Map(rows.flatMap(({ row, found }) => (found ? [[row, found]] : [])));
    });
  }

  #indexedTo(): number {
    return this.#known.of('indexedTo', () => this.#one<{ to: number }>('SELECT "to" FROM indexed')?.to ?? 0);
  }

  #setIndexedTo(row: number): void {
    this.#prepare('UPDATE indexed SET "to" = ?').run(row);
    this.#known.change('indexedTo', () => row);
  }

  /** Writes again what follows from the snippets: how they look alike, and the index of words, which is empty while they are sealed. */
  rebuild(): void {
    this.#known.clear();
    this.#finder.clear();
    this.#setIndexedTo(this.#newestRow());
    for (const { row, id } of this.#prepare('SELECT row, id FROM snippet').all() as { row: number; id: string }[]) {
      const snippet = this.#get(id);
      this.#prepare('UPDATE snippet SET alike = ? WHERE row = ?').run(this.#alike(snippet.facts), row);
      this.#index(row, snippet);
    }
    this.settle();
    this.#prepare('UPDATE pictures SET bytes = (SELECT coalesce(sum(length(bytes)), 0) FROM media)').run();
  }

  #index(row: number, snippet: Snippet): void {
    if (this.#isIndexed(row)) this.#finder.add(row, findable(snippet));
  }

  #unindex(row: number, snippet: Snippet): void {
    if (this.#isIndexed(row)) this.#finder.remove(row, findable(snippet));
  }

  /** What comes behind goes into the index later, many at once; while they are sealed none does. */
  #isIndexed(row: number): boolean {
    return !this.#sealing.isSealed && row <= this.#indexedTo();
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
    return this.#count();
  }

  #count(): number {
    return this.#known.of('count', () => this.#shelves.count());
  }

  async countBefore(order: string): Promise<number> {
    return this.#shelves.countsBefore([order])[0] ?? 0;
  }

  async countsBefore(orders: readonly string[]): Promise<readonly number[]> {
    return this.#shelves.countsBefore(orders);
  }

  async bytes(): Promise<number> {
    return this.#known.of('bytes', () => {
      const pictures = this.#one<{ bytes: number }>('SELECT bytes FROM pictures')?.bytes ?? 0;
      return this.#shelves.bytes() + pictures;
    });
  }

  async heads(offset: number, limit: number): Promise<readonly SnippetHead[]> {
    if (limit <= 0) return [];
    const { first, rest } = this.#shelves.find(Math.max(0, offset));
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
      JSON.stringify(this.#finder.search(query, limit, this.#newer())),
    );
  }

  async alike(facts: readonly Facts[]): Promise<readonly SnippetHead[]> {
    const [only, ...more] = facts;
    // Mostly there is none, which takes a fraction of the time to see.
    if (only && more.length === 0 && !this.#one('SELECT 1 FROM snippet WHERE alike = ?', this.#alike(only))) return [];
    return this.#heads(
      'SELECT id, head FROM snippet WHERE alike IN (SELECT value FROM json_each(?)) ORDER BY "order"',
      JSON.stringify(facts.map((each) => this.#alike(each))),
    );
  }

  async due(now: string, limit = -1): Promise<readonly SnippetHead[]> {
    const first = this.#known.of('nextDue', () => {
      const row = this.#one<{ first: string | null }>(
        'SELECT min(expires) AS first FROM snippet WHERE expires IS NOT NULL',
      );
      return row?.first ?? undefined;
    });
    if (first === undefined || first > now) return [];
    return this.#heads('SELECT id, head FROM snippet WHERE expires <= ? ORDER BY expires LIMIT ?', now, limit);
  }

  #heads(sql: string, ...parameters: unknown[]): SnippetHead[] {
    return (this.#prepare(sql).all(...parameters) as HeadRow[]).map((row) => this.#toHead(row));
  }

  #toHead({ id, head }: HeadRow): SnippetHead {
    return readHead(parseJson(this.#sealing.openText(head, placeOf('snippet', 'head', id))));
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
    return this.#toSnippet(row);
  }

  #toSnippet({ id, head, content }: SnippetRow): Snippet {
    const opened = (column: 'head' | 'content', value: string): unknown =>
      parseJson(this.#sealing.openText(value, placeOf('snippet', column, id)));
    return parseWith(
      snippetSchema,
      { ...(opened('head', head) as object), content: opened('content', content) },
      'snippet',
    );
  }

  async findLast(): Promise<SnippetHead | undefined> {
    return this.#known.of('last', () => this.#heads('SELECT id, head FROM snippet ORDER BY "order" DESC LIMIT 1')[0]);
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const row = this.#one<{ bytes: Uint8Array }>('SELECT bytes FROM media WHERE hash = ?', hash);
    return row && new Uint8Array(this.#sealing.open(row.bytes, placeOf('media', 'bytes', hash)));
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const order =
      which === 'last done' ? "WHERE state = 'done' ORDER BY number DESC" : "WHERE state = 'undone' ORDER BY number";
    const row = this.#one<ActionRow>(
      `SELECT number, state, name, at, changes, files, reshapes FROM action ${order} LIMIT 1`,
    );
    return row && this.#toAction(row);
  }

  async actions(): Promise<readonly Action[]> {
    const rows = this.#prepare(
      `SELECT number, state, name, at, changes, files, reshapes FROM action
       ORDER BY state, CASE state WHEN 'done' THEN -number ELSE number END`,
    ).all() as ActionRow[];
    return rows.map((row) => this.#toAction(row));
  }

  #toAction({ changes, files, number, state, name, at, reshapes }: ActionRow): Action {
    const read = (stored: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.openText(stored, placeOf('action', column, number));
    return {
      number,
      state,
      name: read(name, 'name'),
      at,
      changes: parseWith(changesSchema, parseJson(read(changes, 'changes')), 'history'),
      ...(files !== null && { files: parseWith(fileChangesSchema, parseJson(read(files, 'files')), 'history') }),
      ...(reshapes !== null && { reshapes: true }),
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
    this.#shelves.change(head.order, head.facts.bytes, 1);
    this.#index(row, snippet);
    this.#added(row, snippet);
    if (this.#count() % often === 0) this.#shelves.part();
  }

  #added(row: number, snippet: Snippet): void {
    const { content: _, ...head } = snippet;
    this.#known.change('count', (count) => count + 1);
    this.#known.change('bytes', (bytes) => bytes + head.facts.bytes);
    this.#known.change('last', (last) => (last && last.order > head.order ? last : head));
    this.#known.change('newestRow', (newest) => Math.max(newest, row));
    this.#known.change('nextDue', (next) => [next, head.expiresAt].filter((each) => each !== undefined).sort()[0]);
    if (row <= this.#indexedTo()) return;
    this.#known.change('waiting', (waiting) => waiting + 1);
    this.#known.forget('newer');
    const fresh = this.#known.of('fresh', () => new Map());
    if (fresh.size < mostFresh) fresh.set(row, snippet);
  }

  async remove(id: string): Promise<void> {
    const { row } = this.#placed(id);
    const snippet = this.#get(id);
    this.#unindex(row, snippet);
    this.#prepare('DELETE FROM snippet WHERE row = ?').run(row);
    this.#shelves.change(snippet.order, snippet.facts.bytes, -1);
    this.#known.clear();
  }

  async erase(id: string): Promise<void> {
    const { content, label } = this.#get(id);
    const wasIndexed = this.#isIndexed(this.#placed(id).row);
    await this.remove(id);
    if (wasIndexed) this.#finder.forget(foldWords(`${label ?? ''} ${plainText(content)}`));
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
      if (head.secret && this.#isIndexed(row)) this.#finder.forget(foldWords(plainText(content)));
    }
    const isMovedOnly = JSON.stringify({ ...headBefore, order: head.order }) === JSON.stringify(head);
    if (isMovedOnly) this.#known.forget('last');
    else this.#known.clear();
    if (headBefore.order === head.order && headBefore.facts.bytes === head.facts.bytes) return;
    this.#shelves.change(headBefore.order, headBefore.facts.bytes, -1);
    this.#shelves.change(head.order, head.facts.bytes, 1);
    this.#shelves.part();
  }

  #placed(id: string): PlacedRow {
    const row = this.#one<PlacedRow>('SELECT row, id, head FROM snippet WHERE id = ?', id);
    if (!row) throw noSnippet(id);
    return row;
  }

  /** Rows are numbered by when snippets were taken, a thousand to the millisecond; who comes later goes on from there. */
  #rowFor(takenAt: string): number {
    const first = Date.parse(takenAt) * 1000;
    const last = this.#newestRow();
    if (first > last) return first;
    if (last - first < 100_000) return last + 1;
    let row = first;
    while (this.#one('SELECT 1 FROM snippet WHERE row = ?', row)) row++;
    return row;
  }

  #newestRow(): number {
    return this.#known.of(
      'newestRow',
      () => this.#one<{ last: number | null }>('SELECT max(row) AS last FROM snippet')?.last ?? 0,
    );
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    this.#prepare('INSERT OR IGNORE INTO media (hash, bytes) VALUES (?, ?)').run(
      hash,
      this.#sealing.seal(bytes, placeOf('media', 'bytes', hash)),
    );
    this.#known.forget('bytes');
  }

  async findSettings(): Promise<string | undefined> {
    return this.#known.of('settings', () => {
      const row = this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'drawer'");
      return row && this.#sealing.openText(row.value, placeOf('settings', 'value', 'drawer'));
    });
  }

  async putSettings(json: string): Promise<void> {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('drawer', ?)").run(
      this.#sealing.sealText(json, placeOf('settings', 'value', 'drawer')),
    );
    this.#known.forget('settings');
  }

  async putAction({ number, state, name, at, changes, files, reshapes }: Action): Promise<void> {
    const seal = (words: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.sealText(words, placeOf('action', column, number));
    this.#prepare(
      'INSERT OR REPLACE INTO action (number, state, name, at, changes, files, reshapes) VALUES (?, ?, ?, ?, ?, ?, ?)',
    ).run(
      number,
      state,
      seal(name, 'name'),
      at,
      seal(JSON.stringify(changes), 'changes'),
      files ? seal(JSON.stringify(files), 'files') : null,
      reshapes ? 1 : null,
    );
    if (state === 'done')
      this.#known.change('actions', ({ first, last, anyUndone }) => ({
        first: first === 0 ? number : Math.min(first, number),
        last: Math.max(last, number),
        anyUndone,
      }));
    else this.#known.forget('actions');
  }

  async trimActions(depth: number): Promise<number> {
    const { first, last, anyUndone } = this.#actions();
    if (anyUndone) this.#prepare("DELETE FROM action WHERE state = 'undone'").run();
    const isDeep = last - first + 1 > depth + Math.floor(depth / 10);
    if (isDeep) this.#prepare('DELETE FROM action WHERE number <= ?').run(last - depth);
    this.#known.change('actions', () => ({
      first: isDeep ? last - depth + 1 : first,
      last,
      anyUndone: false,
    }));
    return last;
  }

  #actions() {
    return this.#known.of('actions', () => {
      const sql = `SELECT coalesce(min(number), 0) AS first, coalesce(max(number) FILTER (WHERE state = 'done'), 0) AS last,
                          count(*) FILTER (WHERE state = 'undone') > 0 AS anyUndone FROM action`;
      const { first, last, anyUndone } = this.#one<{ first: number; last: number; anyUndone: number }>(sql) as {
        first: number;
        last: number;
        anyUndone: number;
      };
      return { first, last, anyUndone: anyUndone > 0 };
    });
  }

  async forgetAction(number: number): Promise<void> {
    this.#prepare('DELETE FROM action WHERE number = ?').run(number);
    this.#known.forget('actions');
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
    this.#known.forget('bytes');
  }

  async faults(): Promise<readonly string[]> {
    this.settle();
    const broken = (this.#prepare('PRAGMA integrity_check(20)').all() as { integrity_check: string }[])
      .map((row) => row.integrity_check)
      .filter((words) => words !== 'ok');
    const counted = this.#one<{ count: number }>('SELECT count(*) AS count FROM snippet')?.count;
    const indexed = (this.#one<{ count: number }>('SELECT count(*) AS count FROM finder')?.count ?? 0) + this.waiting();
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

/** What snippets are found by, those with the highest rows first. */
const newestFirst = (snippets: ReadonlyMap<number, Snippet>): Map<number, Findable> =>
  new Map([...snippets].sort(([one], [other]) => other - one).map(([row, snippet]) => [row, findable(snippet)]));

/** Whether the index has to learn of a head anew. */
function isFoundOtherwise(before: SnippetHead, after: SnippetHead): boolean {
  const told = ({ label, held, secret, expiresAt }: SnippetHead): string =>
    JSON.stringify([label, held, secret, expiresAt]);
  return told(before) !== told(after);
}

/** What a work gives; `undefined` where a row is damaged. */
function unlessDamaged<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
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
