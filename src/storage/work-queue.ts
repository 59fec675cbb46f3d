import { DrawerError } from '../content/index.ts';

/** Runs tasks one after another, in order; a failed one does not stop the next. */
export class WorkQueue {
  #last: Promise<unknown> = Promise.resolve();
  #ending: Promise<void> | undefined;

  /** @throws DrawerError `storage` after the end */
  async add<T>(work: () => Promise<T>): Promise<T> {
    if (this.#ending) throw closed();
    return this.#run(work);
  }

  /** Runs a last task after all waiting ones; later calls return the same promise. */
  end(work: () => Promise<void>): Promise<void> {
    this.#ending ??= this.#run(work);
    return this.#ending;
  }

  #run<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#last.then(work);
    this.#last = result.catch(() => {});
    return result;
  }
}

const closed = (): DrawerError => new DrawerError('storage/drawer-closed');

/** Interval for checking a storage that other programs may change, in milliseconds. */
const interval = 250;

/** Listeners of changes: called at once for those of this program, and soon for those of others. */
export class Watchers {
  readonly #version: (() => unknown) | undefined;
  readonly #told = new Set<() => void>();
  #timer: ReturnType<typeof setInterval> | undefined;
  #hasEnded = false;
  #seen: unknown;

  /** @param version - returns another value once another program has changed something; `NaN` if unknown at the moment */
  constructor(version?: () => unknown) {
    this.#version = version;
  }

  add(changed: () => void): () => void {
    this.#told.add(changed);
    this.#start();
    return () => {
      this.#told.delete(changed);
      if (this.#told.size === 0) this.#stop();
    };
  }

  /** Calls every listener; an error in one does not keep the others from being called. */
  tell(): void {
    for (const changed of [...this.#told])
      try {
        changed();
      } catch (error) {
        queueMicrotask(() => {
          throw error; // uncaught, like an error of an event listener
        });
      }
  }

  /** Removes all listeners. */
  end(): void {
    this.#hasEnded = true;
    this.#told.clear();
    this.#stop();
  }

  #stop(): void {
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  #start(): void {
    if (this.#timer !== undefined || !this.#version || this.#hasEnded) return;
    this.#seen = this.#version();
    this.#timer = setInterval(() => {
      const now = this.#version?.();
      if (Number.isNaN(now) || now === this.#seen) return;
      this.#seen = now;
      this.tell();
    }, interval);
  }
}
