import type { Note } from '../content/index.ts';

/** Counts what was brought down, by what it was. */
export class NoteCounter {
  readonly #counts = new Map<string, number>();

  add(what: string, count = 1): void {
    this.#counts.set(what, (this.#counts.get(what) ?? 0) + count);
  }

  get notes(): Note[] {
    return [...this.#counts].map(([what, count]) => ({ what, count }));
  }
}
