import type Database from 'libsql';
import { type Message, plainText } from '../../content/index.ts';
import {
  type Action,
  compareNewness,
  compareOrder,
  type Facts,
  lookOf,
  noSnippet,
  picturesOf,
  type Query,
  readSummary,
  type Snippet,
  type SnippetSummary,
  type SortKey,
  type StoredNote,
  searchThrough,
  type TrimResult,
  type WritableRows,
} from '../../drawer/index.ts';
import { readRow } from '../encryption.ts';
import { History } from './history.ts';
import { associatedData, plaintext, type ValueEncryption, WholeMark } from './lock.ts';
import { OrderIndex } from './order-index.ts';
import { RowCache } from './row-cache.ts';
import { schemaNames } from './schema.ts';
import { columnsOf, parseJson, type SnippetRow, type SummaryRow, snippetIn, unlessDamaged } from './snippet-row.ts';
import { WordTable } from './word-table.ts';

interface PlacedRow extends SummaryRow {
  readonly row: number;
}
interface FiledRow extends PlacedRow {
  readonly order: string;
  readonly alike: string;
  readonly expires: string | null;
  readonly bytes: number;
}

/** So often, counted in snippets, shelves are looked over when one is added. */
const often = 256;

/** The rows of an open database; statements are prepared on first use and kept. */
export class SqliteRows implements WritableRows {
  readonly #database: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();
  readonly #known = new RowCache(() => this.#dataVersion());
  readonly #shelves = new OrderIndex((sql) => this.#prepare(sql), this.#known);
  readonly #words = new WordTable(
    (sql) => this.#prepare(sql),
    this.#known,
    (id) => this.#get(id),
  );
  readonly #history: History;
  readonly #whole: WholeMark | undefined;
  /** The file's version, as others change it, when its mark was looked at. */
  #seen: number | undefined;
  #changesSeen = 0;
  /** Whether something was erased that journals may still hold. */
  erased = false;
  readonly #sealing: ValueEncryption;

  constructor(database: Database.Database, sealing: ValueEncryption = plaintext) {
    this.#database = database;
    this.#sealing = sealing;
    this.#history = new History((sql) => this.#prepare(sql), this.#known, sealing);
    if (sealing.isSealed) this.#whole = new WholeMark((sql) => this.#prepare(sql), sealing);
  }

  /** How many snippets can only be found by reading them, since their words are not in the index. */
  waiting(): number {
    return this.#sealing.isSealed ? 0 : this.#words.waiting();
  }

  /** The same as far as it is known. */
  waitingSeen(): number {
    return this.#words.waitingSeen();
  }

  /** Adds the words of the oldest unindexed rows to the index, at most `most` rows. */
  catchUp(most: number): void {
    this.#words.catchUp(most);
  }

  /** A transaction has begun. */
  begin(): void {
    this.#known.begin();
  }

  /** Checks the lock's mark at the start of a transaction. @throws DrawerError `damaged` if another program changed a locked drawer */
  checkWhole(): void {
    if (!this.#whole) return;
    this.#changesSeen = this.#whole.changes();
    const version = this.#dataVersion();
    if (version === this.#seen) return;
    this.#whole.check();
    this.#seen = version;
  }

  /** Renews a locked drawer's mark at the end of a transaction. */
  finish(): void {
    this.settle();
    if (this.#whole && this.#whole.changes() !== this.#changesSeen) this.#whole.write();
  }

  /** Keeps a lock, and a mark of all that is under it. */
  putLock(lock: string): void {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('lock', ?)").run(lock);
    this.#whole?.write();
    this.#known.clear();
  }

  /** Which tables the file has. */
  version(): number {
    return this.#known.of(
      'version',
      () => this.#one<{ user_version: number }>('PRAGMA user_version')?.user_version ?? 0,
    );
  }

  /** The lock that the drawer has, as JSON. */
  findLock(): string | undefined {
    return this.#known.of(
      'lock',
      () => this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'lock'")?.value,
    );
  }

  /** Writes waiting index entries before the commit. */
  settle(): void {
    this.#words.settle();
  }

  /** Discards cached state after a rollback. */
  drop(): void {
    this.#words.drop();
    this.#known.clear();
  }

  /** Rebuilds derived data: the look of each snippet, and the full-text index, which is empty while the drawer is locked. */
  rebuild(): void {
    this.#known.clear();
    this.#words.clear(this.#newestRow());
    for (const { row, id } of this.#prepare('SELECT row, id FROM snippet').all() as { row: number; id: string }[]) {
      if (!this.#sealing.isSealed) this.#words.add(row, this.#get(id));
    }
    this.renewLooks();
    this.settle();
    this.#prepare('UPDATE pictures SET bytes = (SELECT coalesce(sum(length(bytes)), 0) FROM media)').run();
  }

  /** Rebuilds the looks by which duplicates are found; skips damaged snippets. */
  renewLooks(): void {
    for (const { id } of this.#prepare('SELECT id FROM snippet').all() as { id: string }[])
      unlessDamaged(() => {
        const { row, head } = this.#placed(id);
        const { facts } = this.#toSummary({ id, head });
        this.#prepare('UPDATE snippet SET alike = ? WHERE row = ?').run(this.#alike(facts), row);
      });
  }

  #summaryText(summary: SnippetSummary): string {
    return this.#sealing.sealText(JSON.stringify(summary), associatedData('snippet', 'head', summary.id));
  }

  #alike(facts: Facts): string {
    return this.#sealing.digest(lookOf(facts));
  }

  #columns(summary: SnippetSummary) {
    return Object.values(columnsOf(summary, this.#sealing));
  }

  async count(): Promise<number> {
    return this.#count();
  }

  #count(): number {
    return this.#known.of('count', () => this.#shelves.count());
  }

  async countBefore(key: SortKey): Promise<number> {
    return this.#shelves.countsBefore([key])[0] ?? 0;
  }

  async countsBefore(keys: readonly SortKey[]): Promise<readonly number[]> {
    return this.#shelves.countsBefore(keys);
  }

  async bytes(): Promise<number> {
    return this.#known.of('bytes', () => {
      const pictures = this.#one<{ bytes: number }>('SELECT bytes FROM pictures')?.bytes ?? 0;
      return this.#shelves.bytes() + pictures;
    });
  }

  async summaries(offset: number, limit: number): Promise<readonly SnippetSummary[]> {
    if (limit <= 0) return [];
    const { first, rest } = this.#shelves.find(Math.max(0, offset));
    return this.#summaries(
      'SELECT id, head FROM snippet WHERE "order" >= ? ORDER BY "order", id LIMIT ? OFFSET ?',
      first,
      limit,
      rest,
    );
  }

  async search(query: Query, limit: number): Promise<readonly SnippetSummary[]> {
    if (this.#sealing.isSealed) return searchThrough(this.#everySnippet(), query, limit);
    const found = this.#words.search(query, limit);
    const tiers = [...found.values()];
    // In one query: separate statements would take longer than the reading.
    const hits = this.#summaries(
      'SELECT snippet.id, head FROM json_each(?) AS found JOIN snippet ON snippet.row = found.value ORDER BY found.key',
      JSON.stringify([...found.keys()]),
    ).map((summary, index) => ({ summary, tier: tiers[index] ?? 0 }));
    // Rows are in the order in which they were written last; snippets in that in which they were gathered.
    hits.sort((one, other) => one.tier - other.tier || compareNewness(one.summary, other.summary));
    return hits.map(({ summary }) => summary);
  }

  async duplicates(facts: readonly Facts[]): Promise<readonly SnippetSummary[]> {
    const [only, ...more] = facts;
    // Usually there is none, which a short query finds out in a fraction of the time.
    if (only && more.length === 0 && !this.#one('SELECT 1 FROM snippet WHERE alike = ?', this.#alike(only))) return [];
    const looks = new Set(facts.map(lookOf));
    const summaries = this.#summaries(
      'SELECT id, head FROM snippet WHERE alike IN (SELECT value FROM json_each(?)) ORDER BY "order", id',
      JSON.stringify([...looks].map((look) => this.#sealing.digest(look))),
    );
    return summaries.filter((summary) => looks.has(lookOf(summary.facts)));
  }

  async expired(now: string, limit = -1): Promise<readonly SnippetSummary[]> {
    const first = this.#known.of('nextExpiry', () => {
      const row = this.#one<{ first: string | null }>(
        'SELECT min(expires) AS first FROM snippet WHERE expires IS NOT NULL',
      );
      return row?.first ?? undefined;
    });
    if (first === undefined || first > now) return [];
    return this.#summaries('SELECT id, head FROM snippet WHERE expires <= ? ORDER BY expires LIMIT ?', now, limit);
  }

  #summaries(sql: string, ...parameters: unknown[]): SnippetSummary[] {
    return (this.#prepare(sql).all(...parameters) as SummaryRow[]).map((row) => this.#toSummary(row));
  }

  #toSummary({ id, head }: SummaryRow): SnippetSummary {
    return readRow(() => readSummary(parseJson(this.#sealing.openText(head, associatedData('snippet', 'head', id)))));
  }

  *#everySnippet(): Generator<Snippet> {
    for (const { id } of this.#prepare('SELECT id FROM snippet').all() as { id: string }[]) yield this.#get(id);
  }

  async findSnippet(id: string): Promise<Snippet | undefined> {
    return this.#find(id);
  }

  #get(id: string): Snippet {
    const snippet = this.#find(id);
    if (!snippet) throw noSnippet(id);
    return snippet;
  }

  #find(id: string): Snippet | undefined {
    const row = this.#one<SnippetRow>('SELECT id, head, content FROM snippet WHERE id = ?', id);
    if (!row) return undefined;
    return snippetIn(row, this.#sealing);
  }

  async findLast(): Promise<SnippetSummary | undefined> {
    return this.#known.of(
      'last',
      () => this.#summaries('SELECT id, head FROM snippet ORDER BY "order" DESC, id DESC LIMIT 1')[0],
    );
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    const row = this.#one<{ bytes: Uint8Array }>('SELECT bytes FROM media WHERE hash = ?', hash);
    return row && new Uint8Array(this.#sealing.open(row.bytes, associatedData('media', 'bytes', hash)));
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    return this.#history.find(which);
  }

  async actions(): Promise<readonly Action[]> {
    return this.#history.all();
  }

  async putAction(action: Action): Promise<void> {
    this.#history.put(action);
  }

  async trimActions(depth: number): Promise<TrimResult> {
    return this.#history.trim(depth);
  }

  async forgetAction(number: number): Promise<void> {
    this.#history.forget(number);
  }

  async insert(snippet: Snippet): Promise<void> {
    this.add(snippet);
  }

  /** As `insert`, at once. */
  add(snippet: Snippet): void {
    const { content, ...summary } = snippet;
    const row = this.#rowFor(summary.takenAt);
    this.#prepare(
      'INSERT INTO snippet (row, id, "order", alike, expires, bytes, head, content) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
    ).run([
      row,
      summary.id,
      ...this.#columns(summary),
      this.#summaryText(summary),
      this.#sealing.sealText(JSON.stringify(content), associatedData('snippet', 'content', summary.id)),
    ]);
    this.#shelves.change(summary.order, summary.facts.bytes, 1);
    if (!this.#sealing.isSealed) this.#words.add(row, snippet);
    this.#added(row, summary);
    if (this.#count() % often === 0) this.#shelves.part();
  }

  #added(row: number, summary: SnippetSummary): void {
    this.#known.change('count', (count) => count + 1);
    this.#known.change('bytes', (bytes) => bytes + summary.facts.bytes);
    this.#known.change('last', (last) => (last && compareOrder(last, summary) > 0 ? last : summary));
    this.#known.change('newestRow', (newest) => Math.max(newest, row));
    this.#known.change(
      'nextExpiry',
      (next) => [next, summary.expiresAt].filter((each) => each !== undefined).sort()[0],
    );
  }

  async remove(id: string): Promise<void> {
    this.#take(id);
  }

  /** Removes a snippet, and gives what it was. */
  #take(id: string): { readonly row: number; readonly snippet: Snippet } {
    const { row } = this.#placed(id);
    const snippet = this.#get(id);
    if (!this.#sealing.isSealed) this.#words.remove(row, snippet);
    this.#prepare('DELETE FROM snippet WHERE row = ?').run(row);
    this.#shelves.change(snippet.order, snippet.facts.bytes, -1);
    this.#known.clear();
    return { row, snippet };
  }

  async erase(id: string): Promise<void> {
    const { row, snippet } = this.#take(id);
    const { content, label } = snippet;
    if (!this.#sealing.isSealed) this.#words.forget(row, `${label ?? ''} ${plainText(content)}`);
    this.erased = true;
  }

  async setSummary(summary: SnippetSummary): Promise<void> {
    const { row, head: before } = this.#placed(summary.id);
    this.#prepare('UPDATE snippet SET "order" = ?, alike = ?, expires = ?, bytes = ?, head = ? WHERE row = ?').run(
      ...this.#columns(summary),
      this.#summaryText(summary),
      row,
    );
    const summaryBefore = this.#toSummary({ id: summary.id, head: before });
    if (!this.#sealing.isSealed && isFoundOtherwise(summaryBefore, summary)) {
      const { content } = this.#get(summary.id);
      this.#words.change(row, { ...summaryBefore, content }, { ...summary, content });
      if (summary.secret) this.#words.forget(row, plainText(content));
    }
    const isMovedOnly = JSON.stringify({ ...summaryBefore, order: summary.order }) === JSON.stringify(summary);
    if (isMovedOnly) this.#known.forget('last');
    else this.#known.clear();
    if (summaryBefore.order === summary.order && summaryBefore.facts.bytes === summary.facts.bytes) return;
    this.#shelves.change(summaryBefore.order, summaryBefore.facts.bytes, -1);
    this.#shelves.change(summary.order, summary.facts.bytes, 1);
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
      this.#sealing.seal(bytes, associatedData('media', 'bytes', hash)),
    );
    this.#known.forget('bytes');
  }

  async findSettings(): Promise<string | undefined> {
    return this.#known.of('settings', () => {
      const row = this.#one<{ value: string }>("SELECT value FROM settings WHERE name = 'drawer'");
      return row && this.#sealing.openText(row.value, associatedData('settings', 'value', 'drawer'));
    });
  }

  async putSettings(json: string): Promise<void> {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('drawer', ?)").run(
      this.#sealing.sealText(json, associatedData('settings', 'value', 'drawer')),
    );
    this.#known.forget('settings');
  }

  async findNote(name: string): Promise<string | undefined> {
    const row = this.#one<StoredNote>('SELECT name, value FROM note WHERE name = ?', name);
    return row && this.#openNote(row).value;
  }

  async notes(from: string, to: string, limit: number): Promise<readonly StoredNote[]> {
    const sql = 'SELECT name, value FROM note WHERE name >= ? AND name < ? ORDER BY name LIMIT ?';
    return (this.#prepare(sql).all(from, to, limit) as StoredNote[]).map((row) => this.#openNote(row));
  }

  #openNote({ name, value }: StoredNote): StoredNote {
    return { name, value: this.#sealing.openText(value, associatedData('note', 'value', name)) };
  }

  async putNote(name: string, value: string | undefined): Promise<void> {
    if (value === undefined) this.#prepare('DELETE FROM note WHERE name = ?').run(name);
    else
      this.#prepare('INSERT OR REPLACE INTO note (name, value) VALUES (?, ?)').run(
        name,
        this.#sealing.sealText(value, associatedData('note', 'value', name)),
      );
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

  async faults(): Promise<readonly Message[]> {
    this.settle();
    const { missing, foreign } = this.#schemaFaults();
    if (missing.length > 0) return missing.map((name) => ({ kind: 'fault.schemaMissing', params: { name } }));
    const broken = (this.#prepare('PRAGMA integrity_check(20)').all() as { integrity_check: string }[])
      .map((row) => row.integrity_check)
      .filter((words) => words !== 'ok');
    const counted = this.#one<{ count: number }>('SELECT count(*) AS count FROM snippet')?.count;
    const indexed = (this.#one<{ count: number }>('SELECT count(*) AS count FROM finder')?.count ?? 0) + this.waiting();
    const count = this.#shelves.count();
    return [
      ...broken.map((detail) => ({ kind: 'fault.file', params: { detail } })),
      ...(counted === count ? [] : [{ kind: 'fault.count', params: { found: counted ?? 0, count } }]),
      ...(this.#sealing.isSealed || counted === indexed
        ? []
        : [{ kind: 'fault.indexed', params: { found: indexed, count: counted ?? 0 } }]),
      ...this.#misfiled(),
      ...foreign.map((name) => ({ kind: 'fault.schemaForeign', params: { name } })),
    ];
  }

  /** Tables, indexes, triggers and views that the file should have and has not, or the other way round; SQLite's own are left out. */
  #schemaFaults(): { readonly missing: readonly string[]; readonly foreign: readonly string[] } {
    const sql = "SELECT name FROM sqlite_schema WHERE name NOT GLOB 'sqlite_*' AND name NOT GLOB 'finder_*'";
    const there = (this.#prepare(sql).all() as { name: string }[]).map(({ name }) => name);
    const wanted = schemaNames();
    return {
      missing: wanted.filter((name) => !there.includes(name)),
      foreign: there.filter((name) => !wanted.includes(name)),
    };
  }

  /** Whether the columns that rows are found by are those of what they hold; damaged rows are not told of here. */
  #misfiled(): readonly Message[] {
    let count = 0;
    let after = -1;
    const next = this.#prepare('SELECT * FROM snippet WHERE row > ? ORDER BY row LIMIT 500');
    for (let rows = next.all(after) as FiledRow[]; rows.length > 0; rows = next.all(after) as FiledRow[]) {
      for (const { order, alike, expires, bytes, ...row } of rows) {
        const summary = unlessDamaged(() => this.#toSummary(row));
        if (summary && JSON.stringify(this.#columns(summary)) !== JSON.stringify([order, alike, expires, bytes]))
          count++;
      }
      after = rows.at(-1)?.row ?? after;
    }
    return count === 0 ? [] : [{ kind: 'fault.misfiled', params: { count } }];
  }

  /** Rises when another connection has changed the file. */
  #dataVersion(): number {
    return this.#one<{ data_version: number }>('PRAGMA data_version')?.data_version ?? 0;
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

/** Whether the index has to learn of a summary anew. */
function isFoundOtherwise(before: SnippetSummary, after: SnippetSummary): boolean {
  const told = ({ label, held, secret, expiresAt }: SnippetSummary): string =>
    JSON.stringify([label, held, secret, expiresAt]);
  return told(before) !== told(after);
}
