/** How values are kept: as they are, or sealed. A place says where one belongs, so that none passes for another. */
export interface ValueEncryption {
  /** Whether nobody can read what is kept. */
  readonly isSealed: boolean;
  seal(value: unknown, place: string): unknown;
  /** @throws DrawerError `storage` when it was changed, or moved from another place. */
  open(stored: unknown, place: string): unknown;
  sealBytes(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `storage` as `open` does. */
  openBytes(stored: Uint8Array, place: string): Uint8Array;
  /** The same for the same words; sealed it tells nothing of them. */
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
