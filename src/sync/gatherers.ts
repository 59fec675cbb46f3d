import type { Drawer } from '../drawer/index.ts';
import { changedAfter, type Known, names, restOf, under } from './notes.ts';

/** With whom a drawer is shared. */
export interface Sharing {
  /** The names of the other devices that have told of something. */
  readonly devices: readonly string[];
  /** How many snippets have changed here and were not told of yet. */
  readonly waiting: number;
}

/** With whom a drawer is shared, as of its last sync; `undefined` if it never was. */
export async function sharingOf(drawer: Pick<Drawer, 'notesBetween'>): Promise<Sharing | undefined> {
  const sent = await drawer.notesBetween(...under('sync/sent/'));
  if (sent.length === 0) return undefined;
  // As of the place that was told last: others may be in use no more.
  const upTo = sent.map(({ value }) => String((JSON.parse(value) as { readonly at?: unknown }).at ?? ''));
  const waiting = await drawer.notesBetween(...changedAfter(upTo.sort().at(-1) ?? ''));
  const told = await notesOf(drawer, names.nameOf(''));
  const gone = await notesOf(drawer, names.replaced(''));
  const there = [...told].flatMap(([device, name]) => (gone.has(device) ? [] : [name]));
  return { devices: [...new Set(there)].sort(), waiting: waiting.length };
}

/** The values of a drawer's notes whose names begin with this, by the rest of the name. */
const notesOf = async (drawer: Pick<Drawer, 'notesBetween'>, beginning: string): Promise<ReadonlyMap<string, string>> =>
  restOf(await drawer.notesBetween(...under(beginning)), beginning);

/**
 * The names of the other devices that snippets were gathered on, by the snippets' ids; those of this device are left out.
 * @param ids - of the snippets
 */
export async function gatherersOf(
  drawer: Pick<Drawer, 'findNotes' | 'notesBetween'>,
  ids: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const [device] = await drawer.findNotes(names.device);
  if (device === undefined) return new Map();
  const own = new Set([device, ...(await notesOf(drawer, names.former(''))).keys()]);
  const notes = await drawer.findNotes(ids.map(names.record));
  const devices = notes.map((note) => (note === undefined ? undefined : (JSON.parse(note) as Known).state.by));
  const others = [...new Set(devices)].filter((each): each is string => each !== undefined && !own.has(each));
  const told = await drawer.findNotes(others.map(names.nameOf));
  const nameOf = new Map(others.map((device, index) => [device, told[index] ?? device]));
  return new Map(
    ids.flatMap((id, index) => {
      const name = nameOf.get(devices[index] ?? '');
      return name === undefined ? [] : [[id, name] as const];
    }),
  );
}
