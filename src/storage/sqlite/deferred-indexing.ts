/** So few snippets may stay unindexed when a drawer is closed; searching them by reading takes hardly any time. */
const few = 64;

/** With more unindexed snippets than this, indexing starts without waiting for a pause. */
const many = 16_000;

/** Snippets indexed at once: a few milliseconds' work in a pause, more if many wait, and the fastest overall at the end. */
const portions = { pause: 128, behind: 1_000, last: 4_000 } as const;

/** Time without writes before indexing starts, in milliseconds. */
const pause = 100;

/**
 * Indexes snippets in batches, in the pauses of a program and before it ends, because indexing them one by one takes several times
 * as long as keeping them. Searches read unindexed snippets directly.
 */
export class DeferredIndexing {
  readonly #portion: (most: number) => Promise<number>;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #isAtIt = false;
  #hasEnded = false;

  /** @param portion - indexes at most so many snippets; returns the number left */
  constructor(portion: (most: number) => Promise<number>) {
    this.#portion = portion;
  }

  /** Restarts the pause after a write. */
  wrote(waiting: number): void {
    this.#plan(waiting, waiting > many ? 0 : pause);
  }

  /** Plans indexing after a read, which delays nothing. */
  wasRead(waiting: number): void {
    if (this.#timer === undefined) this.#plan(waiting, pause);
  }

  /** Indexes what is left, unless it is little, and stops. */
  async end(waiting: number): Promise<void> {
    this.#hasEnded = true;
    clearTimeout(this.#timer);
    for (let left = waiting; left > few; ) left = await this.#tried(portions.last);
  }

  #plan(waiting: number, time: number): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    if (waiting <= few || this.#isAtIt || this.#hasEnded) return;
    this.#timer = setTimeout(() => void this.#step(waiting > many ? portions.behind : portions.pause), time);
    this.#timer.unref();
  }

  /** Indexes one batch and plans the next one behind other work. */
  async #step(most: number): Promise<void> {
    this.#isAtIt = true;
    const waiting = await this.#tried(most);
    this.#isAtIt = false;
    this.#plan(waiting, 0);
  }

  /** Ignores failures; the next writer tries again. */
  async #tried(most: number): Promise<number> {
    try {
      return await this.#portion(most);
    } catch {
      return 0;
    }
  }
}
