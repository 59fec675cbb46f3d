import type { Content, Media } from '../../content/index.ts';
import {
  type Drawer,
  type Listed,
  originsOf,
  type SequencePoint,
  type Settings,
  type Snippet,
  searchKindsOf,
} from '../../drawer/index.ts';

/** Slips read at once. */
const pageSize = 50;
/** Pages kept in memory. */
const mostPages = 40;
/** Kinds to filter by, in this order. */
const kinds = ['words', 'section', 'table', 'list', 'picture', 'link', 'held', 'secret'] as const;
/** Sources to filter by, at most. */
const mostSources = 8;
/** Slips that a search shows, at most. */
const mostFound = 100;

/**
 * The state of a panel: visible slips, chosen slips, and the drawer's settings. Only pages around the visible slips are read, so a
 * drawer may be larger than memory.
 */
export class PanelModel {
  readonly drawer: Drawer;
  readonly #changed: () => void;
  readonly #pages = new Map<number, readonly Listed[]>();
  readonly #loading = new Set<number>();
  #unwatch: (() => void) | undefined;
  #reading: Promise<void> | undefined;
  #again: Promise<void> | undefined;
  #generation = 0;

  count = 0;
  bytes = 0;
  settings: Settings | undefined;
  sequence: SequencePoint | undefined;
  isLocked = false;
  /** Whether slips are shown compactly. */
  isDense = false;
  /** The search text; empty shows all. */
  query = '';
  /** The active filters, such as `is:table` and `from:costs.xlsx`. */
  filters: readonly string[] = [];
  /** Available filters: kinds and sources of the slips read so far. */
  readonly kinds = new Set<(typeof kinds)[number]>();
  readonly sources = new Set<string>();
  #found: readonly Listed[] | undefined;
  /** Ids in the order they were chosen. */
  chosen: readonly string[] = [];
  /** The active row, from 0. */
  active = 0;
  /** The visible rows, which are read first. */
  seen: readonly [first: number, last: number] = [0, 20];

  constructor(drawer: Drawer, changed: () => void) {
    this.drawer = drawer;
    this.#changed = changed;
  }

  /** Reads the drawer and follows its changes, also those of other windows. */
  async start(): Promise<void> {
    this.#unwatch ??= this.drawer.watch(() => void this.refresh());
    await this.refresh();
    // Loads the full-text index now instead of at the first letter of a search.
    void this.drawer.find(['is:nothing']).catch(() => {});
  }

  stop(): void {
    this.#unwatch?.();
    this.#unwatch = undefined;
  }

  /** Number of rows: all slips, or those found. */
  get rows(): number {
    return this.#found?.length ?? this.count;
  }

  get isFinding(): boolean {
    return this.#found !== undefined;
  }

  /** The slip of a row; `undefined` while it is being read, which this starts. */
  row(index: number): Listed | undefined {
    if (this.#found) return this.#found[index];
    const page = Math.floor(index / pageSize);
    const rows = this.#pages.get(page);
    if (!rows) void this.#load(page);
    return rows?.[index - page * pageSize];
  }

  get atHand(): Listed | undefined {
    return this.rows === 0 ? undefined : this.row(this.active);
  }

  /** The slips that a command acts on: those chosen, or the active one. */
  async subject(): Promise<readonly Listed[]> {
    if (this.chosen.length === 0) {
      const one = this.atHand;
      return one ? [one] : [];
    }
    return this.drawer.select(this.chosen.map((id) => `id:${id}`));
  }

  turnOf(id: string): number {
    return this.chosen.indexOf(id) + 1;
  }

  choose(id: string, isChosen = !this.chosen.includes(id)): void {
    const others = this.chosen.filter((each) => each !== id);
    this.chosen = isChosen ? [...others, id] : others;
    this.#changed();
  }

  chooseOnly(ids: readonly string[]): void {
    this.chosen = ids;
    this.#changed();
  }

  async chooseAll(): Promise<void> {
    const all = this.#found ?? (await this.drawer.select(['all']));
    this.chooseOnly(all.map(({ summary }) => summary.id));
  }

  activate(index: number): void {
    this.active = Math.max(0, Math.min(index, this.rows - 1));
    this.#changed();
  }

  /** Shows the slips that match a text, best first; the latest call wins. */
  async find(query: string): Promise<void> {
    this.query = query;
    const words = query.match(/(?:from|label|is):"[^"]+"|\S+/g)?.map((word) => word.replaceAll('"', '')) ?? [];
    const generation = ++this.#generation;
    const terms = [...words, ...this.filters];
    const found = terms.length === 0 ? undefined : await this.drawer.find(terms, { limit: mostFound });
    if (generation !== this.#generation) return;
    this.#found = found;
    this.active = 0;
    this.#changed();
  }

  /** Adds or removes a filter by kind or source. */
  async filter(term: string): Promise<void> {
    const isOn = this.filters.includes(term);
    this.filters = isOn ? this.filters.filter((each) => each !== term) : [...this.filters, term];
    await this.find(this.query);
  }

  /** Collects the available filters of a page. */
  #noteKinds(rows: readonly Listed[]): void {
    for (const { summary } of rows) {
      const own = searchKindsOf(summary);
      for (const kind of kinds) if (own.includes(kind)) this.kinds.add(kind);
      for (const { file, title } of originsOf(summary)) {
        const source = file ?? title;
        if (source && this.sources.size < mostSources) this.sources.add(source);
      }
    }
  }

  /** Reads the visible slips again; calls during a read share one more read. */
  refresh(): Promise<void> {
    if (!this.#reading) {
      this.#reading = this.#read().finally(() => {
        this.#reading = undefined;
      });
      return this.#reading;
    }
    this.#again ??= this.#reading
      .catch(() => {}) // reported to the callers of it
      .then(() => {
        this.#again = undefined;
        return this.refresh();
      });
    return this.#again;
  }

  async #read(): Promise<void> {
    const [first, last] = this.seen.map((index) => Math.floor(Math.max(0, index) / pageSize)) as [number, number];
    const pages: [number, readonly Listed[]][] = [];
    const [sequence, settings, isLocked] = await Promise.all([
      this.drawer.sequence(),
      this.drawer.settings(),
      this.drawer.isLocked(),
    ]);
    for (let page = first; page <= last; page++)
      pages.push([page, await this.drawer.list(page * pageSize + 1, pageSize)]);
    this.count = sequence.count;
    this.sequence = sequence;
    this.settings = settings;
    this.isLocked = isLocked;
    this.#pages.clear();
    for (const [page, rows] of pages) {
      this.#pages.set(page, rows);
      this.#noteKinds(rows);
    }
    if (this.query !== '' || this.filters.length > 0) await this.find(this.query);
    const shown = new Set(pages.flatMap(([, rows]) => rows.map(({ summary }) => summary.id)));
    const gone: string[] = [];
    for (const id of this.chosen) if (!shown.has(id) && !(await this.#has(id))) gone.push(id);
    this.chosen = this.chosen.filter((id) => !gone.includes(id));
    this.active = Math.max(0, Math.min(this.active, this.rows - 1));
    this.#changed();
    this.bytes = await this.drawer.bytes();
    this.#changed();
  }

  async #has(id: string): Promise<boolean> {
    try {
      await this.drawer.positionOf(id);
      return true;
    } catch {
      return false;
    }
  }

  async #load(page: number): Promise<void> {
    if (this.#loading.has(page)) return;
    this.#loading.add(page);
    try {
      const rows = await this.drawer.list(page * pageSize + 1, pageSize);
      if (this.#pages.size >= mostPages) this.#forgetFarFrom(page);
      this.#pages.set(page, rows);
      this.#noteKinds(rows);
    } finally {
      this.#loading.delete(page);
    }
    this.#changed();
  }

  #forgetFarFrom(page: number): void {
    const [farthest] = [...this.#pages.keys()].sort((one, other) => Math.abs(other - page) - Math.abs(one - page));
    if (farthest !== undefined) this.#pages.delete(farthest);
  }

  /** Full snippets in the given order; their pictures are loaded. */
  async whole(ids: readonly string[]): Promise<readonly Snippet[]> {
    return this.drawer.getMany(ids);
  }

  mediaOf(content: Content): Promise<Media> {
    return this.drawer.mediaOf(content);
  }
}
