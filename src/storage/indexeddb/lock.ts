import { fromBase64, toBase64 } from '@exodus/bytes/base64.js';
import { gcm } from '@noble/ciphers/aes.js';
import { randomBytes } from '@noble/ciphers/utils.js';
import { hmac } from '@noble/hashes/hmac.js';
import { scryptAsync } from '@noble/hashes/scrypt.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { composed, damagedRow, type Lock, strength, wrongPassphrase } from '../encryption.ts';
import type { ValueEncryption } from './encryption.ts';

/** Loaded only for locked drawers. It is not Web Cryptography, because that is asynchronous and a transaction would end meanwhile. */

const nonceLength = 12;
const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** Encryption with a drawer's key: AES-256-GCM (NIST SP 800-38D), a random nonce for each value, its place as additional data. */
function sealedWith(key: Uint8Array): ValueEncryption {
  const sealBytes = (bytes: Uint8Array, place: string): Uint8Array => {
    const nonce = randomBytes(nonceLength);
    const sealed = gcm(key, nonce, encoder.encode(place)).encrypt(bytes);
    const together = new Uint8Array(nonceLength + sealed.length);
    together.set(nonce);
    together.set(sealed, nonceLength);
    return together;
  };
  const openBytes = (stored: Uint8Array, place: string): Uint8Array => {
    try {
      const nonce = stored.subarray(0, nonceLength);
      return gcm(key, nonce, encoder.encode(place)).decrypt(stored.subarray(nonceLength));
    } catch (cause) {
      throw damagedRow(cause);
    }
  };
  return {
    isSealed: true,
    sealBytes,
    openBytes,
    seal: (value, place) => sealBytes(encoder.encode(JSON.stringify(value)), place),
    open: (stored, place) => JSON.parse(decoder.decode(openBytes(stored as Uint8Array, place))) as unknown,
    digest: (words) => toBase64(hmac(sha256, key, encoder.encode(words))),
  };
}

/** Creates a lock, as JSON, with a new key. */
export async function newLock(
  passphrase: string,
): Promise<{ readonly lock: string; readonly sealing: ValueEncryption }> {
  const key = randomBytes(32);
  const made = { cipher: 'aes-256-gcm', derivation: 'scrypt', ...strength, salt: toBase64(randomBytes(16)) } as const;
  const sealed = sealedWith(await derived(passphrase, made)).sealBytes(key, 'key');
  const lock: Lock = { ...made, key: toBase64(sealed) };
  return { lock: JSON.stringify(lock), sealing: sealedWith(key) };
}

/** Opens a lock. @throws DrawerError `locked` for a wrong passphrase */
export async function openLock(lock: Lock, passphrase: string): Promise<ValueEncryption> {
  const outer = sealedWith(await derived(passphrase, lock));
  try {
    return sealedWith(outer.openBytes(fromBase64(lock.key), 'key'));
  } catch (cause) {
    throw wrongPassphrase(cause);
  }
}

const derived = (passphrase: string, { salt, cost, blockSize, parallel }: Omit<Lock, 'key'>): Promise<Uint8Array> =>
  scryptAsync(encoder.encode(composed(passphrase)), fromBase64(salt), {
    N: cost,
    r: blockSize,
    p: parallel,
    dkLen: 32,
    maxmem: 256 * cost * blockSize,
  });
