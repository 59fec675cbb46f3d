import type { Content, Media } from 'drawer';
import type { OpenFile } from './open-file.ts';
import type { DeskPhrase, Say } from './words/index.ts';

/** What is being written: a document or a workbook. */
export interface Draft {
  /** Puts content where the caret is, in one step of the draft's own undo. */
  insert(content: Content, media: Media): void | Promise<void>;
  /** Shows how content will look where the caret is, as long as it is not put there; with nothing, no longer. */
  preview(content: Content | undefined, media: Media): void;
  /** The whole of it as a file with that ending: a new one. */
  save(ending: string): Promise<{
    readonly bytes: Uint8Array;
    readonly name: string;
    readonly type: string;
    /** The one sheet of several that it holds. */
    readonly onlySheet?: string | undefined;
  }>;
  /** The bytes of the file it was opened from with what was changed, and all else as it was; absent for a new one. */
  saveBack?(): Promise<{ readonly bytes: Uint8Array; readonly changes: number }>;
  /** Why it, or the sheet that was shown first, cannot be saved in its place. */
  readonly obstacle?: unknown;
  /** The endings that it can be saved with. */
  readonly endings: readonly string[];
  /** Puts the caret at a point of the window, in CSS pixels. */
  goTo?(x: number, y: number): void;
  /** Goes on where somebody was in the same file before it was saved. */
  resume?(before: Draft): void;
  close(): void;
}

/** What a draft is handed. */
export interface DraftTools {
  readonly say: Say;
  /** Something was written. */
  changed(): void;
  /** Runs what somebody asked for, and says what went wrong. */
  attempt(work: () => Promise<void>): void;
  /**
   * Does work on a file off the page's own thread; what takes longer is shown, and can be stopped unless it had better not be,
   * such as the reading of what was just saved. @throws DrawerError
   */
  working<T>(file: File, phrase: DeskPhrase, work: (open: OpenFile) => Promise<T>, canStop?: boolean): Promise<T>;
}
