import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import type { Change } from './change.ts';
import { type FileTool, fileChange } from './file-change.ts';
import type { ChangedFile } from './keep.ts';

/** A file as it was read and as it will be; without `before` it is new. */
export interface FileWrite {
  /** Absolute. */
  readonly path: string;
  readonly before?: Uint8Array | undefined;
  readonly after: Uint8Array;
}

/** What one action does: to files, and to the drawer. */
export interface FileDeed {
  /** In the past tense: `Pasted 3 snippets`. */
  readonly name: string;
  readonly files: readonly FileWrite[];
  readonly changes?: readonly Change[];
}

const filesSchema = v.array(
  v.object({ path: v.string(), before: v.optional(v.instance(Uint8Array)), after: v.instance(Uint8Array) }),
);

/** @throws DrawerError `invalid` */
export function checkFiles(files: readonly FileWrite[]): void {
  parseWith(filesSchema, files, 'files to write');
}

/** The way back of each file. */
export const waysBack = (files: readonly FileWrite[]): ChangedFile[] =>
  files.map(({ path, before, after }) => fileChange(path, after, before));

/**
 * Another program may have changed a file since it was read.
 * @throws DrawerError `write-failed`
 */
export async function checkUnchanged(files: readonly FileWrite[], tool: FileTool): Promise<void> {
  for (const { path, before } of files) {
    const now = await tool.read(path);
    const isSame = now === undefined || before === undefined ? now === before : sameBytes(now, before);
    if (!isSame)
      throw new DrawerError({
        code: 'write-failed',
        what: 'The file has changed since it was read',
        where: path,
        next: 'Close it in other programs and try again; nothing was changed',
      });
  }
}

const sameBytes = (one: Uint8Array, other: Uint8Array): boolean =>
  one.length === other.length && one.every((byte, at) => byte === other[at]);

export async function writeFiles(files: readonly FileWrite[], tool: FileTool): Promise<void> {
  for (const { path, before, after } of files) {
    if (before) await tool.replace(path, after);
    else await tool.create(path, after);
  }
}
