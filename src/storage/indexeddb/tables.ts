import type { DBSchema, IDBPDatabase, IDBPTransaction } from 'idb';
import { type Action, findable, lookOf, type Snippet, type SnippetSummary } from '../../drawer/index.ts';

/** Rises with every change of the tables. */
export const version = 4;

/** A summary as it is kept: what it is found and sorted by stands beside it, since the summary itself may be sealed. */
export interface SummaryRow {
  readonly id: string;
  readonly order: string;
  /** The same for snippets that look the same in a list. */
  readonly alike: string;
  readonly bytes: number;
  readonly expiresAt?: string;
  readonly head: unknown;
}

/** What a snippet is found by; not kept while the drawer is sealed. */
export interface FindRow {
  readonly id: string;
  readonly takenAt: string;
  readonly order: string;
  readonly found: ReturnType<typeof findable>;
}

/** How many snippets stand in a stretch of order keys, from `first` to the next one's: positions are found by these. */
export interface ShelfRow {
  readonly first: string;
  readonly snippets: number;
}

export interface ActionRow {
  readonly number: number;
  readonly state: Action['state'];
  readonly action: unknown;
}

/** Summaries and contents stand apart, so that a list reads no content; summaries are sorted by their order keys. */
export interface Tables extends DBSchema {
  heads: { key: string; value: SummaryRow; indexes: { order: string; alike: string; expiresAt: string } };
  contents: { key: string; value: { readonly id: string; readonly content: unknown } };
  finds: { key: string; value: FindRow; indexes: { age: [string, string] } };
  shelves: { key: string; value: ShelfRow };
  media: { key: string; value: { readonly hash: string; readonly bytes: Uint8Array } };
  actions: { key: number; value: ActionRow; indexes: { state: string } };
  /** `drawer`: the settings; `lock`: the lock as JSON; `bytes`: how many bytes words and pictures take. */
  settings: { key: string; value: unknown };
}

export const tableNames = ['heads', 'contents', 'finds', 'shelves', 'media', 'actions', 'settings'] as const;
export type Transaction = IDBPTransaction<Tables, typeof tableNames, 'readwrite'>;

/** The drawer as older versions kept it: summaries and actions as they are, and no counts. */
interface OldTables {
  readonly summaries: readonly SnippetSummary[];
  readonly contents: readonly { readonly id: string; readonly content: Snippet['content'] }[];
  readonly actions: readonly Action[];
}

/** Makes the tables, or brings those of an older version up. */
export async function upgrade(
  database: IDBPDatabase<Tables>,
  from: number,
  transaction: IDBPTransaction<Tables, (typeof tableNames)[number][], 'versionchange'>,
): Promise<void> {
  const old = from > 0 ? await readOld(transaction) : undefined;
  for (const name of ['heads', 'actions'] as const) if (old) database.deleteObjectStore(name);
  const summaries = database.createObjectStore('heads', { keyPath: 'id' });
  // Not unique, since snippets that change places pass through each other's.
  summaries.createIndex('order', 'order');
  summaries.createIndex('alike', 'alike');
  summaries.createIndex('expiresAt', 'expiresAt');
  database.createObjectStore('actions', { keyPath: 'number' }).createIndex('state', 'state');
  // The oldest first, as the index of words takes them in.
  database.createObjectStore('finds', { keyPath: 'id' }).createIndex('age', ['takenAt', 'id']);
  database.createObjectStore('shelves', { keyPath: 'first' });
  if (!database.objectStoreNames.contains('contents')) database.createObjectStore('contents', { keyPath: 'id' });
  if (!database.objectStoreNames.contains('media')) database.createObjectStore('media', { keyPath: 'hash' });
  if (!database.objectStoreNames.contains('settings')) database.createObjectStore('settings');
  await transaction.objectStore('shelves').put({ first: '', snippets: old?.summaries.length ?? 0 });
  if (old) await bringUp(transaction, old);
}

type UpgradeTransaction = Parameters<typeof upgrade>[2];

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
