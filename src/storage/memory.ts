import type { Message } from '../content/index.ts';
import {
  type Action,
  compareOrder,
  type Drawer,
  type DrawerTools,
  type Facts,
  getSnippet,
  hashesOf,
  lookOf,
  picturesOf,
  type Query,
  type Snippet,
  type SnippetSummary,
  type SortKey,
  type Storage,
  StoredDrawer,
  type StoredNote,
  searchThrough,
  type TrimResult,
  type WritableRows,
} from '../drawer/index.ts';
import { Watchers, WorkQueue } from './work-queue.ts';

/** A storage that lasts as long as the program. */
export function memoryStorage(): Storage {
  const queue = new WorkQueue();
  const watchers = new Watchers();
  let state = emptyState;
  return {
    read: (work) => queue.add(() => work(new MemoryRows(state))),
    write: (work) =>
      queue.add(async () => {
        const rows = new MemoryRows(state);
        const result = await work(rows);
        state = rows.state;
        watchers.tell();
        return result;
      }),
    watch: (changed) => watchers.add(changed),
    close: () => queue.end(async () => watchers.end()),
  };
}

/** Never changed in place, so that a failed transaction leaves the previous state. */
interface State {
  /** In order. */
  readonly snippets: readonly Snippet[];
  readonly media: ReadonlyMap<string, Uint8Array>;
  readonly actions: readonly Action[];
  readonly settings?: string;
  readonly notes: ReadonlyMap<string, string>;
}

const emptyState: State = { snippets: [], media: new Map(), actions: [], notes: new Map() };

class MemoryRows implements WritableRows {
  state: State;

  constructor(state: State) {
    this.state = state;
  }

  async count(): Promise<number> {
    return this.state.snippets.length;
  }

  async summaries(offset: number, limit: number): Promise<readonly SnippetSummary[]> {
    return this.state.snippets.slice(Math.max(0, offset), offset + limit).map(summaryOf);
  }

  async findSnippet(id: string): Promise<Snippet | undefined> {
    return indexOf(this.state.snippets).byId.get(id);
  }

  countsBefore(keys: readonly SortKey[]): Promise<readonly number[]> {
    return Promise.all(keys.map((key) => this.countBefore(key)));
  }

  async countBefore(key: SortKey): Promise<number> {
    return placeFor(this.state.snippets, key);
  }

  async bytes(): Promise<number> {
    const words = this.state.snippets.reduce((sum, { facts }) => sum + facts.bytes, 0);
    return [...this.state.media.values()].reduce((sum, { length }) => sum + length, words);
  }

  async search(query: Query, limit: number): Promise<readonly SnippetSummary[]> {
    return searchThrough(this.state.snippets, query, limit);
  }

  async duplicates(facts: readonly Facts[]): Promise<readonly SnippetSummary[]> {
    const looks = new Set(facts.map(lookOf));
    return this.state.snippets.filter((snippet) => looks.has(lookOf(snippet.facts))).map(summaryOf);
  }

  async expired(now: string, limit?: number): Promise<readonly SnippetSummary[]> {
    const { expiring } = indexOf(this.state.snippets);
    const due = expiring.filter(({ expiresAt = '' }) => expiresAt <= now);
    return due.map(summaryOf).sort(bySoonest).slice(0, limit);
  }

  async actions(): Promise<readonly Action[]> {
    const { actions } = this.state;
    return [
      ...actions.filter(({ state }) => state === 'done').reverse(),
      ...actions.filter(({ state }) => state === 'undone'),
    ];
  }

  async mediaHashes(): Promise<readonly string[]> {
    return [...this.state.media.keys()].sort();
  }

  async showsMedia(hash: string): Promise<boolean> {
    return this.state.snippets.some(({ content }) => picturesOf(content).has(hash));
  }

  async faults(): Promise<readonly Message[]> {
    return [];
  }

  async findLast(): Promise<SnippetSummary | undefined> {
    return (await this.summaries(this.state.snippets.length - 1, 1))[0];
  }

  async findMedia(hash: string): Promise<Uint8Array | undefined> {
    return this.state.media.get(hash);
  }

  async findSettings(): Promise<string | undefined> {
    return this.state.settings;
  }

  async putSettings(settings: string): Promise<void> {
    this.state = { ...this.state, settings };
  }

  async findNote(name: string): Promise<string | undefined> {
    return this.state.notes.get(name);
  }

  async notes(from: string, to: string, limit: number): Promise<readonly StoredNote[]> {
    const names = [...this.state.notes.keys()].filter((name) => name >= from && name < to).sort();
    return names.slice(0, limit).map((name) => ({ name, value: this.state.notes.get(name) as string }));
  }

  async putNote(name: string, value: string | undefined): Promise<void> {
    const notes = new Map(this.state.notes);
    if (value === undefined) notes.delete(name);
    else notes.set(name, value);
    this.state = { ...this.state, notes };
  }

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const { actions } = this.state;
    return which === 'last done'
      ? actions.findLast(({ state }) => state === 'done')
      : actions.find(({ state }) => state === 'undone');
  }

  async insert(snippet: Snippet): Promise<void> {
    this.state = {
      ...this.state,
      snippets: this.state.snippets.toSpliced(placeFor(this.state.snippets, snippet), 0, snippet),
    };
  }

  async remove(id: string): Promise<void> {
    this.state = { ...this.state, snippets: this.state.snippets.filter((snippet) => snippet.id !== id) };
  }

  erase(id: string): Promise<void> {
    return this.remove(id);
  }

  async setSummary(summary: SnippetSummary): Promise<void> {
    const { content } = await getSnippet(this, summary.id);
    await this.remove(summary.id);
    await this.insert({ ...summary, content });
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    this.state = { ...this.state, media: new Map(this.state.media).set(hash, bytes.slice()) };
  }

  async removeMedia(hash: string): Promise<void> {
    const media = new Map(this.state.media);
    media.delete(hash);
    this.state = { ...this.state, media };
  }

  async forgetAction(number: number): Promise<void> {
    this.state = { ...this.state, actions: this.state.actions.filter((action) => action.number !== number) };
  }

  async putAction(action: Action): Promise<void> {
    const others = this.state.actions.filter(({ number }) => number !== action.number);
    this.state = { ...this.state, actions: [...others, action].sort((one, other) => one.number - other.number) };
  }

  async trimActions(depth: number): Promise<TrimResult> {
    const done = this.state.actions.filter(({ state }) => state === 'done');
    const kept = new Set(depth > 0 ? done.slice(-depth) : []);
    const forgotten = this.state.actions.filter((action) => !kept.has(action) && hashesOf(action).length > 0);
    this.state = { ...this.state, actions: [...kept] };
    return { last: done.at(-1)?.number ?? 0, forgotten };
  }
}

/** Lookups over a list of snippets, built on first use. */
interface SnippetIndex {
  readonly byId: ReadonlyMap<string, Snippet>;
  readonly expiring: readonly Snippet[];
}

const indexes = new WeakMap<readonly Snippet[], SnippetIndex>();

function indexOf(snippets: readonly Snippet[]): SnippetIndex {
  const known = indexes.get(snippets);
  if (known) return known;
  const index = {
    byId: new Map(snippets.map((snippet) => [snippet.id, snippet])),
    expiring: snippets.filter(({ expiresAt }) => expiresAt !== undefined),
  };
  indexes.set(snippets, index);
  return index;
}

const summaryOf = ({ content: _, ...summary }: Snippet): SnippetSummary => summary;

const bySoonest = (one: SnippetSummary, other: SnippetSummary): number =>
  (one.expiresAt ?? '') < (other.expiresAt ?? '') ? -1 : 1;

/** The number of snippets before a place. */
function placeFor(snippets: readonly Snippet[], key: SortKey): number {
  let [low, high] = [0, snippets.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compareOrder(snippets[middle] as Snippet, key) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Options of `createDrawer`. */
export interface DrawerOptions extends Partial<DrawerTools> {
  /** Default: in memory, as long as the program lasts. */
  readonly storage?: Storage | undefined;
}

/** Creates a drawer in a storage; by default an empty one in memory. */
export const createDrawer = ({
  storage = memoryStorage(),
  clock = () => new Date(),
  generateId = () => crypto.randomUUID(),
  files,
}: DrawerOptions = {}): Drawer => new StoredDrawer(storage, { clock, generateId, ...(files && { files }) });
