import { expires } from './commit.ts';
import type { Storage } from './storage.ts';

/** Timers count no further, in milliseconds. */
const longest = 2 ** 31 - 1;
/** After what time one that could not be let go is tried again, in milliseconds. */
const again = 1_000;
/** Sorts behind every time. */
const ever = '~';
/** So many at most are looked through for one that is not held. */
const mostHeld = 100;

/**
 * Calls `letGo` when the time of the next snippet is up, rather than when somebody next looks. `plan` is called after every
 * change.
 */
export class Expiry {
  readonly #storage: Storage;
  readonly #now: () => Date;
  readonly #letGo: () => Promise<unknown>;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #hasEnded = false;

  constructor(storage: Storage, now: () => Date, letGo: () => Promise<unknown>) {
    this.#storage = storage;
    this.#now = now;
    this.#letGo = letGo;
  }

  async plan(): Promise<void> {
    const summaries = await this.#storage.read((rows) => rows.expired(ever, mostHeld)).catch(() => []); // closed, or locked meanwhile
    const at = summaries.find(expires)?.expiresAt;
    clearTimeout(this.#timer);
    if (at === undefined || this.#hasEnded) return;
    const wait = Date.parse(at) - this.#now().getTime();
    this.#timer = setTimeout(() => void this.#go(), wait > 0 ? Math.min(longest, wait) : again);
  }

  async #go(): Promise<void> {
    await this.#letGo().catch(() => undefined); // whoever looks next is told
    if (!this.#hasEnded) await this.plan();
  }

  end(): void {
    this.#hasEnded = true;
    clearTimeout(this.#timer);
  }
}
