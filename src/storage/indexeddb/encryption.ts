/** Writes values as plaintext or encrypted. Each value is bound to its place, so that none can be moved to another. */
export interface ValueEncryption {
  /** Whether values are encrypted. */
  readonly isSealed: boolean;
  seal(value: unknown, place: string): unknown;
  /** @throws DrawerError `damaged` if it was changed or moved from another place */
  open(stored: unknown, place: string): unknown;
  sealBytes(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `damaged` as `open` does */
  openBytes(stored: Uint8Array, place: string): Uint8Array;
  /** A digest of the words; if encrypted, it reveals nothing about them. */
  digest(words: string): string;
}

export const plaintext: ValueEncryption = {
  isSealed: false,
  seal: (value) => value,
  open: (stored) => stored,
  sealBytes: (bytes) => bytes,
  openBytes: (bytes) => bytes,
  digest: (words) => words,
};
