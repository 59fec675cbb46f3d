import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';
import { DrawerError, type ProblemName } from '../content/index.ts';
import type { Elsewhere, FileChange } from './change.ts';

/** A file that changes: the way back, and the bytes that it needs. */
export interface ChangedFile {
  readonly change: FileChange;
  readonly between: Uint8Array;
}

/** What a drawer is handed to change files with. */
export interface FileSystem {
  /** Refuses a file that may not be changed or made now: one that is read-only, or open in another program. @throws DrawerError */
  check?(path: string): Promise<void>;
  /** The whole file; `undefined` when it is not there. */
  read(path: string): Promise<Uint8Array | undefined>;
  /** Does a piece of work while nothing else of Drawer changes the files, in any program; without it there is no such other. */
  claim?<T>(paths: readonly string[], work: () => Promise<T>): Promise<T>;
  /** Replaces the file whole or not at all, when it still is as it `was`. */
  replace(path: string, bytes: Uint8Array, was: Uint8Array): Promise<unknown>;
  /** Makes a file that is not there, whole or not at all. */
  create(path: string, bytes: Uint8Array): Promise<void>;
  remove(path: string): Promise<void>;
  /** A mark that only this person's tool can make of words, the same for the same ones (a keyed hash); without it all are trusted. */
  sign?(words: string): Promise<string>;
  /**
   * Takes actions of another drawer back, or brings them again, unless that is so already; with `onlyCheck` only looks whether
   * it could. @throws DrawerError `write-failed` where something else was done there since
   */
  turnDrawer?(elsewhere: Elsewhere, state: 'done' | 'undone', onlyCheck?: boolean): Promise<void>;
}

/** Does a piece of work while nothing else changes the files, where others could. */
export const whileClaimed = <T>(
  tool: FileSystem | undefined,
  paths: readonly string[],
  work: () => Promise<T>,
): Promise<T> => (tool?.claim && paths.length > 0 ? tool.claim(paths, work) : work());

export const sameBytes = (one: Uint8Array, other: Uint8Array): boolean =>
  one.length === other.length && one.every((byte, at) => byte === other[at]);

/** What is said of a file that another program has written since it was read. */
export const fileChanged = (path: string): DrawerError =>
  new DrawerError('write-failed/file-changed', {}, { where: path });

/** The change with a mark, by which it is known again as this person's own. */
export async function marked<T extends FileChange | Elsewhere>(change: T, tool: Pick<FileSystem, 'sign'>): Promise<T> {
  return tool.sign ? { ...change, mark: await tool.sign(vouchedFor(change)) } : change;
}

/**
 * A changed file as a drawer keeps it: marked, and its bytes behind a stretch that only this person can work out, since their hash
 * stands in the clear in a locked drawer and would give short ones away.
 */
export async function kept({ change, between }: ChangedFile, tool: FileSystem): Promise<ChangedFile> {
  if (!tool.sign) return { change, between };
  const veil = hexToBytes(await tool.sign(hashOf(between)));
  const veiled = new Uint8Array(veil.length + between.length);
  veiled.set(veil);
  veiled.set(between, veil.length);
  return { change: await marked({ ...change, between: hashOf(veiled) }, tool), between: veiled };
}

/** The bytes behind that stretch. */
const unveiled = ({ mark }: FileChange, bytes: Uint8Array): Uint8Array =>
  mark === undefined ? bytes : bytes.subarray(mark.length / 2);

/** @throws DrawerError `write-failed` for a change of a file or another drawer that is not this person's own */
export async function checkOwn(change: FileChange | Elsewhere, tool: FileSystem): Promise<void> {
  if (!tool.sign || change.mark === (await tool.sign(vouchedFor(change)))) return;
  throw new DrawerError('write-failed/undo-not-own', {}, { where: 'type' in change ? change.drawer : change.path });
}

const vouchedFor = (change: FileChange | Elsewhere): string =>
  JSON.stringify(
    'type' in change
      ? [change.drawer, change.from, change.to]
      : [change.path, change.from, change.to, change.start, change.end, change.between],
  );

export const hashOf = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** What stands for the hash of a file that is not there. */
const absent = '';
const nothing = new Uint8Array();

/** The change from one state of a file to another, and the bytes it needs; `undefined` where the file is not there. */
export function fileChange(path: string, from: Uint8Array | undefined, to: Uint8Array | undefined): ChangedFile {
  if (!from || !to) {
    const between = to ?? nothing;
    const [was, is] = [from ? hashOf(from) : absent, to ? hashOf(to) : absent];
    return { change: { path, from: was, to: is, start: 0, end: 0, between: hashOf(between) }, between };
  }
  const shorter = Math.min(from.length, to.length);
  let start = 0;
  while (start < shorter && from[start] === to[start]) start++;
  let end = 0;
  while (end < shorter - start && from[from.length - 1 - end] === to[to.length - 1 - end]) end++;
  const between = to.slice(start, to.length - end);
  return { change: { path, from: hashOf(from), to: hashOf(to), start, end, between: hashOf(between) }, between };
}

/** The file as the change leaves it. */
export function changedBytes(bytes: Uint8Array, { start, end }: FileChange, between: Uint8Array): Uint8Array {
  const changed = new Uint8Array(start + between.length + end);
  changed.set(bytes.subarray(0, start));
  changed.set(between, start);
  changed.set(bytes.subarray(bytes.length - end), start + between.length);
  return changed;
}

/**
 * Makes the change, and gives the one that takes it back. A file that is as it should be already is left so: a change that
 * was cut short goes on where it was.
 * @throws DrawerError `write-failed` when the file has changed since, is gone, or cannot be written.
 */
export async function applyFileChange(
  change: FileChange,
  files: FileSystem,
  findBytes: (hash: string) => Promise<Uint8Array | undefined>,
): Promise<ChangedFile> {
  return kept(await changeFile(change, files, findBytes), files);
}

async function changeFile(
  change: FileChange,
  files: FileSystem,
  findBytes: (hash: string) => Promise<Uint8Array | undefined>,
): Promise<ChangedFile> {
  const present = await checkFileChange(change, files);
  const found = await findBytes(change.between);
  if (!found) throw cannot(change, 'write-failed/undo-bytes-missing');
  const between = unveiled(change, found);
  if (stateOf(present) === change.to) return { change: { ...change, from: change.to, to: change.from }, between };
  if (change.to === absent) {
    await files.remove(change.path);
    return fileChange(change.path, undefined, present);
  }
  const changed = present ? changedBytes(present, change, between) : between;
  if (hashOf(changed) !== change.to) throw cannot(change, 'write-failed/undo-bytes-damaged');
  if (present) await files.replace(change.path, changed, present);
  else await files.create(change.path, changed);
  return fileChange(change.path, changed, present);
}

const stateOf = (bytes: Uint8Array | undefined): string => (bytes ? hashOf(bytes) : absent);

/**
 * The file as it is, when the change can be made or is made already.
 * @throws DrawerError `write-failed` when somebody else changed it.
 */
export async function checkFileChange(change: FileChange, files: FileSystem): Promise<Uint8Array | undefined> {
  await checkOwn(change, files);
  const present = await files.read(change.path);
  const state = stateOf(present);
  if (present && state === change.from && state !== change.to) await files.check?.(change.path);
  if (state === change.from || state === change.to) return present;
  throw cannot(change, present ? 'write-failed/undo-file-changed' : 'write-failed/undo-file-gone');
}

const cannot = ({ path }: FileChange, reason: ProblemName): DrawerError => new DrawerError(reason, {}, { where: path });
