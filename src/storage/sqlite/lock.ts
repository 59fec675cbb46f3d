import * as v from 'valibot';
import { DrawerError, parseWith } from '../../content/index.ts';

/** What a locked drawer keeps to open itself with: how the passphrase makes a key, and the drawer's own key under it. */
export interface Lock {
  readonly cipher: 'aes-256-gcm';
  readonly derivation: 'scrypt';
  /** Cost, block size and parallelisation (RFC 7914, section 2). */
  readonly cost: number;
  readonly blockSize: number;
  readonly parallel: number;
  /** In Base64, as the sealed key is. */
  readonly salt: string;
  readonly key: string;
}

const lockSchema: v.GenericSchema<Lock> = v.strictObject({
  cipher: v.literal('aes-256-gcm'),
  derivation: v.literal('scrypt'),
  cost: v.pipe(v.number(), v.integer(), v.minValue(2 ** 14), v.maxValue(2 ** 20)),
  blockSize: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(16)),
  parallel: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(4)),
  salt: v.string(),
  key: v.string(),
});

export const parseLock = (json: string): Lock => parseWith(lockSchema, JSON.parse(json), 'lock');

/** Loaded only for a drawer that is locked: a list should not wait for it. */
const crypto = (): typeof import('node:crypto') => process.getBuiltinModule('node:crypto');

/** Takes 128 MB and about half a second, so that passphrases are slow to guess. */
const strength = { cost: 2 ** 17, blockSize: 8, parallel: 1 } as const;
const ivLength = 12;
const tagLength = 16;

/** How values are written: sealed, or in the clear. A place says where one belongs, so that none passes for another. */
export interface Sealing {
  /** Whether nobody can read what is written. */
  readonly isSealed: boolean;
  seal(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `storage` when it was changed, or moved from another place. */
  open(sealed: Uint8Array, place: string): Uint8Array;
  /** As `seal`, of words and in Base64. */
  sealText(words: string, place: string): string;
  /** @throws DrawerError `storage` as `open` does. */
  openText(sealed: string, place: string): string;
  /** The same for the same words; sealed it tells nothing of them. */
  digest(words: string): string;
}

/** Where a value belongs: its table, column and row. */
export const placeOf = (table: string, column: string, row: string | number): string => `${table}.${column}:${row}`;

export const inTheClear: Sealing = {
  isSealed: false,
  seal: (bytes) => bytes,
  open: (bytes) => bytes,
  sealText: (words) => words,
  openText: (words) => words,
  digest: (words) => words,
};

/** With a drawer's key: AES-256 in Galois/Counter Mode (NIST SP 800-38D), a random nonce for each value, its place as additional data. */
const sealedWith = (key: Buffer): Sealing => {
  const seal = (bytes: Uint8Array, place: string): Buffer => {
    const iv = crypto().randomBytes(ivLength);
    const cipher = crypto().createCipheriv('aes-256-gcm', key, iv).setAAD(Buffer.from(place));
    const sealed = Buffer.concat([cipher.update(bytes), cipher.final()]);
    return Buffer.concat([iv, cipher.getAuthTag(), sealed]);
  };
  const open = (sealed: Uint8Array, place: string): Buffer => {
    try {
      const decipher = crypto()
        .createDecipheriv('aes-256-gcm', key, sealed.subarray(0, ivLength))
        .setAAD(Buffer.from(place))
        .setAuthTag(sealed.subarray(ivLength, ivLength + tagLength));
      return Buffer.concat([decipher.update(sealed.subarray(ivLength + tagLength)), decipher.final()]);
    } catch (cause) {
      throw new DrawerError(
        { code: 'storage', what: 'A sealed row of the drawer is damaged', next: 'drawer check says what is whole' },
        { cause },
      );
    }
  };
  return {
    isSealed: true,
    seal,
    open,
    sealText: (words, place) => seal(Buffer.from(words), place).toString('base64'),
    openText: (sealed, place) => open(Buffer.from(sealed, 'base64'), place).toString('utf8'),
    digest: (words) => crypto().createHmac('sha256', key).update(words).digest('base64'),
  };
};

/** Another program locked the drawer, or took its lock off, while this one had it open. */
export const lockedMeanwhile = (): DrawerError =>
  new DrawerError({
    code: 'locked',
    what: 'The drawer was locked or unlocked by another program',
    next: 'Open it again; nothing was changed',
  });

/** A new lock, and the sealing with a new key under it. */
export function newLock(passphrase: string): { readonly lock: Lock; readonly sealing: Sealing } {
  const salt = crypto().randomBytes(16);
  const key = crypto().randomBytes(32);
  const lock: Omit<Lock, 'key'> = {
    cipher: 'aes-256-gcm',
    derivation: 'scrypt',
    ...strength,
    salt: salt.toString('base64'),
  };
  const sealed = Buffer.from(sealedWith(derived(passphrase, lock)).seal(key, 'key'));
  return { lock: { ...lock, key: sealed.toString('base64') }, sealing: sealedWith(key) };
}

/** @throws DrawerError `locked` for a wrong passphrase. */
export function openLock(lock: Lock, passphrase: string): Sealing {
  try {
    return sealedWith(Buffer.from(sealedWith(derived(passphrase, lock)).open(Buffer.from(lock.key, 'base64'), 'key')));
  } catch (cause) {
    if (!DrawerError.is(cause)) throw cause;
    throw new DrawerError(
      { code: 'locked', what: 'The passphrase is not right', next: 'Try again; nothing was changed' },
      { cause },
    );
  }
}

/** The passphrase is taken in its composed form (NFKC), so that it is the same however it was typed. */
const derived = (passphrase: string, { salt, cost, blockSize, parallel }: Omit<Lock, 'key'>): Buffer =>
  crypto().scryptSync(passphrase.normalize('NFKC'), Buffer.from(salt, 'base64'), 32, {
    N: cost,
    r: blockSize,
    p: parallel,
    maxmem: 256 * cost * blockSize,
  });
