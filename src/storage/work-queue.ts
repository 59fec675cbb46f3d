import { DrawerError } from '../content/index.ts';

/** Runs works one after another, in the order they came; one that fails does not stop the next. */
export class WorkQueue {
  #last: Promise<unknown> = Promise.resolve();
  #ending: Promise<void> | undefined;

  /** @throws DrawerError `storage` once it was ended. */
  async add<T>(work: () => Promise<T>): Promise<T> {
    if (this.#ending) throw closed();
    return this.#run(work);
  }

  /** Runs a last work behind all that wait; asked for again, it is the same one. */
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

/** How often a storage that others may change is looked at, in milliseconds. */
const interval = 250;

/** Those who want to know of changes: told at once of this program's, and soon of others'. */
export class Watchers {
  readonly #version: (() => unknown) | undefined;
  readonly #told = new Set<() => void>();
  #timer: ReturnType<typeof setInterval> | undefined;
  #hasEnded = false;
  #seen: unknown;

  /** `version` gives something else once another program has made a change; not a number means that it cannot be told now. */
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

  /** An error of one of them is theirs alone: the change was made, and the others are told of it. */
  tell(): void {
    for (const changed of [...this.#told])
      try {
        changed();
      } catch (error) {
        queueMicrotask(() => {
          throw error; // uncaught, as that of an event's listener is
        });
      }
  }

  /** Nobody is told any more. */
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
