import { DrawerError } from '../../content/index.ts';
import { composed, damagedRow, type Lock, strength, wrongPassphrase } from '../encryption.ts';
import type { Prepare } from './snippet-row.ts';

export { associatedData, lockChanged, parseLock } from '../encryption.ts';

/** Loaded only for locked drawers, because it takes time. */
const crypto = (): typeof import('node:crypto') => process.getBuiltinModule('node:crypto');

const ivLength = 12;
const tagLength = 16;

/** Writes values as plaintext or encrypted. Each value is bound to its place, so that none can be moved to another. */
export interface Encryption {
  /** Whether values are encrypted. */
  readonly isSealed: boolean;
  seal(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `damaged` if it was changed or moved from another place */
  open(sealed: Uint8Array, place: string): Uint8Array;
  /** Like `seal`, for words, in Base64. */
  sealText(words: string, place: string): string;
  /** @throws DrawerError `damaged` as `open` does */
  openText(sealed: string, place: string): string;
  /** A digest of the words; if encrypted, it reveals nothing about them. */
  digest(words: string): string;
}

export const plaintext: Encryption = {
  isSealed: false,
  seal: (bytes) => bytes,
  open: (bytes) => bytes,
  sealText: (words) => words,
  openText: (words) => words,
  digest: shortHash,
};

/** Encryption with a drawer's key: AES-256-GCM (NIST SP 800-38D), a random nonce for each value, its place as additional data. */
const sealedWith = (key: Buffer): Encryption => {
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
      throw damagedRow(cause);
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

/** Creates a lock with a new key. */
export function newLock(passphrase: string): { readonly lock: Lock; readonly sealing: Encryption } {
  const salt = crypto().randomBytes(16);
  const key = crypto().randomBytes(32);
  const lock: Omit<Lock, 'key'> = {
    cipher: 'aes-256-gcm',
    derivation: 'scrypt',
    ...strength,
    salt: salt.toString('base64'),
  };
  return { lock: wholeLock(lock, key, sealedWith(derived(passphrase, lock))), sealing: sealedWith(key) };
}

/** A lock that requires a mark of the whole drawer. Its key cannot be opened as that of a lock without one. */
const wholeLock = (lock: Omit<Lock, 'key'>, key: Buffer, under: Encryption): Lock => ({
  ...lock,
  whole: true,
  key: Buffer.from(under.seal(key, keyOfWhole)).toString('base64'),
});

const keyOfWhole = 'key of a whole';

/**
 * Opens a lock. The lock returned is the one to store: a lock of an older version becomes one that requires a mark.
 * @throws DrawerError `locked` for a wrong passphrase
 */
export function openLock(lock: Lock, passphrase: string): { readonly sealing: Encryption; readonly lock: Lock } {
  try {
    const under = sealedWith(derived(passphrase, lock));
    const key = Buffer.from(under.open(Buffer.from(lock.key, 'base64'), lock.whole ? keyOfWhole : 'key'));
    return { sealing: sealedWith(key), lock: lock.whole ? lock : wholeLock(lock, key, under) };
  } catch (cause) {
    if (!DrawerError.is(cause)) throw cause;
    throw wrongPassphrase(cause);
  }
}

const derived = (passphrase: string, { salt, cost, blockSize, parallel }: Omit<Lock, 'key'>): Buffer =>
  crypto().scryptSync(composed(passphrase), Buffer.from(salt, 'base64'), 32, {
    N: cost,
    r: blockSize,
    p: parallel,
    maxmem: 256 * cost * blockSize,
  });

const [basis, prime] = [0x811c9dc5, 0x01000193];

/**
 * FNV-1a of 32 bits (draft-eastlake-fnv, section 2) over code units, in base 36. It narrows a search and hides nothing.
 */
export function shortHash(words: string): string {
  let hash = basis;
  for (let at = 0; at < words.length; at++) hash = Math.imul(hash ^ words.charCodeAt(at), prime);
  return (hash >>> 0).toString(36);
}

/**
 * Reads all rows with their keys. Of an encrypted value the start is enough: its nonce and tag are unique (NIST SP 800-38D,
 * section 5.2.1.2).
 */
const everyRow = [
  'SELECT row, id, "order", alike, expires, bytes, substr(head, 1, 40) AS head, substr(content, 1, 40) AS content FROM snippet ORDER BY row',
  `SELECT number, state, at, reshapes, substr(name, 1, 40) AS name, substr(changes, 1, 40) AS changes, substr(files, 1, 40) AS files
   FROM action ORDER BY number`,
  'SELECT hash, hex(substr(bytes, 1, 28)) AS bytes FROM media ORDER BY hash',
  "SELECT name, substr(value, 1, 40) AS value FROM settings WHERE name NOT IN ('lock', 'whole') ORDER BY name",
];

/**
 * The mark of a locked drawer as a whole. Without it, whoever can write to the file could restore old rows, remove rows or let
 * them expire unnoticed, since each row by itself would be valid.
 */
export class WholeMark {
  readonly #prepare: Prepare;
  readonly #sealing: Encryption;

  constructor(prepare: Prepare, sealing: Encryption) {
    this.#prepare = prepare;
    this.#sealing = sealing;
  }

  #now(): string {
    const rows = everyRow.map((sql) => JSON.stringify(this.#prepare(sql).raw(true).all()));
    return this.#sealing.digest(rows.join('\n'));
  }

  write(): void {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('whole', ?)").run(this.#now());
  }

  /** @throws DrawerError `damaged` if anything but Drawer has changed the file since the mark was written */
  check(): void {
    const marked = this.#prepare("SELECT value FROM settings WHERE name = 'whole'").get() as
      | { value: string }
      | undefined;
    if (marked?.value === this.#now()) return;
    throw new DrawerError('damaged/drawer-changed-outside');
  }

  /** The number of rows that this connection has changed. */
  changes(): number {
    return (this.#prepare('SELECT total_changes() AS count').get() as { count: number }).count;
  }
}
