/** Does what is asked for in the order of the calls, though some load first what they need: those behind them wait for that too. */
export class CallOrder {
  /** Settled when nothing is being loaded any more. */
  #loading: Promise<void> | undefined;

  /** Calls `hand`, which hands a work over, with what was loaded; gives its result. */
  hand<T, L>(hand: (loaded: L) => Promise<T>, loading?: Promise<L>): Promise<T> {
    const before = this.#loading;
    if (!before && !loading) return hand(undefined as L);
    const handed = Promise.all([loading, before]).then(([loaded]) => ({ result: hand(loaded as L) }));
    const settled = Promise.allSettled([handed, before]).then(() => {
      if (this.#loading === settled) this.#loading = undefined;
    });
    this.#loading = settled;
    return handed.then(({ result }) => result);
  }

  /** Does a work of several steps, with nothing that is asked for later in between. */
  whole<T>(work: () => Promise<T>): Promise<T> {
    return this.hand(async (result) => result, (this.#loading ?? Promise.resolve()).then(work));
  }
}

/**
 * What loads something the first time it is asked for, and again only after a failure: an import takes time each time, even of
 * what is loaded.
 */
export function memoize<T>(load: () => Promise<T>): () => Promise<T> {
  let loaded: Promise<T> | undefined;
  return () => {
    loaded ??= load().catch((error: unknown) => {
      loaded = undefined;
      throw error;
    });
    return loaded;
  };
}
