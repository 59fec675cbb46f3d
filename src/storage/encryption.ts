import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';

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
  /** Whether a mark is kept of all that the drawer holds, so that nothing in it can be changed unnoticed. */
  readonly whole?: true | undefined;
}

/** What a lock may cost to open: twice the memory and time of our own, since a drawer may come from anybody. */
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

/** Takes 128 MB and about half a second, so that passphrases are slow to guess. */
export const strength = { cost: 2 ** 17, blockSize: 8, parallel: 1 } as const;

/** Where a value belongs: its table, column and row. What is sealed says so, so that none passes for another. */
export const associatedData = (table: string, column: string, row: string | number): string =>
  `${table}.${column}:${row}`;

/** The passphrase in its composed form (NFKC), so that it is the same however it was typed. */
export const composed = (passphrase: string): string => passphrase.normalize('NFKC');

/** Another program locked the drawer, or took its lock off, while this one had it open. */
export const lockChanged = (): DrawerError => new DrawerError('locked/drawer-lock-changed');

export const noPassphrase = (): DrawerError => new DrawerError('locked/drawer-locked');

export const wrongPassphrase = (cause: unknown): DrawerError =>
  new DrawerError('locked/passphrase-wrong', {}, { cause });

export const damagedRow = (cause: unknown): DrawerError => {
  const problem = DrawerError.is(cause) && { problem: { kind: `problem.${cause.reason}`, params: cause.params } };
  return new DrawerError('damaged/row-damaged', { ...problem }, { cause });
};

/** What a work makes of a row. @throws DrawerError `row-damaged` where that is not valid. */
export function readRow<T>(work: () => T): T {
  try {
    return work();
  } catch (cause) {
    throw DrawerError.is(cause) && cause.code === 'invalid' ? damagedRow(cause) : cause;
  }
}
