import * as v from 'valibot';
import { getSnippet, picturesOf, type Storage, type StoredRows } from '../drawer/index.ts';
import { names, notesUnder } from '../sync/index.ts';
import { noted } from './own-log.ts';
import type { SyncRemote } from './sealed-remote.ts';

const toldSchema = v.strictObject({ blobs: v.array(v.string()), done: v.array(v.string()) });
type ToldBefore = v.InferOutput<typeof toldSchema>;

/** What this device has told of, and must not be told any more: its blobs, and the remotes that it left already. */
export async function toldBefore(storage: Storage, remote: SyncRemote): Promise<ToldBefore | undefined> {
  const note = await storage.read((rows) => rows.findNote(names.told));
  const told = note === undefined ? undefined : (noted(toldSchema, note) ?? { blobs: [], done: [] });
  return told?.done.includes(remote.id) ? undefined : told;
}

/** Removes the blobs of what must not be told any more, but for those that other snippets have. */
export async function removeBlobs(storage: Storage, remote: SyncRemote, { blobs }: ToldBefore): Promise<void> {
  const { used, secret } = await storage.read(blobsInUse);
  for (const hash of [...blobs, ...secret]) if (!used.has(hash)) await remote.removeBlob(hash);
  await storage.write(async (rows) => {
    const now = noted(toldSchema, await rows.findNote(names.told)) ?? { blobs: [], done: [] };
    const done = [...now.done, remote.id];
    const logs = [...(await notesUnder(rows, 'sync/sent/')).keys()];
    const isEverywhere = logs.every((log) => done.includes(log.slice(0, log.lastIndexOf('/'))));
    // Another snippet has become secret meanwhile: the next sync starts over.
    if (now.blobs.length !== blobs.length) return;
    await rows.putNote(names.told, isEverywhere ? undefined : JSON.stringify({ ...now, done }));
  });
}

/** The blobs that snippets have, and those that were told of a snippet while it became a secret. */
async function blobsInUse(
  rows: StoredRows,
): Promise<{ readonly used: ReadonlySet<string>; readonly secret: readonly string[] }> {
  const [used, secret] = [new Set<string>(), [] as string[]];
  for (const [id, value] of await notesUnder(rows, names.blobs(''))) {
    const hashes = JSON.parse(value) as readonly string[];
    if ((await rows.findSnippet(id))?.secret) secret.push(...hashes);
    else for (const hash of hashes) used.add(hash);
  }
  for (const { id, secret: isSecret } of await rows.summaries(0, await rows.count()))
    if (!isSecret) for (const hash of picturesOf((await getSnippet(rows, id)).content)) used.add(hash);
  return { used, secret };
}
