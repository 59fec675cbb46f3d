import type { DrawerError } from '../content/index.ts';
import type { Storage } from '../drawer/index.ts';
import type { SealingTools, SyncPassphrase, SyncRemote } from './sealed-remote.ts';

/** Options of a sync, on every platform. */
export interface SyncOptions {
  /** The passphrase of what is shared, or a function that asks for it; whoever begins it chooses one. */
  readonly passphrase: SyncPassphrase;
  /** The token, or the password of the user, that lets this device in at a server, if the address does not hold it. */
  readonly token?: string | undefined;
  /** How the other devices call this one; default: the last name, or that of the computer. */
  readonly name?: string | undefined;
  /** The label of a snippet that stays beside another, since both were edited at once. */
  labelBeside(preview: string): string;
  /** Called with the number of snippets sent and read so far. */
  onProgress?(done: number): void;
  readonly signal?: AbortSignal | undefined;
}

/** What a sync did. */
export interface SyncResult {
  /** Snippets told to the others: new, changed and deleted ones. */
  readonly sent: number;
  readonly added: number;
  readonly changed: number;
  readonly removed: number;
  /** Ids of snippets that stay beside another, since both were edited at once. */
  readonly beside: readonly string[];
  /** How many other devices take part. */
  readonly devices: number;
  /** What could not be read, or not yet; the rest was. */
  readonly problems: readonly DrawerError[];
}

/** The platform that a drawer is synced on, and the drawer. */
export interface SyncPlatform extends SealingTools {
  /** Opens the drawer's storage; what is synced is noted there. */
  openStorage(): Promise<Storage>;
  /** Does work while no other program of this device syncs the drawer. */
  alone<T>(work: () => Promise<T>): Promise<T>;
  /** So many records are put together with the drawer at once, or as many more as are in a frame. */
  readonly mostMerged: number;
  /** Where the drawer is; a copy of it is somewhere else. */
  where(): Promise<string>;
  /** How the other devices call this one, if nobody has named it. */
  readonly deviceName: string;
  /** Milliseconds since 1970. */
  now(): number;
  randomBytes(length: number): Uint8Array;
}

/** One sync: what is brought together, and how. */
export interface Sync {
  readonly storage: Storage;
  readonly remote: SyncRemote;
  readonly platform: SyncPlatform;
  readonly options: SyncOptions;
}
