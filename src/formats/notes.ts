import type { Note, NoteKind } from '../content/index.ts';

/** Counts what was brought down, by what it was. */
export class NoteCounter {
  readonly #notes: Note[] = [];
  readonly #counts = new Map<NoteKind, number>();

  add(kind: NoteKind, count = 1): void {
    this.#counts.set(kind, (this.#counts.get(kind) ?? 0) + count);
  }

  /** Notes that say more than their kind. */
  addAll(notes: readonly Note[]): void {
    for (const note of notes) {
      if (note.params) this.#notes.push(note);
      else this.add(note.kind, note.count);
    }
  }

  get notes(): Note[] {
    return [...[...this.#counts].map(([kind, count]) => ({ kind, count })), ...this.#notes];
  }
}
