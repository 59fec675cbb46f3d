import { DrawerError } from '../../content/index.ts';
import type { Encryption } from '../../drawer/index.ts';
import { blankLock, type Cipher, encryptionWith, openKey, sealKey } from '../cipher.ts';
import { composed, type Lock } from '../encryption.ts';
import type { Prepare } from './snippet-row.ts';

export { associatedData, lockChanged, parseLock } from '../encryption.ts';

/** Loaded only for locked drawers, because it takes time. */
const crypto = (): typeof import('node:crypto') => process.getBuiltinModule('node:crypto');

/** Writes values as plaintext or encrypted. */
export interface ValueEncryption extends Encryption {
  /** Whether values are encrypted. */
  readonly isSealed: boolean;
  /** Like `seal`, for words, in Base64. */
  sealText(words: string, place: string): string;
  /** @throws DrawerError `damaged` as `open` does */
  openText(sealed: string, place: string): string;
}

export const plaintext: ValueEncryption = {
  isSealed: false,
  seal: (bytes) => bytes,
  open: (bytes) => bytes,
  sealText: (words) => words,
  openText: (words) => words,
  digest: shortHash,
};

const cipher: Cipher = {
  randomBytes: (length) => crypto().randomBytes(length),
  encrypt(key, nonce, bytes, additional) {
    const encrypting = crypto().createCipheriv('aes-256-gcm', key, nonce).setAAD(additional);
    const ciphertext = Buffer.concat([encrypting.update(bytes), encrypting.final()]);
    return { ciphertext, tag: encrypting.getAuthTag() };
  },
  decrypt(key, nonce, { ciphertext, tag }, additional) {
    const decrypting = crypto().createDecipheriv('aes-256-gcm', key, nonce).setAAD(additional).setAuthTag(tag);
    return Buffer.concat([decrypting.update(ciphertext), decrypting.final()]);
  },
  digest: (key, words) => crypto().createHmac('sha256', key).update(words).digest('base64'),
  isTagFirst: true,
};

function sealedWith(key: Uint8Array): ValueEncryption {
  const encryption = encryptionWith(key, cipher);
  return {
    ...encryption,
    isSealed: true,
    sealText: (words, place) => Buffer.from(encryption.seal(Buffer.from(words), place)).toString('base64'),
    openText: (sealed, place) => Buffer.from(encryption.open(Buffer.from(sealed, 'base64'), place)).toString('utf8'),
  };
}

/** Creates a lock with a new key. */
export function newLock(passphrase: string): { readonly lock: Lock; readonly sealing: ValueEncryption } {
  const key = cipher.randomBytes(32);
  const blank = blankLock(Buffer.from(cipher.randomBytes(16)).toString('base64'));
  return { lock: wholeLock(blank, key, underPassphrase(passphrase, blank)), sealing: sealedWith(key) };
}

/** A lock that requires a mark of the whole drawer. */
function wholeLock(blank: Omit<Lock, 'key'>, key: Uint8Array, under: Encryption): Lock {
  const whole = { ...blank, whole: true } as const;
  return { ...whole, key: Buffer.from(sealKey(key, whole, under)).toString('base64') };
}

/**
 * Opens a lock. The lock returned is the one to store: a lock of an older version becomes one that requires a mark.
 * @throws DrawerError `locked` for a wrong passphrase
 */
export function openLock(lock: Lock, passphrase: string): { readonly sealing: ValueEncryption; readonly lock: Lock } {
  const under = underPassphrase(passphrase, lock);
  const key = openKey(Buffer.from(lock.key, 'base64'), lock, under);
  return { sealing: sealedWith(key), lock: lock.whole ? lock : wholeLock(lock, key, under) };
}

function underPassphrase(passphrase: string, { salt, cost, blockSize, parallel }: Omit<Lock, 'key'>): Encryption {
  const key = crypto().scryptSync(composed(passphrase), Buffer.from(salt, 'base64'), 32, {
    N: cost,
    r: blockSize,
    p: parallel,
    maxmem: 256 * cost * blockSize,
  });
  return encryptionWith(key, cipher);
}

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
