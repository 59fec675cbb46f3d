import * as v from 'valibot';
import { type Message, type Param, parseWith } from '../content/index.ts';
import type { Change } from './change.ts';
import type { Renewed } from './edit.ts';
import {
  type ChangedFile,
  type FileSystem,
  fileChange,
  fileChanged,
  kept,
  sameBytes,
  whileClaimed,
} from './file-change.ts';
import type { Storage, WritableRows } from './storage.ts';
import { undoOrRedo } from './undo-redo.ts';

/** A file as it was read and as it will be; without `before` it is new. */
export interface FileWrite {
  /** Absolute. */
  readonly path: string;
  readonly before?: Uint8Array | undefined;
  readonly after: Uint8Array;
}

/** What one action does: to files, and to the drawer. */
export interface FileAction {
  /** What is done, for undo to tell: in words of one's own, or as data: `{ kind: 'pasted', params: { count: 3 } }`. */
  readonly name: string | Message;
  readonly files: readonly FileWrite[];
  readonly changes?: readonly Change[];
  /** Snippets whose contents are replaced with the files, as `renew` does. */
  readonly renewed?: readonly Renewed[];
}

const filesSchema = v.array(
  v.object({ path: v.string(), before: v.optional(v.instance(Uint8Array)), after: v.instance(Uint8Array) }),
);

const messageSchema: v.GenericSchema<Message> = v.object({
  kind: v.string(),
  params: v.exactOptional(
    v.record(
      v.string(),
      v.lazy(() => paramSchema),
    ),
  ),
});
const paramSchema: v.GenericSchema<Param> = v.union([
  v.string(),
  v.number(),
  messageSchema,
  v.array(v.union([v.string(), messageSchema])),
]);

/** The name of an action as it is stored. @throws DrawerError `value-invalid` */
export const actionName = (name: string | Message): Message =>
  typeof name === 'string'
    ? { kind: 'other', params: { text: name } }
    : parseWith(messageSchema, name, 'name of the action');

/** An action that files are written with. */
export interface Writing<T> {
  /** Does it, with the way back of each file, when all of them are as they were read. */
  act(back: readonly ChangedFile[], rows: WritableRows): Promise<T>;
  /** Whether files are to be written, by what came of that. */
  isWanted?(result: T): boolean;
}

/**
 * Does an action, and then writes the files that it knows the ways back of: these are on disk before the first file changes,
 * and when one cannot be written all are as before.
 * @throws DrawerError `invalid`; `write-failed`
 */
export async function writeWith<T>(
  files: readonly FileWrite[],
  tool: FileSystem,
  storage: Storage,
  { act, isWanted = () => true }: Writing<T>,
): Promise<T> {
  parseWith(filesSchema, files, 'files to write');
  const paths = files.map(({ path }) => path);
  return whileClaimed(tool, paths, () => writeClaimed(files, tool, storage, { act, isWanted }));
}

async function writeClaimed<T>(
  files: readonly FileWrite[],
  tool: FileSystem,
  storage: Storage,
  { act, isWanted }: Required<Writing<T>>,
): Promise<T> {
  await checkUnchanged(files, tool);
  const back: ChangedFile[] = [];
  for (const { path, before, after } of files) back.push(await kept(fileChange(path, after, before), tool));
  const { result, number } = await storage.write(async (rows) => ({
    result: await act(back, rows),
    number: (await rows.findAction('last done'))?.number,
  }));
  if (!isWanted(result)) return result;
  try {
    await writeFiles(files, tool);
  } catch (error) {
    await storage.write(async (rows) => {
      // What another program has done since is not to be taken back.
      if ((await rows.findAction('last done'))?.number === number) await undoOrRedo(rows, 'last done', tool);
    });
    throw error;
  }
  return result;
}

/**
 * Another program may have changed a file since it was read.
 * @throws DrawerError `write-failed`
 */
async function checkUnchanged(files: readonly FileWrite[], tool: FileSystem): Promise<void> {
  for (const { path, before } of files) {
    const now = await tool.read(path);
    const isSame = now === undefined || before === undefined ? now === before : sameBytes(now, before);
    if (!isSame) throw fileChanged(path);
    await tool.check?.(path);
  }
}

async function writeFiles(files: readonly FileWrite[], tool: FileSystem): Promise<void> {
  for (const { path, before, after } of files) {
    if (before) await tool.replace(path, after, before);
    else await tool.create(path, after);
  }
}
