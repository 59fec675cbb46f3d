/** Seals values under a key. Each is bound to its place, so that none can be moved to another. */
export interface Encryption {
  seal(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `damaged` if it was changed or moved from another place */
  open(sealed: Uint8Array, place: string): Uint8Array;
  /** HMAC-SHA-256 (RFC 2104), in Base64: it says nothing of the words. */
  digest(words: string): string;
}
