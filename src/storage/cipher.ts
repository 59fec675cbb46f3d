import { concatBytes, utf8ToBytes } from '@noble/hashes/utils.js';
import { DrawerError } from '../content/index.ts';
import type { Encryption } from '../drawer/index.ts';
import { damagedRow, type Lock } from './encryption.ts';

/** Needs 128 MB and about half a second, so that passphrases are slow to guess. */
const strength = { cost: 2 ** 17, blockSize: 8, parallel: 1 } as const;

/** What a platform has of cryptography. */
export interface Cipher {
  randomBytes(length: number): Uint8Array;
  /** AES-256-GCM (NIST SP 800-38D), with a tag of 16 bytes. @param additional - authenticated with it */
  encrypt(key: Uint8Array, nonce: Uint8Array, bytes: Uint8Array, additional: Uint8Array): Encrypted;
  /** @throws if the tag is not that of the rest */
  decrypt(key: Uint8Array, nonce: Uint8Array, encrypted: Encrypted, additional: Uint8Array): Uint8Array;
  /** HMAC-SHA-256 (RFC 2104), in Base64. */
  digest(key: Uint8Array, words: string): string;
  /** Whether stored values have their tag before the ciphertext, behind the nonce; otherwise it is the last. */
  readonly isTagFirst: boolean;
}

export interface Encrypted {
  readonly ciphertext: Uint8Array;
  readonly tag: Uint8Array;
}

const nonceLength = 12;
const tagLength = 16;

/** Encryption with a key of 32 bytes: a random nonce for each value, its place as additional data. */
export const encryptionWith = (key: Uint8Array, cipher: Cipher): Encryption => ({
  seal(bytes, place) {
    const nonce = cipher.randomBytes(nonceLength);
    const { ciphertext, tag } = cipher.encrypt(key, nonce, bytes, utf8ToBytes(place));
    return cipher.isTagFirst ? concatBytes(nonce, tag, ciphertext) : concatBytes(nonce, ciphertext, tag);
  },
  open(sealed, place) {
    const nonce = sealed.subarray(0, nonceLength);
    const rest = sealed.subarray(nonceLength);
    const end = cipher.isTagFirst ? tagLength : Math.max(0, rest.length - tagLength);
    const [first, second] = [rest.subarray(0, end), rest.subarray(end)];
    const [tag, ciphertext] = cipher.isTagFirst ? [first, second] : [second, first];
    try {
      return cipher.decrypt(key, nonce, { ciphertext, tag }, utf8ToBytes(place));
    } catch (cause) {
      throw damagedRow(cause);
    }
  },
  digest: (words) => cipher.digest(key, words),
});

/** A lock before it has a key. @param salt - in Base64 */
export const blankLock = (salt: string): Omit<Lock, 'key'> => ({
  cipher: 'aes-256-gcm',
  derivation: 'scrypt',
  ...strength,
  salt,
});

/** The key of a lock that requires a mark of the whole drawer cannot be opened as that of one without. */
const keyPlace = ({ whole }: Pick<Lock, 'whole'>): string => (whole ? 'key of a whole' : 'key');

/** A lock's own key, encrypted with the one from the passphrase. */
export const sealKey = (key: Uint8Array, lock: Pick<Lock, 'whole'>, under: Encryption): Uint8Array =>
  under.seal(key, keyPlace(lock));

/** A lock's own key. @throws DrawerError `locked/passphrase-wrong` */
export function openKey(sealed: Uint8Array, lock: Pick<Lock, 'whole'>, under: Encryption): Uint8Array {
  try {
    return under.open(sealed, keyPlace(lock));
  } catch (cause) {
    throw new DrawerError('locked/passphrase-wrong', {}, { cause });
  }
}
