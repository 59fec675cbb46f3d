import type { Findable, Snippet, SnippetSummary } from '../../drawer/index.ts';

/** What is read of the file again and again. */
interface Values {
  /** Of the file's tables. */
  readonly version: number;
  /** As JSON. */
  readonly lock: string | undefined;
  readonly settings: string | undefined;
  readonly count: number;
  readonly bytes: number;
  /** The summary at the end. */
  readonly last: SnippetSummary | undefined;
  /** The first order key of the open shelf. */
  readonly openFrom: string;
  /** The highest number of a row, 0 for none. */
  readonly newestRow: number;
  /** When the first one's time is up. */
  readonly nextExpiry: string | undefined;
  /** The last row whose words are in the index. */
  readonly indexedTo: number;
  /** How many rows come behind it. */
  readonly waiting: number;
  /** Those of them that this program wrote, as far as it keeps them. */
  readonly fresh: Map<number, Snippet>;
  /** What they are found by, the newest first. */
  readonly newer: Map<number, Findable>;
  /** No action that is kept has a number below `first`; `last` is that of the last done, 0 for none. */
  readonly actions: { readonly first: number; readonly last: number; readonly anyUndone: boolean };
}

/**
 * What one connection knows of its file, for as long as nobody else changes that: a work need not read again what the one
 * before it read or wrote. Whoever writes says what becomes of it, or has it forgotten.
 */
export class RowCache {
  readonly #versionNow: () => number;
  /** Of the file, as others change it. */
  #version: number | undefined;
  readonly #values = new Map<keyof Values, unknown>();

  /** `versionNow` rises when another connection has changed the file. */
  constructor(versionNow: () => number) {
    this.#versionNow = versionNow;
  }

  /** Begins a work: forgets all when the file was changed by others. */
  begin(): void {
    if (this.#values.size > 0 && this.#versionNow() !== this.#version) this.#values.clear();
  }

  /** What is known by this name, or what `read` gives. */
  of<N extends keyof Values>(name: N, read: () => Values[N]): Values[N] {
    if (this.#values.has(name)) return this.#values.get(name) as Values[N];
    if (this.#values.size === 0) this.#version = this.#versionNow();
    const value = read();
    this.#values.set(name, value);
    return value;
  }

  /** What is known by this name. */
  peek<N extends keyof Values>(name: N): Values[N] | undefined {
    return this.#values.get(name) as Values[N] | undefined;
  }

  /** Takes in what a change makes of a value, where that is known. */
  change<N extends keyof Values>(name: N, next: (before: Values[N]) => Values[N]): void {
    if (this.#values.has(name)) this.#values.set(name, next(this.#values.get(name) as Values[N]));
  }

  forget(...names: readonly (keyof Values)[]): void {
    for (const name of names) this.#values.delete(name);
  }

  clear(): void {
    this.#values.clear();
  }
}
