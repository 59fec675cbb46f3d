import { toBase64 } from '@exodus/bytes/base64.js';

/** The name of a device in what is carried. */
export const deviceName = /^[0-9a-z]{12}$/;

/** One frame of a log: sealed bytes that are written and read as a whole. */
export interface CarriedFrame {
  readonly bytes: Uint8Array;
  /** Where it ends in the log. */
  readonly end: number;
}

/** How a frame can be told from every other: its first bytes, in Base64, and its length in bytes. */
export interface FrameMark {
  readonly begin: string;
  readonly length: number;
}

/** The nonce and tag at the beginning of what is sealed; no other has them. */
const markBytes = 28;

export const markOf = (sealed: Uint8Array): FrameMark => ({
  begin: toBase64(sealed.subarray(0, markBytes)),
  length: sealed.length,
});

/** The log of one device; that device alone writes it. */
export interface CarriedLog {
  /** What errors call it. */
  readonly name: string;
  /** Reads the frames behind an offset, 0 for all. One that is not there wholly ends it: it is still on its way. */
  read(from: number): AsyncIterable<CarriedFrame>;
  /** Whether this frame still ends at this offset. */
  has(mark: FrameMark, end: number): Promise<boolean>;
  /**
   * Writes a frame behind an offset, where nothing may be but a frame that was left half written; it is durable afterwards.
   * @returns where it ends
   */
  append(frame: Uint8Array, mark: FrameMark, at: number): Promise<number>;
  remove(): Promise<void>;
}

/** What is sealed under one key: the logs of all devices, and blobs, which are large and never change. */
export interface Compartment {
  /** The devices that have a log. */
  devices(): Promise<readonly string[]>;
  log(device: string): CarriedLog;
  findBlob(name: string): Promise<Uint8Array | undefined>;
  hasBlob(name: string): Promise<boolean>;
  /** Keeps a blob, unless it is there. */
  putBlob(name: string, bytes: Uint8Array): Promise<void>;
  removeBlob(name: string): Promise<void>;
}

/** What carries sealed bytes between devices: a folder or a server. */
export interface Carrier {
  /** What errors call it. */
  readonly name: string;
  /** Does work on it; a failure of the disk or the network becomes a `DrawerError`. */
  guarded<T>(work: () => Promise<T>): Promise<T>;
  /** How its key is locked; `undefined` if no device has begun it. */
  findLock(): Promise<string | undefined>;
  /** Puts a lock there in place of another, unless a device has meanwhile put one there. @param before - `undefined` if there is none */
  putLock(lock: string, before: string | undefined): Promise<void>;
  /** What is sealed under a key. @param key - its name: letters `a`-`f` and digits */
  compartment(key: string): Compartment;
  /** Removes a compartment with all that is in it, if it is there. */
  removeCompartment(key: string): Promise<void>;
  /** Calls `changed` when a device has written something into a compartment, or changed the lock; returns a function that stops it. */
  watch(key: string, changed: () => void): () => void;
  close(): Promise<void>;
}
