import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';

/** The lock of a drawer: how to derive a key from the passphrase, and the drawer's own key encrypted with that. */
export interface Lock {
  readonly cipher: 'aes-256-gcm';
  readonly derivation: 'scrypt';
  /** Cost, block size and parallelisation (RFC 7914, section 2). */
  readonly cost: number;
  readonly blockSize: number;
  readonly parallel: number;
  /** In Base64, like the encrypted key. */
  readonly salt: string;
  readonly key: string;
  /** Whether the drawer has a mark of all its rows, so that no change goes unnoticed. */
  readonly whole?: true | undefined;
}

/** The maximum cost of opening a lock, twice that of ours, because a drawer may come from anybody. */
const mostWork = 2 ** 21;

const lockSchema: v.GenericSchema<Lock> = v.pipe(
  v.strictObject({
    cipher: v.literal('aes-256-gcm'),
    derivation: v.literal('scrypt'),
    cost: v.pipe(v.number(), v.integer(), v.minValue(2 ** 14), v.maxValue(2 ** 20)),
    blockSize: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(16)),
    parallel: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(4)),
    salt: v.string(),
    key: v.string(),
    whole: v.optional(v.literal(true)),
  }),
  v.check(({ cost, blockSize, parallel }) => cost * blockSize * parallel <= mostWork, 'takes too long to open'),
);

export const parseLock = (json: string): Lock => parseWith(lockSchema, JSON.parse(json), 'lock');

/** The table, column and row of a value. An encrypted value is bound to them, so that it cannot be moved. */
export const associatedData = (table: string, column: string, row: string | number): string =>
  `${table}.${column}:${row}`;

/** Normalises a passphrase (NFKC), so that it is the same however it was typed. */
export const composed = (passphrase: string): string => passphrase.normalize('NFKC');

/** The error for a drawer that another program has locked or unlocked meanwhile. */
export const lockChanged = (): DrawerError => new DrawerError('locked/drawer-lock-changed');

export const noPassphrase = (): DrawerError => new DrawerError('locked/drawer-locked');

export const damagedRow = (cause: unknown): DrawerError => {
  const problem = DrawerError.is(cause) && { problem: { kind: `problem.${cause.reason}`, params: cause.params } };
  return new DrawerError('damaged/row-damaged', { ...problem }, { cause });
};

/** Reads a row. @throws DrawerError `row-damaged` if it is not valid */
export function readRow<T>(work: () => T): T {
  try {
    return work();
  } catch (cause) {
    throw DrawerError.is(cause) && cause.code === 'invalid' ? damagedRow(cause) : cause;
  }
}
