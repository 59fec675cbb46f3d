import type { Content, Media } from 'drawer';

/** What is being written: a document or a sheet. */
export interface Draft {
  /** Puts content where the caret is, in one step of the draft's own undo. */
  insert(content: Content, media: Media): void;
  /** The whole of it as a file with that ending: a new one. */
  save(ending: string): Promise<{ readonly bytes: Uint8Array; readonly name: string; readonly type: string }>;
  /** The bytes of the file it was opened from with what was changed, and all else as it was; absent for a new one. */
  saveBack?(): Promise<{ readonly bytes: Uint8Array; readonly changes: number }>;
  /** The endings that it can be saved with. */
  readonly endings: readonly string[];
  /** Puts the caret at a point of the window, in CSS pixels. */
  goTo?(x: number, y: number): void;
  close(): void;
}
