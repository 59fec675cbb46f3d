import {
  type Action,
  noSnippet,
  type Snippet,
  type SnippetHead,
  type Storage,
  type WritableRows,
} from '../drawer/index.ts';
import { WorkQueue } from './queue.ts';

/** A drawer that lives as long as the program. */
export function memoryStorage(): Storage {
  const queue = new WorkQueue();
  let state = emptyState;
  return {
    read: (work) => queue.add(() => work(new MemoryRows(state))),
    write: (work) =>
      queue.add(async () => {
        const rows = new MemoryRows(state);
        const result = await work(rows);
        state = rows.state;
        return result;
      }),
    close: async () => {},
  };
}

/** Never changed in place, so that a work that fails leaves the state before it. */
interface State {
  /** In order. */
  readonly snippets: readonly Snippet[];
  readonly media: ReadonlyMap<string, Uint8Array>;
  readonly actions: readonly Action[];
  readonly settings?: string;
}

const emptyState: State = { snippets: [], media: new Map(), actions: [] };

class MemoryRows implements WritableRows {
  state: State;

  constructor(state: State) {
    this.state = state;
  }

  async count(): Promise<number> {
    return this.state.snippets.length;
  }

  async heads(offset: number, limit: number): Promise<readonly SnippetHead[]> {
    return this.state.snippets.slice(Math.max(0, offset), offset + limit).map(({ content: _, ...head }) => head);
  }

  async get(id: string): Promise<Snippet> {
    const snippet = this.state.snippets.find((each) => each.id === id);
    if (!snippet) throw noSnippet(id);
    return snippet;
  }

  async findLast(): Promise<SnippetHead | undefined> {
    return (await this.heads(this.state.snippets.length - 1, 1))[0];
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

  async findAction(which: 'last done' | 'first undone'): Promise<Action | undefined> {
    const { actions } = this.state;
    return which === 'last done'
      ? actions.findLast(({ state }) => state === 'done')
      : actions.find(({ state }) => state === 'undone');
  }

  async insert(snippet: Snippet): Promise<void> {
    this.state = {
      ...this.state,
      snippets: this.state.snippets.toSpliced(placeFor(this.state.snippets, snippet.order), 0, snippet),
    };
  }

  async remove(id: string): Promise<void> {
    this.state = { ...this.state, snippets: this.state.snippets.filter((snippet) => snippet.id !== id) };
  }

  async setHead(head: SnippetHead): Promise<void> {
    const { content } = await this.get(head.id);
    await this.remove(head.id);
    await this.insert({ ...head, content });
  }

  async putMedia(hash: string, bytes: Uint8Array): Promise<void> {
    this.state = { ...this.state, media: new Map(this.state.media).set(hash, bytes) };
  }

  async putAction(action: Action): Promise<void> {
    const others = this.state.actions.filter(({ number }) => number !== action.number);
    this.state = { ...this.state, actions: [...others, action].sort((one, other) => one.number - other.number) };
  }

  async trimActions(depth: number): Promise<void> {
    this.state = { ...this.state, actions: this.state.actions.filter(({ state }) => state === 'done').slice(-depth) };
  }
}

/** Where a snippet with this order key stands: the first position whose key is not lower. */
function placeFor(snippets: readonly Snippet[], order: string): number {
  let [low, high] = [0, snippets.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((snippets[middle] as Snippet).order < order) low = middle + 1;
    else high = middle;
  }
  return low;
}
