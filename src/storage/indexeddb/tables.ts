import type { DBSchema, IDBPDatabase, IDBPTransaction } from 'idb';
import { type Action, findable, lookOf, type Snippet, type SnippetSummary } from '../../drawer/index.ts';

/** The version of the tables; increases with every change of them. */
export const version = 5;

/** A stored summary. Its keys are stored beside it, because the summary itself may be encrypted. */
export interface SummaryRow {
  readonly id: string;
  readonly order: string;
  /** A digest that is equal for snippets that look alike in a list. */
  readonly alike: string;
  readonly bytes: number;
  readonly expiresAt?: string;
  readonly head: unknown;
}

/** The searchable text of a snippet; not stored while the drawer is encrypted. */
export interface FindRow {
  readonly id: string;
  readonly takenAt: string;
  readonly order: string;
  readonly found: ReturnType<typeof findable>;
}

/** The number of snippets with order keys from `first` up to the next shelf's; used to find positions. */
export interface ShelfRow {
  readonly first: string;
  readonly snippets: number;
}

export interface ActionRow {
  readonly number: number;
  readonly state: Action['state'];
  readonly action: unknown;
}

/** Summaries and contents are separate, so that a list reads no content. Summaries are indexed by order key. */
export interface Tables extends DBSchema {
  heads: { key: string; value: SummaryRow; indexes: { order: [string, string]; alike: string; expiresAt: string } };
  contents: { key: string; value: { readonly id: string; readonly content: unknown } };
  finds: { key: string; value: FindRow; indexes: { age: [string, string] } };
  shelves: { key: string; value: ShelfRow };
  media: { key: string; value: { readonly hash: string; readonly bytes: Uint8Array } };
  actions: { key: number; value: ActionRow; indexes: { state: string } };
  notes: { key: string; value: { readonly name: string; readonly value: unknown } };
  /** `drawer`: the settings; `lock`: the lock as JSON; `bytes`: the size of all words and pictures. */
  settings: { key: string; value: unknown };
}

export const tableNames = ['heads', 'contents', 'finds', 'shelves', 'media', 'actions', 'settings', 'notes'] as const;
export type Transaction = IDBPTransaction<Tables, typeof tableNames, 'readwrite'>;

/** The tables of older versions: summaries and actions without keys beside them, and no counts. */
interface OldTables {
  readonly summaries: readonly SnippetSummary[];
  readonly contents: readonly { readonly id: string; readonly content: Snippet['content'] }[];
  readonly actions: readonly Action[];
}

/** Creates the tables, or migrates those of an older version. */
export async function upgrade(
  database: IDBPDatabase<Tables>,
  from: number,
  transaction: IDBPTransaction<Tables, (typeof tableNames)[number][], 'versionchange'>,
): Promise<void> {
  database.createObjectStore('notes', { keyPath: 'name' });
  if (from === 4) return sortByIdsToo(transaction);
  const old = from > 0 ? await readOld(transaction) : undefined;
  for (const name of ['heads', 'actions'] as const) if (old) database.deleteObjectStore(name);
  const summaries = database.createObjectStore('heads', { keyPath: 'id' });
  summaries.createIndex('order', sortKeyPath);
  summaries.createIndex('alike', 'alike');
  summaries.createIndex('expiresAt', 'expiresAt');
  database.createObjectStore('actions', { keyPath: 'number' }).createIndex('state', 'state');
  // Oldest first, the order in which the index is built.
  database.createObjectStore('finds', { keyPath: 'id' }).createIndex('age', ['takenAt', 'id']);
  database.createObjectStore('shelves', { keyPath: 'first' });
  if (!database.objectStoreNames.contains('contents')) database.createObjectStore('contents', { keyPath: 'id' });
  if (!database.objectStoreNames.contains('media')) database.createObjectStore('media', { keyPath: 'hash' });
  if (!database.objectStoreNames.contains('settings')) database.createObjectStore('settings');
  await transaction.objectStore('shelves').put({ first: '', snippets: old?.summaries.length ?? 0 });
  if (old) await bringUp(transaction, old);
}

type UpgradeTransaction = Parameters<typeof upgrade>[2];

const sortKeyPath = ['order', 'id'];

/** Version 4 sorted by order keys alone. */
function sortByIdsToo(transaction: UpgradeTransaction): void {
  const summaries = transaction.objectStore('heads');
  summaries.deleteIndex('order');
  summaries.createIndex('order', sortKeyPath);
}

const readOld = async (transaction: UpgradeTransaction): Promise<OldTables> => ({
  summaries: (await transaction.objectStore('heads').getAll()) as unknown as SnippetSummary[],
  contents: (await transaction.objectStore('contents').getAll()) as OldTables['contents'],
  actions: (await transaction.objectStore('actions').getAll()) as unknown as Action[],
});

async function bringUp(transaction: UpgradeTransaction, { summaries, contents, actions }: OldTables): Promise<void> {
  const contentOf = new Map(contents.map(({ id, content }) => [id, content]));
  let bytes = 0;
  for (const summary of summaries) {
    const { id, order, takenAt, facts, expiresAt } = summary;
    bytes += facts.bytes;
    await transaction.objectStore('heads').put({
      id,
      order,
      alike: lookOf(facts),
      bytes: facts.bytes,
      ...(expiresAt !== undefined && { expiresAt }),
      head: summary,
    });
    const content = contentOf.get(id);
    if (content)
      await transaction.objectStore('finds').put({ id, takenAt, order, found: findable({ ...summary, content }) });
  }
  for (const action of actions)
    await transaction.objectStore('actions').put({ number: action.number, state: action.state, action });
  for await (const { value } of transaction.objectStore('media')) bytes += value.bytes.length;
  await transaction.objectStore('settings').put(bytes, 'bytes');
}
