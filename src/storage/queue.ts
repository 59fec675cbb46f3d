/** Runs works one after another, in the order they came; one that fails does not stop the next. */
export class WorkQueue {
  #last: Promise<unknown> = Promise.resolve();

  add<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#last.then(work);
    this.#last = result.catch(() => {});
    return result;
  }
}
