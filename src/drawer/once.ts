/**
 * What loads something the first time it is asked for, and again only after a failure: an import takes time each time, even of
 * what is loaded.
 */
export function once<T>(load: () => Promise<T>): () => Promise<T> {
  let loaded: Promise<T> | undefined;
  return () => {
    loaded ??= load().catch((error: unknown) => {
      loaded = undefined;
      throw error;
    });
    return loaded;
  };
}
