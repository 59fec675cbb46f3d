import * as v from 'valibot';
import type { Storage, StoredRows, WritableRows } from '../drawer/index.ts';
import { names, notesUnder, takePart } from '../sync/index.ts';
import type { Sync } from './platform.ts';
import { positionSchema, type SyncRemote } from './sealed-remote.ts';

/** What is noted of a log that this device writes: the stamp up to which it has told, where the log ends, when it was begun, and by whom. */
export const sentSchema = v.strictObject({ at: v.string(), end: positionSchema, begun: v.number(), name: v.string() });
export type Sent = v.InferOutput<typeof sentSchema>;
const endSchema = v.object({ end: positionSchema });

/** What was noted; `undefined` if that cannot be read: then all is read or told again, which does no harm. */
export function noted<T>(schema: v.GenericSchema<unknown, T>, note: string | undefined): T | undefined {
  const { success, output } = v.safeParse(v.pipe(v.string(), v.parseJson(), schema), note);
  return success ? output : undefined;
}

/** What this device has told under a name; `undefined` if nothing yet. */
export const sentBy = async (rows: StoredRows, remote: SyncRemote, device: string): Promise<Sent | undefined> =>
  noted(sentSchema, await rows.findNote(names.sent(remote.id, device)));

/** Of which logs it is told that they need not be there any more, and how many frames of each were read. */
export const replacedLogs = async (rows: StoredRows): Promise<ReadonlyMap<string, number>> =>
  new Map([...(await notesUnder(rows, names.replaced('')))].map(([device, frames]) => [device, Number(frames)]));

export async function putReplaced(rows: WritableRows, replaced: Readonly<Record<string, number>>): Promise<void> {
  const known = await replacedLogs(rows);
  for (const [device, frames] of Object.entries(replaced))
    if (frames > (known.get(device) ?? -1)) await rows.putNote(names.replaced(device), String(frames));
}

/** Removes what is sealed under keys before this one, once this device has told everything anew. */
export async function leaveEarlier(storage: Storage, remote: SyncRemote): Promise<void> {
  for (const id of remote.earlier) {
    const noted = await storage.read(async (rows) => {
      const kinds = [names.sent, names.copied, names.read];
      const devices = await Promise.all(kinds.map((nameIn) => notesUnder(rows, nameIn(id, ''))));
      return kinds.flatMap((nameIn, index) => [...(devices[index]?.keys() ?? [])].map((device) => nameIn(id, device)));
    });
    if (noted.length === 0) continue;
    await remote.removeEarlier(id);
    await storage.write(async (rows) => {
      for (const name of noted) await rows.putNote(name, undefined);
    });
  }
}

/** Removes the logs that this device had before it told everything anew. */
export async function removeOld(storage: Storage, remote: SyncRemote, device: string): Promise<void> {
  const old = (await ownDevices(storage, remote.id)).filter((name) => name !== device);
  for (const name of old) await remote.log(name).remove();
  if (old.length > 0)
    await storage.write(async (rows) => {
      for (const name of old) await rows.putNote(names.sent(remote.id, name), undefined);
    });
}

/** The names under which this device has written logs. @param ids - of the keys they are sealed under */
export async function ownDevices(storage: Storage, ...ids: readonly string[]): Promise<readonly string[]> {
  const notes = await storage.read((rows) => Promise.all(ids.map((id) => notesUnder(rows, names.sent(id, '')))));
  return notes.flatMap((each) => [...each.keys()]);
}

/** How many frames of logs were written, or read, by their devices. @param nameIn - `names.sent` or `names.read`. @param ids - of the keys */
export async function framesNoted(
  rows: StoredRows,
  nameIn: (remote: string, device: string) => string,
  ids: readonly string[],
): Promise<Readonly<Record<string, number>>> {
  const notes = await Promise.all(ids.map((id) => notesUnder(rows, nameIn(id, ''))));
  const frames = (note: string): number => noted(endSchema, note)?.end.frames ?? 0;
  return Object.fromEntries(notes.flatMap((each) => [...each].map(([device, note]) => [device, frames(note)])));
}

/** The name of this device; another one for a copy of the drawer, which must not write into the same log. */
export async function ownDevice({ storage, platform }: Sync, anew?: 'anew'): Promise<string> {
  const where = await platform.where();
  const [device, at] = await storage.read((rows) =>
    Promise.all([rows.findNote(names.device), rows.findNote(names.where)]),
  );
  if (device !== undefined && at === where && !anew) return device;
  const made = [...platform.randomBytes(12)].map((byte) => (byte % 36).toString(36)).join('');
  await takePart(storage, made);
  await storage.write(async (rows) => {
    await rows.putNote(names.where, where);
    if (device !== undefined && at === where) await rows.putNote(names.former(device), '');
    if (device !== undefined && at !== where) await leaveCopied(rows, device);
  });
  return made;
}

/** The logs and names of the drawer that this one was copied from are not its own. */
async function leaveCopied(rows: WritableRows, device: string): Promise<void> {
  const name = (await rows.findNote(names.ownName)) ?? device;
  const former = [...(await notesUnder(rows, names.former(''))).keys()];
  for (const each of former) await rows.putNote(names.former(each), undefined);
  for (const each of [device, ...former]) await rows.putNote(names.nameOf(each), name);
  for (const [log, sent] of await notesUnder(rows, 'sync/sent/')) {
    await rows.putNote(`sync/sent/${log}`, undefined);
    await rows.putNote(`sync/copied/${log}`, sent);
  }
}
