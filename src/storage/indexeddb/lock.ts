import { fromBase64, toBase64 } from '@exodus/bytes/base64.js';
import { gcm } from '@noble/ciphers/aes.js';
import { concatBytes, randomBytes } from '@noble/ciphers/utils.js';
import { hmac } from '@noble/hashes/hmac.js';
import { scryptAsync } from '@noble/hashes/scrypt.js';
import { sha256 } from '@noble/hashes/sha2.js';
import type { Encryption } from '../../drawer/index.ts';
import { blankLock, type Cipher, encryptionWith, openKey, sealKey } from '../cipher.ts';
import { composed, type Lock, parseLock } from '../encryption.ts';
import type { ValueEncryption } from './encryption.ts';

/** Loaded only for locked drawers. It is not Web Cryptography, because that is asynchronous and a transaction would end meanwhile. */

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** Values of drawers in a browser. */
const cipher: Cipher = {
  randomBytes,
  encrypt(key, nonce, bytes, additional) {
    const sealed = gcm(key, nonce, additional).encrypt(bytes);
    return { ciphertext: sealed.subarray(0, -16), tag: sealed.subarray(-16) };
  },
  decrypt: (key, nonce, { ciphertext, tag }, additional) =>
    gcm(key, nonce, additional).decrypt(concatBytes(ciphertext, tag)),
  digest: (key, words) => toBase64(hmac(sha256, key, encoder.encode(words))),
  isTagFirst: false,
};
/** What devices share is written as other platforms write it. */
const sharedCipher: Cipher = { ...cipher, isTagFirst: true };

function sealedWith(key: Uint8Array): ValueEncryption {
  const { seal, open, digest } = encryptionWith(key, cipher);
  return {
    isSealed: true,
    sealBytes: seal,
    openBytes: open,
    seal: (value, place) => seal(encoder.encode(JSON.stringify(value)), place),
    open: (stored, place) => JSON.parse(decoder.decode(open(stored as Uint8Array, place))) as unknown,
    digest,
  };
}

/** Creates a lock, as JSON, with a new key. */
export async function newLock(
  passphrase: string,
): Promise<{ readonly lock: string; readonly sealing: ValueEncryption }> {
  const { lock, key } = await lockWith(passphrase, cipher);
  return { lock, sealing: sealedWith(key) };
}

async function lockWith(passphrase: string, by: Cipher): Promise<{ readonly lock: string; readonly key: Uint8Array }> {
  const key = randomBytes(32);
  const blank = blankLock(toBase64(randomBytes(16)));
  const sealed = sealKey(key, blank, await underPassphrase(passphrase, blank, by));
  return { lock: JSON.stringify({ ...blank, key: toBase64(sealed) }), key };
}

/** Opens a lock. @throws DrawerError `locked` for a wrong passphrase */
export async function openLock(lock: Lock, passphrase: string): Promise<ValueEncryption> {
  return sealedWith(openKey(fromBase64(lock.key), lock, await underPassphrase(passphrase, lock, cipher)));
}

/** Creates the lock of what several devices share, as JSON. */
export const newSharedLock = async (passphrase: string): Promise<string> =>
  (await lockWith(passphrase, sharedCipher)).lock;

/** Opens the lock of what several devices share. @throws DrawerError `locked` for a wrong passphrase */
export async function openSharedLock(
  json: string,
  passphrase: string,
): Promise<{ readonly salt: string; readonly sealing: Encryption }> {
  const lock = parseLock(json);
  const key = openKey(fromBase64(lock.key), lock, await underPassphrase(passphrase, lock, sharedCipher));
  return { salt: lock.salt, sealing: encryptionWith(key, sharedCipher) };
}

async function underPassphrase(
  passphrase: string,
  { salt, cost, blockSize, parallel }: Omit<Lock, 'key'>,
  by: Cipher,
): Promise<Encryption> {
  const key = await scryptAsync(encoder.encode(composed(passphrase)), fromBase64(salt), {
    N: cost,
    r: blockSize,
    p: parallel,
    dkLen: 32,
    maxmem: 256 * cost * blockSize,
  });
  return encryptionWith(key, by);
}
