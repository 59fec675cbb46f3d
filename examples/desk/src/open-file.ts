import { proxy, type Remote, wrap } from 'comlink';
import { DrawerError } from 'drawer';
import type { Outline, Taken } from 'drawer/formats';
import type { Problem, Reader } from './reader.worker.ts';

/** A file that lies open, read by a worker of its own. */
export class OpenFile {
  readonly name: string;
  readonly #worker = new Worker(new URL('./reader.worker.ts', import.meta.url), { type: 'module' });
  readonly #reader: Remote<Reader> = wrap<Reader>(this.#worker);
  readonly #opened: Promise<void>;
  #stop: (error: DrawerError) => void = () => {};
  readonly #stopped = new Promise<never>((_, stop) => {
    this.#stop = stop;
  });

  /** `onRead` hears how much of it has been read, from 0 to 1. */
  constructor(file: File, onRead: (share: number) => void) {
    this.name = file.name;
    this.#stopped.catch(() => {}); // heard by whoever waits
    this.#worker.addEventListener('error', ({ message }) =>
      this.#stop(
        new DrawerError(
          'unreadable/file-read-failed',
          { detail: message || 'its reader did not start' },
          { where: this.name },
        ),
      ),
    );
    this.#opened = this.#reader.open(file, proxy(onRead));
  }

  /** Its places. @throws DrawerError */
  outline = (): Promise<Outline> => this.#ask(() => this.#reader.outline());

  /** What a place holds; with `enough`, at least so many of its first blocks. @throws DrawerError */
  take = (place: string, enough?: number): Promise<Taken> => this.#ask(() => this.#reader.take(place, enough));

  /** Ends whatever is being read. */
  stop(): void {
    this.#worker.terminate();
    this.#stop(new DrawerError('refused/stopped', {}, { where: this.name }));
  }

  async #ask<T extends object>(question: () => Promise<T | Problem>): Promise<T> {
    const answer = await Promise.race([this.#opened.then(question), this.#stopped]);
    if ('problem' in answer) {
      const { problem, params, where } = answer.problem;
      throw new DrawerError(problem, params, { where });
    }
    return answer as T;
  }
}
