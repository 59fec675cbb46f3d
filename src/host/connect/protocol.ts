import type { Content, DrawerError, Media } from '../../content/index.ts';
import type { Action, Check, Drawer, DrawerChange, KeepResult, Renewal, UndoOptions } from '../../drawer/index.ts';

/** The code that a host closes a connection with whose session it does not know, such as one of before it was started. */
export const unknownSession = 4404;

/** The calls of a drawer that go over a connection as they are. */
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

/** A file that the desk may open. */
export interface DeskFile {
  /** Relative to the desk's folder; absolute for one elsewhere that was named. */
  readonly path: string;
  /** In bytes. */
  readonly size: number;
  /** When it was last changed, in milliseconds since 1970. */
  readonly changed: number;
}

/** What a folder holds that the desk may open. */
export interface DeskFolder {
  /** Paths of the folders in it. */
  readonly folders: readonly string[];
  readonly files: readonly DeskFile[];
}

/** What a host of files tells when a connection begins. */
export interface DeskFacts {
  /** The folder that the desk was started in: its name. */
  readonly folder: string;
  /** The files that were named when it was started. */
  readonly named: readonly DeskFile[];
  /** Whose name tracked insertions carry. */
  readonly author?: string | undefined;
}

/** The files beside a drawer that is behind a connection. */
export interface DeskFiles {
  facts(): Promise<DeskFacts>;
  /** What a folder holds, in the order of names; the empty path is the desk's own folder. @throws DrawerError `refused` outside it */
  list(path: string): Promise<DeskFolder>;
  /** A whole file. @throws DrawerError `refused` for one that may not be opened, `not-found` */
  read(path: string): Promise<Uint8Array>;
  /**
   * Replaces a file that still is as it was read, or makes a new one where `before` is missing: one action of the drawer,
   * which undo takes back byte for byte.
   * @throws DrawerError `refused`; `write-failed` where it has changed since, is open elsewhere or cannot be written
   */
  save(path: string, after: Uint8Array, before?: Uint8Array): Promise<void>;
  /** Ids of the snippets whose file was saved again since they were gathered. */
  savedSince(ids: readonly string[]): Promise<readonly string[]>;
  /** Reads the sources of snippets again and compares; nothing is changed. `Drawer.renew` takes what has changed. */
  renewals(ids: readonly string[]): Promise<readonly Renewal[]>;
}

/** An event while copies are being gathered. */
export type CopyTold =
  | { readonly kind: 'gathering'; readonly isOn: boolean }
  | { readonly kind: 'kept'; readonly results: readonly KeepResult[] }
  | { readonly kind: 'passedOver'; readonly problem: DrawerError };

/** The clipboard of the desktop, beside a drawer that is behind a connection. */
export interface DeskClipboard {
  /** Whether what is copied in any program is gathered now. @throws DrawerError `storage` where no clipboard can be reached */
  gathers(): Promise<boolean>;
  /** Has it gathered from now on, or no longer: for all windows. @throws DrawerError `storage` */
  gather(isOn: boolean): Promise<void>;
  /**
   * Puts content on it in every form that the programs of the desktop ask for; `false` where a page's own way serves as well.
   * @param isSecret - whether nobody is to keep it who watches the clipboard
   * @throws DrawerError `invalid`; `storage`
   */
  offer(content: Content, media: Media, isSecret: boolean): Promise<boolean>;
}

/** What the end with the drawer does for the other. */
export interface HostFunctions {
  /** Opens the drawer. @throws DrawerError `locked` where it needs a passphrase, or another one */
  open(passphrase: string | undefined): Promise<void>;
  call(name: Forwarded, values: readonly unknown[]): Promise<unknown>;
  check(): Promise<Check>;
  /** As the drawer does; also the actions that were skipped, where they may be. */
  undo(options: Omit<UndoOptions, 'onSkipped'> & { readonly skips: boolean }): Promise<{
    readonly change: DrawerChange | undefined;
    readonly skipped: readonly Action[];
  }>;
  files(name: keyof DeskFiles, values: readonly unknown[]): Promise<unknown>;
  clipboard(name: keyof DeskClipboard, values: readonly unknown[]): Promise<unknown>;
}

/** What the end without the drawer hears of. */
export interface ClientFunctions {
  /** The drawer has changed. */
  changed(): void;
  /** How far the check of the drawer is. */
  checked(done: number, all: number): void;
  /** What came of gathering what is copied. */
  copied(told: CopyTold): void;
}
