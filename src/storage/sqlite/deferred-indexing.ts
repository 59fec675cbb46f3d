/** So few may wait when a drawer is closed: finding them by reading takes no time to speak of. */
const few = 64;

/** With so many waiting no pause is waited for. */
const many = 16_000;

/** How many are done at once: in a pause some milliseconds' work, and what takes the least time in all when nobody waits. */
const portions = { pause: 128, last: 4_000 } as const;

/** How long nothing is written before words are put into the index, in milliseconds. */
const pause = 100;

/**
 * Puts the words of what was kept into the index many at once, in the pauses of a program and before it ends: one by one that
 * takes several times as long as keeping. What waits is found all the same, by reading it.
 */
export class DeferredIndexing {
  readonly #portion: (most: number) => Promise<number>;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #isAtIt = false;
  #hasEnded = false;

  /** `portion` puts the words of at most so many snippets into the index, and gives how many wait still. */
  constructor(portion: (most: number) => Promise<number>) {
    this.#portion = portion;
  }

  /** Something was written: the pause begins anew, when so many wait that it is worth it. */
  wrote(waiting: number): void {
    this.#plan(waiting, waiting > many ? 0 : pause);
  }

  /** Something was read, which puts nothing off. */
  wasRead(waiting: number): void {
    if (this.#timer === undefined) this.#plan(waiting, pause);
  }

  /** Does what is left to do, where that is much, and nothing from then on. */
  async end(waiting: number): Promise<void> {
    this.#hasEnded = true;
    clearTimeout(this.#timer);
    for (let left = waiting; left > few; ) left = await this.#tried(portions.last);
  }

  #plan(waiting: number, time: number): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    if (waiting <= few || this.#isAtIt || this.#hasEnded) return;
    this.#timer = setTimeout(() => void this.#step(), time);
    this.#timer.unref();
  }

  /** One portion; the next comes right after what else there is to do. */
  async #step(): Promise<void> {
    this.#isAtIt = true;
    const waiting = await this.#tried(portions.pause);
    this.#isAtIt = false;
    this.#plan(waiting, 0);
  }

  /** What cannot be done now is done some other time, by whoever writes next. */
  async #tried(most: number): Promise<number> {
    try {
      return await this.#portion(most);
    } catch {
      return 0;
    }
  }
}
