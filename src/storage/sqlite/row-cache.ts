import type { Findable, Snippet, SnippetSummary } from '../../drawer/index.ts';

/** Values that are read repeatedly. */
interface Values {
  /** Version of the file's tables. */
  readonly version: number;
  /** As JSON. */
  readonly lock: string | undefined;
  readonly settings: string | undefined;
  readonly count: number;
  readonly bytes: number;
  /** The summary of the last snippet. */
  readonly last: SnippetSummary | undefined;
  /** First order key of the open shelf. */
  readonly openFrom: string;
  /** Highest row number, 0 if there are no rows. */
  readonly newestRow: number;
  /** Time at which the next snippet expires. */
  readonly nextExpiry: string | undefined;
  /** Last row in the full-text index. */
  readonly indexedTo: number;
  /** Number of rows behind it. */
  readonly waiting: number;
  /** Those of them that this program wrote and keeps in memory. */
  readonly fresh: Map<number, Snippet>;
  /** Their searchable text, newest first. */
  readonly newer: Map<number, Findable>;
  /** Lowest number of stored actions, and number of the last one done (0 for none). */
  readonly actions: { readonly first: number; readonly last: number; readonly anyUndone: boolean };
}

/**
 * Values of the file that one connection has read or written, valid until another connection changes the file. Writers update or
 * drop them.
 */
export class RowCache {
  readonly #versionNow: () => number;
  /** Data version, changed by other connections. */
  #version: number | undefined;
  readonly #values = new Map<keyof Values, unknown>();

  /** @param versionNow - increases when another connection has changed the file */
  constructor(versionNow: () => number) {
    this.#versionNow = versionNow;
  }

  /** Starts a transaction; drops all values if another connection changed the file. */
  begin(): void {
    if (this.#values.size > 0 && this.#versionNow() !== this.#version) this.#values.clear();
  }

  /** The cached value, or the result of `read`. */
  of<N extends keyof Values>(name: N, read: () => Values[N]): Values[N] {
    if (this.#values.has(name)) return this.#values.get(name) as Values[N];
    if (this.#values.size === 0) this.#version = this.#versionNow();
    const value = read();
    this.#values.set(name, value);
    return value;
  }

  /** The cached value, if any. */
  peek<N extends keyof Values>(name: N): Values[N] | undefined {
    return this.#values.get(name) as Values[N] | undefined;
  }

  /** Updates a cached value, if there is one. */
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
