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
