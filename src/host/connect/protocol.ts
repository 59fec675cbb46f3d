import type { Content, DrawerError, Media } from '../../content/index.ts';
import type { Action, Check, Drawer, DrawerChange, KeepResult, Renewal, UndoOptions } from '../../drawer/index.ts';

/** The code with which a host closes a connection of an unknown session, such as one from before its start. */
export const unknownSession = 4404;

/** The methods of a drawer that a connection passes on unchanged. */
export const forwarded = [
  'count',
  'bytes',
  'list',
  'select',
  'find',
  'get',
  'getMany',
  'readAfter',
  'positionOf',
  'findNotes',
  'notesBetween',
  'findMedia',
  'mediaOf',
  'keep',
  'append',
  'merge',
  'sequence',
  'moveSequence',
  'sequenceChange',
  'settings',
  'changeSettings',
  'forgetSettings',
  'remove',
  'spend',
  'mark',
  'move',
  'arrange',
  'edit',
  'renew',
  'split',
  'history',
  'lastAction',
  'redo',
  'isLocked',
  'lock',
  'unlock',
] as const satisfies readonly (keyof Drawer)[];

export type Forwarded = (typeof forwarded)[number];

/** A file that the desk can open. */
export interface DeskFile {
  /** Relative to the desk's folder; absolute for a named file elsewhere. */
  readonly path: string;
  /** In bytes. */
  readonly size: number;
  /** The time of its last change, in milliseconds since 1970. */
  readonly changed: number;
}

/** The contents of a folder that the desk can open. */
export interface DeskFolder {
  /** Paths of the folders in it. */
  readonly folders: readonly string[];
  readonly files: readonly DeskFile[];
}

/** What a host with files sends when a connection begins. */
export interface DeskFacts {
  /** The name of the folder in which the desk was started. */
  readonly folder: string;
  /** The files named at the start. */
  readonly named: readonly DeskFile[];
  /** The author of tracked insertions. */
  readonly author?: string | undefined;
}

/** The files beside a drawer behind a connection. */
export interface DeskFiles {
  facts(): Promise<DeskFacts>;
  /** Lists a folder, sorted by name; the empty path is the desk's own folder. @throws DrawerError `refused` outside of it */
  list(path: string): Promise<DeskFolder>;
  /** Reads a whole file. @throws DrawerError `refused` if it may not be opened; `not-found` */
  read(path: string): Promise<Uint8Array>;
  /** Checks that a file can be written now. @throws DrawerError `refused`; `write-failed` if it is open elsewhere or read-only */
  checkWritable(path: string): Promise<void>;
  /**
   * Replaces a file that is still as it was read, or creates one if `before` is missing. This is one action of the drawer, which undo
   * reverts byte for byte.
   * @throws DrawerError `refused`; `write-failed` if it has changed since, is open elsewhere or cannot be written
   */
  save(path: string, after: Uint8Array, before?: Uint8Array): Promise<void>;
  /** Returns the ids of snippets whose file was saved after they were gathered. */
  savedSince(ids: readonly string[]): Promise<readonly string[]>;
  /** Compares snippets with their sources without changing anything. `Drawer.renew` then takes the changes. */
  renewals(ids: readonly string[]): Promise<readonly Renewal[]>;
}

/** An event while copies are gathered. */
export type CopyTold =
  | { readonly kind: 'gathering'; readonly isOn: boolean }
  | { readonly kind: 'kept'; readonly results: readonly KeepResult[] }
  | { readonly kind: 'passedOver'; readonly problem: DrawerError };

/** The clipboard of the desktop beside a drawer behind a connection. */
export interface DeskClipboard {
  /** Returns whether copies of other programs are gathered. @throws DrawerError `storage` if no clipboard can be reached */
  gathers(): Promise<boolean>;
  /** Starts or stops gathering copies, for all windows. @throws DrawerError `storage` */
  gather(isOn: boolean): Promise<void>;
  /**
   * Puts content on the clipboard in every form that desktop programs ask for; returns `false` if the page can do it equally well.
   * @param isSecret - whether clipboard managers are asked not to keep it
   * @throws DrawerError `invalid`; `storage`
   */
  offer(content: Content, media: Media, isSecret: boolean): Promise<boolean>;
}

/** The calls that a host answers. */
export interface HostFunctions {
  /** Opens the drawer. @throws DrawerError `locked` without the right passphrase */
  open(passphrase: string | undefined): Promise<void>;
  call(name: Forwarded, values: readonly unknown[]): Promise<unknown>;
  check(): Promise<Check>;
  /** Like the drawer's `undo`; also returns skipped actions, if skipping is allowed. */
  undo(options: Omit<UndoOptions, 'onSkipped'> & { readonly skips: boolean }): Promise<{
    readonly change: DrawerChange | undefined;
    readonly skipped: readonly Action[];
  }>;
  files(name: keyof DeskFiles, values: readonly unknown[]): Promise<unknown>;
  clipboard(name: keyof DeskClipboard, values: readonly unknown[]): Promise<unknown>;
}

/** The events that a host sends. */
export interface ClientFunctions {
  /** The drawer has changed. */
  changed(): void;
  /** The progress of checking the drawer. */
  checked(done: number, all: number): void;
  /** The result of gathering a copy. */
  copied(told: CopyTold): void;
}
